'use client';

import { useState, type FormEvent, type ReactNode } from 'react';
import type { Result } from '@/server/record/errors';
import { signIn, signInByCode, switchPerson } from './actions';
import { TextField } from '@/ui/kit/fields';

export interface SwitchablePerson {
  id: number;
  name: string;
  /** Somebody of the demo needs no PIN. */
  isDemo: boolean;
}

function Form({
  button,
  problem,
  busy,
  onSubmit,
  children,
}: {
  button: string;
  problem: string | null;
  busy: boolean;
  onSubmit: () => void;
  children: ReactNode;
}) {
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    onSubmit();
  };
  return (
    <form className="grid gap-3" onSubmit={submit}>
      {children}
      {problem && (
        <p role="alert" className="font-semibold text-decide">
          {problem}
        </p>
      )}
      <button type="submit" className="button button-main" disabled={busy}>
        {button}
      </button>
    </form>
  );
}

/** Sends a form and, where it worked, goes on with the page as whoever it is now. */
function useEntering() {
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const send = async (work: () => Promise<Result<void>>, then: () => void): Promise<void> => {
    setBusy(true);
    try {
      const result = await work();
      if (result.ok) return then();
      setProblem(result.message);
    } catch {
      setProblem('The server could not be reached. Try again.');
    }
    setBusy(false);
  };
  return { problem, busy, send };
}

const toBench = (): void => window.location.assign('/');

/** Name and password, or a code from the console. */
export function SignInForm({ isFirst, isAway }: { isFirst: boolean; isAway: boolean }) {
  const [byCode, setByCode] = useState(isFirst);
  const [form, setForm] = useState({ code: '', name: '', password: '' });
  const { problem, busy, send } = useEntering();
  const field = (key: keyof typeof form, label: string, hint?: string, type = 'text') => (
    <TextField
      label={label}
      hint={hint}
      type={type}
      autoComplete={
        key === 'name' ? 'username' : key === 'code' ? 'one-time-code' : byCode ? 'new-password' : 'current-password'
      }
      value={form[key]}
      onValue={(value) => setForm({ ...form, [key]: value })}
    />
  );
  if (isAway) return <p>The database is not available and is restarting. Try again in a moment.</p>;
  return (
    <Form
      button={byCode ? (isFirst ? 'Create account' : 'Set password') : 'Sign in'}
      problem={problem}
      busy={busy}
      onSubmit={() => void send(() => (byCode ? signInByCode(form) : signIn(form)), toBench)}
    >
      {isFirst && (
        <p className="text-muted">No accounts yet. Create the lead’s account with the code shown in the terminal.</p>
      )}
      {byCode && field('code', 'Code', 'from the console')}
      {field('name', 'Name')}
      {field(
        'password',
        byCode ? 'New password' : 'Password',
        byCode ? 'at least 10 characters' : undefined,
        'password',
      )}
      {!isFirst && (
        <button
          type="button"
          className="justify-self-start text-sm text-muted underline"
          onClick={() => setByCode(!byCode)}
        >
          {byCode ? 'I have a password' : 'I have a code from the console'}
        </button>
      )}
    </Form>
  );
}

/** Whoever steps up to a screen that others use too: a tap on the name, then the PIN. */
export function SwitchForm({
  people,
  first,
  then,
}: {
  people: readonly SwitchablePerson[];
  /** Who is asked for first. */
  first?: number;
  then: () => void;
}) {
  const [chosen, setChosen] = useState(first ?? people[0]?.id ?? 0);
  const [pin, setPin] = useState('');
  const { problem, busy, send } = useEntering();
  const who = people.find((p) => p.id === chosen);
  if (people.length === 0)
    return <p className="text-muted">No PINs yet. Sign in with a password, then choose a PIN.</p>;
  return (
    <Form
      button={who ? `Continue as ${who.name}` : 'Continue'}
      problem={problem}
      busy={busy}
      onSubmit={() => void send(() => switchPerson({ personId: chosen, pin }), then)}
    >
      <div className="flex flex-wrap gap-2" role="group" aria-label="Person">
        {people.map((p) => (
          <button
            key={p.id}
            type="button"
            className="button"
            aria-pressed={p.id === chosen}
            onClick={() => setChosen(p.id)}
          >
            {p.name}
          </button>
        ))}
      </div>
      {!who?.isDemo && (
        <TextField
          label="PIN"
          className="text-2xl tracking-widest"
          type="password"
          inputMode="numeric"
          autoComplete="off"
          autoFocus
          value={pin}
          onValue={setPin}
        />
      )}
    </Form>
  );
}
