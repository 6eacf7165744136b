'use client';

import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import type { UnitChoice } from '@/server/work/practice/home';
import type { Result } from '@/server/record/errors';
import { orderTeam, takeUnit } from './actions';
import { useGo } from '@/ui/link';
import { SelectField, TextField } from '@/ui/kit/fields';

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
      <SelectField
        label="Device"
        value={profile}
        onValue={(value) => {
          setProfile(value);
          setCircuit('');
        }}
      >
        {choice.profiles.map((p) => (
          <option key={p.id} value={p.id}>
            {p.name}
          </option>
        ))}
      </SelectField>
      <SelectField label="Possible faults" value={circuit} onValue={setCircuit}>
        <option value="">any, hidden</option>
        {circuits.map((c) => (
          <option key={c.id} value={c.id}>
            {c.name}
          </option>
        ))}
      </SelectField>
      <SelectField label="Severity" value={severity} onValue={setSeverity}>
        <option value="">random</option>
        <option value="slight">slight</option>
        <option value="hard">hard</option>
      </SelectField>
      {!forTeam && (
        <details className="text-sm">
          <summary className="min-h-9 py-1.5">A specific fault</summary>
          <TextField
            label="Fault"
            hint="kind:element, such as short:io=0.4 or dead:charger"
            value={fault}
            maxLength={120}
            onValue={setFault}
          />
        </details>
      )}
      {problem && (
        <p role="alert" className="text-sm text-decide">
          {problem}
        </p>
      )}
      <button type="submit" className="button" disabled={saving}>
        {forTeam ? 'Set it for everybody' : 'Put it on my bench'}
      </button>
    </form>
  );
}
