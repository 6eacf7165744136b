'use client';

import { circuitNames } from '@umbral/core/words';
import type { ReactNode } from 'react';
import { SelectField } from '@/ui/kit/fields';

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
    <SelectField label={label} value={value} onValue={onChange}>
      <option value="">not known yet</option>
      {ids.map(([id, name]) => (
        <option key={id} value={id}>
          {name}
        </option>
      ))}
    </SelectField>
  );
}

/** A question with its answers as buttons, of which one is chosen; arrow keys go from one to the next. */
export function OneOf({
  question,
  name,
  choices,
  value,
  onChange,
}: {
  question: string;
  /** Of the radio buttons, once a form. */
  name: string;
  choices: readonly { id: string; says: ReactNode }[];
  value: string;
  onChange: (id: string) => void;
}) {
  if (choices.length === 0) return null;
  return (
    <fieldset>
      <legend className="text-sm font-semibold">{question}</legend>
      <div className="mt-1 flex flex-wrap gap-2">
        {choices.map(({ id, says }) => (
          <label key={id} className={`button ${value === id ? 'border-decide bg-decide-soft' : ''}`}>
            <input
              type="radio"
              name={name}
              value={id}
              className="sr-only"
              checked={value === id}
              onChange={() => onChange(id)}
            />
            {says}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

/**
 * The change that an entry follows.
 *
 * @param value undefined for the newest: that is whatever is newest when it is saved, also one that this page does not know yet
 */
export function FollowsSelect({
  actions,
  value,
  onChange,
}: {
  actions: readonly { key: string; words: string }[];
  value: string | null | undefined;
  onChange: (after: string | null) => void;
}) {
  if (actions.length === 0) return null;
  return (
    <SelectField
      label="Follows"
      value={(value === undefined ? actions.at(-1)?.key : value) ?? ''}
      onValue={(value) => onChange(value || null)}
    >
      <option value="">no change made</option>
      {actions.map((a) => (
        <option key={a.key} value={a.key}>
          {a.words}
        </option>
      ))}
    </SelectField>
  );
}

/** Names of the model's elements, for inputs with `list="elements"`. */
export function ElementNames({ names }: { names: readonly string[] }) {
  return (
    <datalist id="elements">
      {names.map((name) => (
        <option key={name} value={name} />
      ))}
    </datalist>
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

/** Asks once whether a new name means a place of the job that is called much like it; saving says that it does not. */
export function SamePlace({ sameAs, onSame }: { sameAs: string | null; onSame: (where: string) => void }) {
  if (sameAs === null) return null;
  return (
    <div role="alert" className="rounded-lg border border-decide bg-decide-soft px-3 py-2 text-sm">
      <p>Same place as “{sameAs}”?</p>
      <button type="button" className="button mt-1.5 min-h-9" autoFocus onClick={() => onSame(sameAs)}>
        Yes, same place
      </button>
    </div>
  );
}

/** What was odd about an entry, which is kept only when it is said once more. */
export function Asks({ of }: { of: readonly string[] }) {
  if (of.length === 0) return null;
  return (
    <ul role="alert" className="grid gap-1 rounded-lg border border-decide bg-decide-soft px-3 py-2 text-sm">
      {of.map((a) => (
        <li key={a}>{a}</li>
      ))}
    </ul>
  );
}
