'use client';

import { circuitNames } from '@umbral/core/words';
import { Field } from '@/ui/parts';

/** Chooses a circuit by name. */
export function CircuitSelect({
  label,
  value,
  onChange,
  withNone = false,
}: {
  label: string;
  value: string;
  onChange: (id: string) => void;
  withNone?: boolean;
}) {
  const ids = Object.entries(circuitNames).filter(([id]) => id !== 'unmodelled' && (withNone || id !== 'none'));
  return (
    <Field label={label}>
      <select className="field" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">not stated</option>
        {ids.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </Field>
  );
}

/** The foot of a form: what went wrong, and save. */
export function FormFoot({
  saving,
  problem,
  word = 'Save',
}: {
  saving: boolean;
  problem: string | null;
  word?: string;
}) {
  return (
    <>
      {problem && (
        <p role="alert" className="rounded-lg border border-decide bg-decide-soft px-3 py-2 text-sm">
          {problem}
        </p>
      )}
      <button type="submit" className="button button-main" disabled={saving}>
        {saving ? 'Saving …' : word}
      </button>
    </>
  );
}
