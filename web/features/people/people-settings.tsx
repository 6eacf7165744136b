'use client';

import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { useToast } from '@/ui/toast';
import { keepNewPerson, keepPerson, returnPerson } from './actions';
import { SelectField, TextField } from '@/ui/kit/fields';

export interface KnownPerson {
  id: number;
  name: string;
  role: 'lead' | 'technician';
  version: number;
  hasPin: boolean;
  isDemo: boolean;
}

/** Who works here, for a lead: add somebody, change a role, end somebody's work here. */
export function PeopleSettings({ people, isDemo }: { people: readonly KnownPerson[]; isDemo: boolean }) {
  const { saving, save } = useSave();
  const toast = useToast();
  const [problem, setProblem] = useState<string | null>(null);
  const change = (p: KnownPerson, to: object, done: string): void =>
    save(() => keepPerson({ id: p.id, version: p.version, ...to }), {
      done,
      failed: setProblem,
      then: () => setProblem(null),
    });
  const remove = (p: KnownPerson): void =>
    save(() => keepPerson({ id: p.id, version: p.version, isDisabled: true }), {
      failed: setProblem,
      then: () => {
        setProblem(null);
        const undo = (): void => save(() => returnPerson(p.id), { done: `${p.name} can sign in again.` });
        toast({ tone: 'done', text: `${p.name} can no longer sign in.`, undo });
      },
    });
  return (
    <section aria-label="People" className="card grid gap-2">
      <h2 className="text-lg">People</h2>
      <ul className="grid gap-1">
        {people.map((p) => (
          <li key={p.id} className="flex flex-wrap items-center gap-2 border-b border-line pb-1 last:border-0">
            <span className="min-w-0 flex-1 truncate font-semibold" title={p.name}>
              {p.name}
            </span>
            <span className="text-sm text-muted">
              {p.isDemo ? `${p.role}, demo` : p.hasPin ? p.role : `${p.role}, no PIN yet`}
            </span>
            {!p.isDemo && (
              <>
                <button
                  type="button"
                  className="button min-h-9"
                  disabled={saving}
                  onClick={() =>
                    change(p, { role: p.role === 'lead' ? 'technician' : 'lead' }, `${p.name} has a new role.`)
                  }
                >
                  Change role to {p.role === 'lead' ? 'technician' : 'lead'}
                </button>
                <button
                  type="button"
                  className="button min-h-9"
                  disabled={saving}
                  onClick={() => {
                    if (
                      window.confirm(
                        `${p.name} will no longer be able to sign in. Their entries keep their name. Their practice is deleted. Continue?`,
                      )
                    )
                      remove(p);
                  }}
                >
                  Remove
                </button>
              </>
            )}
          </li>
        ))}
      </ul>
      {isDemo ? (
        <p className="text-sm text-muted">The demo has its own accounts. Start with “npm start” to add yours here.</p>
      ) : (
        <NewPerson />
      )}
      {problem && (
        <p role="alert" className="font-semibold text-decide">
          {problem}
        </p>
      )}
    </section>
  );
}

function NewPerson() {
  const empty = { name: '', role: 'technician', password: '' };
  const [form, setForm] = useState(empty);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  return (
    <form
      className="grid grid-cols-2 items-end gap-2"
      aria-label="Add a person"
      onSubmit={(e) => {
        e.preventDefault();
        save(() => keepNewPerson(form), {
          done: `${form.name} can sign in now.`,
          failed: setProblem,
          then: () => {
            setForm(empty);
            setProblem(null);
          },
        });
      }}
    >
      <TextField
        label="Name"
        value={form.name}
        autoComplete="off"
        onValue={(value) => setForm({ ...form, name: value })}
      />
      <SelectField label="Role" value={form.role} onValue={(value) => setForm({ ...form, role: value })}>
        <option value="technician">technician</option>
        <option value="lead">lead</option>
      </SelectField>
      <TextField
        label="First password"
        hint="tell them in person"
        value={form.password}
        autoComplete="off"
        onValue={(value) => setForm({ ...form, password: value })}
      />
      <button type="submit" className="button" disabled={saving}>
        Add
      </button>
      {problem && (
        <p role="alert" className="col-span-2 font-semibold text-decide">
          {problem}
        </p>
      )}
    </form>
  );
}
