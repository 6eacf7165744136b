'use client';

import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { keepNewToken, takeTokenBack } from './actions';
import { TextField } from '@/ui/kit/fields';

export interface TokenView {
  id: number;
  name: string;
  /** What it may do, in words. */
  may: string;
  person: string;
  used: string;
}

/** Tokens for programs: the command line, and benches of their own. */
export function TokensSettings({
  tokens,
  scopes,
}: {
  tokens: readonly TokenView[];
  scopes: readonly { id: string; words: string }[];
}) {
  const [form, setForm] = useState<{ name: string; scopes: string[] }>({ name: '', scopes: [] });
  const [made, setMade] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  return (
    <section aria-label="Tokens" className="card grid gap-2">
      <h2 className="text-lg">Tokens for programs</h2>
      {tokens.length === 0 && (
        <p className="text-sm text-muted">None yet. The command line and remote benches need one.</p>
      )}
      <ul className="grid gap-1">
        {tokens.map((t) => (
          <li key={t.id} className="flex flex-wrap items-center gap-2 border-b border-line pb-1 last:border-0">
            <span className="min-w-0 flex-1">
              <span className="font-semibold">{t.name}</span>{' '}
              <span className="text-sm text-muted">
                {t.may} · created by {t.person} · {t.used}
              </span>
            </span>
            <button
              type="button"
              className="button min-h-9"
              disabled={saving}
              onClick={() => save(() => takeTokenBack(t.id), { done: `${t.name} can no longer connect.` })}
            >
              Revoke
            </button>
          </li>
        ))}
      </ul>
      <form
        className="grid gap-2"
        aria-label="Create a token"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => keepNewToken(form), {
            failed: setProblem,
            then: (token) => {
              setMade(token);
              setProblem(null);
              setForm({ name: '', scopes: [] });
            },
          });
        }}
      >
        <TextField
          label="Name"
          hint="who uses it, for what"
          value={form.name}
          onValue={(value) => setForm({ ...form, name: value })}
        />
        <fieldset className="text-sm">
          <legend className="font-semibold">Allowed</legend>
          {scopes.map(({ id, words }) => (
            <label key={id} className="flex min-h-8 items-center gap-2">
              <input
                type="checkbox"
                checked={form.scopes.includes(id)}
                onChange={(e) =>
                  setForm({
                    ...form,
                    scopes: e.target.checked ? [...form.scopes, id] : form.scopes.filter((s) => s !== id),
                  })
                }
              />
              {words}
            </label>
          ))}
        </fieldset>
        <button type="submit" className="button justify-self-start" disabled={saving}>
          Create a token
        </button>
      </form>
      {made && (
        <p role="status" className="rounded-lg border border-line bg-raised p-2 text-sm">
          Copy it now. It will not be shown again:
          <code className="mt-1 block break-all select-all">{made}</code>
        </p>
      )}
      {problem && (
        <p role="alert" className="font-semibold text-decide">
          {problem}
        </p>
      )}
    </section>
  );
}
