'use client';

import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import type { PracticeView } from '@/server/work/practice/view';
import { call } from './actions';
import type { Share } from './shares';
import { SuspectShares } from './suspect-shares';
import { SelectField } from '@/ui/kit/fields';

const testGroups: { label: string; kinds: PracticeView['tests'][number]['kind'][] }[] = [
  { label: 'Look', kinds: ['check'] },
  { label: 'Measure', kinds: ['reading'] },
  { label: 'Feed', kinds: ['injection'] },
  { label: 'Unplug or change', kinds: ['action'] },
  { label: 'Nothing else', kinds: ['verify', 'stop'] },
];

/** What somebody says a unit has, before the engine says it: pattern, circuits with percentages, the next test. */
export function CallForm({ practice }: { practice: PracticeView }) {
  const { jobId, patterns, circuits, tests } = practice;
  const { saving, save } = useSave();
  const [pattern, setPattern] = useState('');
  const [shares, setShares] = useState<Share[]>([]);
  const [test, setTest] = useState('');
  const [expects, setExpects] = useState('');
  const [problem, setProblem] = useState('');
  const outcomes = tests.find((t) => t.name === test)?.outcomes ?? [];
  const send = (): void => {
    setProblem('');
    if (pattern === '') return setProblem('Pattern: choose what the run shows.');
    if (shares.length === 0) return setProblem('Circuits: add at least one suspect.');
    save(() => call({ jobId, pattern, shares, test, expects }), { failed: setProblem });
  };
  return (
    <form
      aria-label="Your call"
      className="card grid gap-2.5 p-3"
      onSubmit={(e) => {
        e.preventDefault();
        send();
      }}
    >
      <h2 className="text-lg">Your call</h2>
      <p className="text-sm text-muted">Make your call first. Then the engine shows its answer and what you missed.</p>
      <SelectField label="What the run shows" value={pattern} onValue={setPattern}>
        <option value="">choose a pattern</option>
        {patterns.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
      </SelectField>
      <SuspectShares circuits={circuits} shares={shares} onChange={setShares} />
      {tests.length > 0 && (
        <SelectField
          label="Next test"
          value={test}
          onValue={(value) => {
            setTest(value);
            setExpects('');
          }}
        >
          <option value="">none</option>
          {testGroups.map(({ label, kinds }) => (
            <optgroup key={label} label={label}>
              {tests
                .filter((t) => kinds.includes(t.kind))
                .map((t) => (
                  <option key={t.name}>{t.name}</option>
                ))}
            </optgroup>
          ))}
        </SelectField>
      )}
      {outcomes.length > 0 && (
        <SelectField label="Expected result" value={expects} onValue={setExpects}>
          <option value="">not stated</option>
          {outcomes.map((says) => (
            <option key={says}>{says}</option>
          ))}
        </SelectField>
      )}
      {problem && (
        <p role="alert" className="text-sm text-decide">
          {problem}
        </p>
      )}
      <button type="submit" className="button button-main" disabled={saving}>
        Submit call
      </button>
    </form>
  );
}
