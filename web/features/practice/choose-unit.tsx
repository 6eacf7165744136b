'use client';

import { useState } from 'react';
import { useSave } from '@/features/job/use-save';
import type { UnitChoice } from '@/server/practice/home';
import { Field } from '@/ui/parts';
import type { Result } from '@/server/errors';
import { orderTeam, takeUnit } from './actions';
import { useGo } from '@/ui/link';

/** A unit by hand: which device, what there is to find, how bad. For the team of the week where a lead sets it. */
export function ChooseUnit({ choice, forTeam = false }: { choice: UnitChoice; forTeam?: boolean }) {
  const go = useGo();
  const { saving, save } = useSave();
  const [profile, setProfile] = useState(choice.profiles[0]?.id ?? '');
  const [circuit, setCircuit] = useState('');
  const [severity, setSeverity] = useState('');
  const [fault, setFault] = useState('');
  const [problem, setProblem] = useState('');
  const circuits = choice.profiles.find((p) => p.id === profile)?.circuits ?? [];
  const send = (): void => {
    setProblem('');
    const asked = { profile, circuit, severity, fault };
    const work: () => Promise<Result<number | void>> = forTeam ? () => orderTeam(asked) : () => takeUnit(asked);
    save(work, {
      failed: setProblem,
      done: forTeam ? 'The unit of the week is set.' : undefined,
      then: (id) => typeof id === 'number' && go(`/jobs/${id}`),
    });
  };
  return (
    <form
      aria-label={forTeam ? 'Set the unit of the week' : 'Choose a unit'}
      className="card grid gap-2 p-4"
      onSubmit={(e) => {
        e.preventDefault();
        send();
      }}
    >
      <h2 className="text-lg">{forTeam ? 'Unit of the week' : 'Choose a unit yourself'}</h2>
      <Field label="Device">
        <select
          className="field"
          value={profile}
          onChange={(e) => {
            setProfile(e.target.value);
            setCircuit('');
          }}
        >
          {choice.profiles.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="What there is to find">
        <select className="field" value={circuit} onChange={(e) => setCircuit(e.target.value)}>
          <option value="">anything, hidden</option>
          {circuits.map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="How bad">
        <select className="field" value={severity} onChange={(e) => setSeverity(e.target.value)}>
          <option value="">by chance</option>
          <option value="slight">slight</option>
          <option value="hard">hard</option>
        </select>
      </Field>
      {!forTeam && (
        <details className="text-sm">
          <summary className="min-h-9 py-1.5">A fault in particular</summary>
          <Field label="Fault" hint="kind:element, such as short:io=0.4 or dead:charger">
            <input className="field" value={fault} maxLength={120} onChange={(e) => setFault(e.target.value)} />
          </Field>
        </details>
      )}
      {problem && (
        <p role="alert" className="text-sm text-decide">
          {problem}
        </p>
      )}
      <button type="submit" className="button" disabled={saving}>
        {forTeam ? 'Set it for everybody' : 'Lay it on my bench'}
      </button>
    </form>
  );
}
