'use client';

import { Lock } from 'lucide-react';
import { useState } from 'react';
import type { Person } from '@/server/record/actor';
import { Dialog } from '@/ui/dialog';
import { KeyModeChoice } from '@/ui/key-mode';
import { useToast } from '@/ui/toast';
import { forgetSheet } from '@/features/day/kept-sheet';
import { keepPassword, keepPin, signOut } from './actions';
import { SwitchForm, type SwitchablePerson } from './sign-in-form';
import { TextField } from '@/ui/kit/fields';

const roleWords = { lead: 'lead', technician: 'technician' } as const;

interface OwnProps {
  person: Person;
  others: SwitchablePerson[];
  isDemo: boolean;
  /** Somebody is at the screen again. */
  onArrive: () => void;
  onLock: () => void;
  onClose: () => void;
}

/** Who is at this screen, and what they can do about that. */
export function OwnDialog({ person, others, isDemo, onArrive, onLock, onClose }: OwnProps) {
  return (
    <Dialog open isFresh title={person.name} onClose={onClose}>
      <p className="text-muted">
        Signed in as {roleWords[person.role]}.
        {isDemo && ' The demo signs you in automatically, on this computer only. Its people are invented.'}
      </p>
      <div className="mt-3 grid gap-4">
        {others.length > 0 && (
          <section aria-label="Switch">
            <h3 className="font-semibold">Switch person</h3>
            <div className="mt-1.5">
              <SwitchForm people={others} then={onArrive} />
            </div>
          </section>
        )}
        <KeyModeChoice personId={person.id} />
        {!isDemo && <OwnSecrets />}
        <div className="flex flex-wrap gap-2">
          {!isDemo && (
            <button type="button" className="button gap-1.5" onClick={onLock}>
              <Lock size={16} aria-hidden /> Lock this screen
            </button>
          )}
          <button
            type="button"
            className="button"
            onClick={() => {
              forgetSheet();
              void signOut().then(() => window.location.assign('/'));
            }}
          >
            {isDemo ? 'Back to the lead of the demo' : 'Sign out'}
          </button>
        </div>
      </div>
    </Dialog>
  );
}

interface LockedProps {
  person: Person;
  people: SwitchablePerson[];
  onArrive: () => void;
}

/** What stands over a screen that nobody touched for a while. */
export function LockedDialog({ person, people, onArrive }: LockedProps) {
  return (
    <Dialog open isFresh title="Locked" onClose={() => undefined}>
      <p className="mt-1 text-muted">
        This screen stays as it is. Recordings continue. Escape still switches outputs off.
      </p>
      <div className="mt-3">
        <SwitchForm people={people} first={person.id} then={onArrive} />
        <button
          type="button"
          className="mt-3 text-sm text-muted underline"
          onClick={() => window.location.assign('/sign-in')}
        >
          Sign in with a password
        </button>
      </div>
    </Dialog>
  );
}

/** A PIN for the shared bench, and another password. */
function OwnSecrets() {
  const toast = useToast();
  const [form, setForm] = useState({ password: '', pin: '', next: '' });
  const [problem, setProblem] = useState<string | null>(null);
  const send = async (kind: 'pin' | 'password'): Promise<void> => {
    const { password, pin, next } = form;
    const result = await (kind === 'pin'
      ? keepPin({ password, pin })
      : keepPassword({ old: password, password: next }));
    if (!result.ok) return setProblem(result.message);
    setProblem(null);
    setForm({ password: '', pin: '', next: '' });
    toast({
      tone: 'done',
      text: kind === 'pin' ? 'PIN saved.' : 'The password was changed. Other screens are signed out.',
    });
  };
  const input = (key: keyof typeof form, label: string) => (
    <TextField
      label={label}
      type="password"
      autoComplete="off"
      value={form[key]}
      onValue={(value) => setForm({ ...form, [key]: value })}
    />
  );
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2 font-semibold">My PIN and password</summary>
      <div className="grid gap-2">
        {input('password', 'Current password')}
        <div className="grid grid-cols-[1fr_auto] items-end gap-2">
          {input('pin', 'PIN, 4 to 8 digits')}
          <button type="button" className="button" onClick={() => void send('pin')}>
            Choose PIN
          </button>
          {input('next', 'New password')}
          <button type="button" className="button" onClick={() => void send('password')}>
            Change password
          </button>
        </div>
        {problem && (
          <p role="alert" className="font-semibold text-decide">
            {problem}
          </p>
        )}
      </div>
    </details>
  );
}
