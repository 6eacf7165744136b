'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import { useSave } from '@/features/job/use-save';
import type { PracticeView } from '@/server/practice/view';
import { Field } from '@/ui/parts';
import { call } from './actions';
import { added, moved, without, type Share } from './shares';

/** What somebody says a unit has, before the engine says it: pattern, circuits with percentages, the next test. */
export function CallForm({ practice }: { practice: PracticeView }) {
  const { jobId, patterns, circuits, tests } = practice;
  const { saving, save } = useSave();
  const [pattern, setPattern] = useState('');
  const [shares, setShares] = useState<Share[]>([]);
  const [test, setTest] = useState('');
  const [expects, setExpects] = useState('');
  const [problem, setProblem] = useState('');
  const nameOf = (id: string): string => circuits.find((c) => c.id === id)?.name ?? id;
  const send = (): void => {
    setProblem('');
    if (pattern === '') return setProblem('Pattern: choose what the run shows.');
    if (shares.length === 0) return setProblem('Circuits: add at least one that you suspect.');
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
      <p className="text-sm text-muted">
        Call first; then the engine says what it makes of the same, and what you missed.
      </p>
      <Field label="What the run shows">
        <select className="field" value={pattern} onChange={(e) => setPattern(e.target.value)}>
          <option value="">choose a pattern</option>
          {patterns.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Suspect" hint="add as many as you like">
        <select className="field" value="" onChange={(e) => e.target.value && setShares(added(shares, e.target.value))}>
          <option value="">add a circuit</option>
          {circuits
            .filter((c) => !shares.some((s) => s.circuit === c.id))
            .map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
        </select>
      </Field>
      <ul className="grid gap-1">
        {shares.map((s, k) => (
          <li key={s.circuit} className="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-x-2">
            <span className="truncate">{nameOf(s.circuit)}</span>
            <strong className="tabular-nums">{s.percent} %</strong>
            <button
              type="button"
              className="button min-h-9 px-2"
              aria-label={`Take ${nameOf(s.circuit)} out`}
              onClick={() => setShares(without(shares, k))}
            >
              <X size={15} aria-hidden />
            </button>
            <input
              type="range"
              min={0}
              max={100}
              step={5}
              className="col-span-3 h-8 w-full accent-umbra"
              aria-label={`How likely ${nameOf(s.circuit)} is, percent`}
              value={s.percent}
              disabled={shares.length === 1}
              onChange={(e) => setShares(moved(shares, k, Number(e.target.value)))}
            />
          </li>
        ))}
      </ul>
      {tests.length > 0 && (
        <Field label="Next test">
          <select className="field" value={test} onChange={(e) => setTest(e.target.value)}>
            <option value="">none, or another</option>
            {tests.map((t) => (
              <option key={t}>{t}</option>
            ))}
          </select>
        </Field>
      )}
      <Field label="What you expect of it">
        <input className="field" maxLength={200} value={expects} onChange={(e) => setExpects(e.target.value)} />
      </Field>
      {problem && (
        <p role="alert" className="text-sm text-decide">
          {problem}
        </p>
      )}
      <button type="submit" className="button button-main" disabled={saving}>
        Call it
      </button>
    </form>
  );
}
