'use client';

import { CircleUser, Lock } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useEffect, useState } from 'react';
import type { Person } from '@/server/people/actor';
import { Dialog } from '@/ui/dialog';
import { Field } from '@/ui/parts';
import { useToast } from '@/ui/toast';
import { forgetSheet } from '@/features/day/kept-sheet';
import { keepPassword, keepPin, lockScreen, signOut, stay } from './actions';
import { SwitchForm, type SwitchablePerson } from './sign-in-form';

const roleWords = { lead: 'lead', technician: 'technician' } as const;

interface Props {
  person: Person;
  people: SwitchablePerson[];
  /** The demo signed in by itself. */
  isDemo: boolean;
  lockAfterMinutes: number;
}

/** Who is at this screen, with what they can do about that; locks the screen that nobody touches. */
export function PersonMenu({ person, people, isDemo, lockAfterMinutes }: Props) {
  const [open, setOpen] = useState(false);
  const [isLocked, setLocked] = useState(false);
  const router = useRouter();
  useIdle(isDemo ? null : lockAfterMinutes, () => {
    setLocked(true);
    void lockScreen();
  });
  const lock = (): void => {
    setOpen(false);
    setLocked(true);
    void lockScreen();
  };
  const arrive = (): void => {
    setOpen(false);
    setLocked(false);
    router.refresh();
  };
  const others = people.filter((p) => p.id !== person.id);
  return (
    <>
      <button
        type="button"
        className="button button-quiet gap-1.5 px-2"
        onClick={() => setOpen(true)}
        title="Who is at this screen"
      >
        <CircleUser size={19} aria-hidden />
        <span className="max-w-[9rem] truncate">{person.name}</span>
        {isDemo && <span className="rounded bg-penumbra px-1 text-xs text-ink">demo</span>}
      </button>
      <Dialog open={open} title={person.name} onClose={() => setOpen(false)}>
        <p className="text-muted">
          Signed in as {roleWords[person.role]}.
          {isDemo && ' The demo signs in by itself, on this computer only; its people are made up.'}
        </p>
        <div className="mt-3 grid gap-4">
          {others.length > 0 && (
            <section aria-label="Switch">
              <h3 className="font-semibold">Somebody else</h3>
              <div className="mt-1.5">
                <SwitchForm people={others} then={arrive} />
              </div>
            </section>
          )}
          {!isDemo && <OwnSecrets />}
          <div className="flex flex-wrap gap-2">
            {!isDemo && (
              <button type="button" className="button gap-1.5" onClick={lock}>
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
      <Dialog open={isLocked} title="Locked" onClose={() => undefined}>
        <p className="mt-1 text-muted">
          What stands on this screen is kept. What is recorded goes on; Escape still switches outputs off.
        </p>
        <div className="mt-3">
          <SwitchForm people={people} first={person.id} then={arrive} />
          <button
            type="button"
            className="mt-3 text-sm text-muted underline"
            onClick={() => window.location.assign('/sign-in')}
          >
            Sign in with a password
          </button>
        </div>
      </Dialog>
    </>
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
      text: kind === 'pin' ? 'The PIN holds from now on.' : 'The password is changed; other screens are signed out.',
    });
  };
  const input = (key: keyof typeof form, label: string) => (
    <Field label={label}>
      <input
        className="field"
        type="password"
        autoComplete="off"
        value={form[key]}
        onChange={(e) => setForm({ ...form, [key]: e.target.value })}
      />
    </Field>
  );
  return (
    <details>
      <summary className="min-h-11 cursor-pointer py-2 font-semibold">My PIN and password</summary>
      <div className="grid gap-2">
        {input('password', 'Password now')}
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

/** Calls `locked` once nobody touched this screen for so long, and tells the server now and then that somebody did. */
function useIdle(minutes: number | null, locked: () => void): void {
  useEffect(() => {
    if (minutes === null) return;
    let [touched, told] = [performance.now(), performance.now()];
    let isLocked = false;
    const touch = (): void => {
      touched = performance.now();
    };
    const kinds = ['pointerdown', 'keydown', 'wheel', 'touchstart'] as const;
    for (const kind of kinds) window.addEventListener(kind, touch, { passive: true, capture: true });
    const timer = setInterval(() => {
      const now = performance.now();
      if (!isLocked && now - touched > 60_000 * minutes) {
        isLocked = true;
        locked();
      } else if (touched > told && now - told > 60_000) {
        told = now;
        void stay();
      }
      if (touched > now - 1000) isLocked = false;
    }, 5000);
    return () => {
      clearInterval(timer);
      for (const kind of kinds) window.removeEventListener(kind, touch, { capture: true });
    };
    // `locked` only sets state; it may be the one of the first render.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [minutes]);
}
