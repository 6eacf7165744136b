'use client';

import { CircleUser } from 'lucide-react';
import dynamic from 'next/dynamic';
import { holdPage, releasePage, useRouter } from '@/ui/router';
import { useEffect, useState } from 'react';
import type { Person } from '@/server/record/actor';
import { lockScreen, stay } from './actions';
import type { SwitchablePerson } from './sign-in-form';

// In the head of every page, and opened a few times a day.
const load = () => import('./person-dialogs');
const OwnDialog = dynamic(() => load().then((m) => m.OwnDialog), { ssr: false });
const LockedDialog = dynamic(() => load().then((m) => m.LockedDialog), { ssr: false });

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
  useEffect(() => {
    // A screen has to lock also while the record is away: what covers it is there before.
    if (!isDemo) void load().catch(() => undefined);
  }, [isDemo]);
  const lock = (): void => {
    setOpen(false);
    setLocked(true);
    void holdPage().then(lockScreen);
  };
  useIdle(isDemo ? null : lockAfterMinutes, lock);
  const arrive = (): void => {
    setOpen(false);
    setLocked(false);
    releasePage(() => router.refresh());
  };
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
      {open && (
        <OwnDialog
          person={person}
          others={people.filter((p) => p.id !== person.id)}
          isDemo={isDemo}
          onArrive={arrive}
          onLock={lock}
          onClose={() => setOpen(false)}
        />
      )}
      {isLocked && <LockedDialog person={person} people={people} onArrive={arrive} />}
    </>
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
