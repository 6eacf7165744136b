'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import { takeTyped } from './actions';

/** A reading on its way into the record, as it was typed. */
export interface Typed {
  key: string;
  where: string;
  name: string;
  text: string;
  mode: string;
  phase: string;
  redProbe: string;
  leadsOhm: number | null;
  good: boolean;
  /** Of a point that the profile does not have: its circuit, and the power state in which it should stand. */
  circuit: string;
  state: string;
}

export interface Pending extends Typed {
  /** How far it came. */
  status: 'saving' | 'asked' | 'failed';
  /** What was odd about it, or why it was not kept. */
  says: string;
}

const storeKey = (jobId: number): string => `umbral-typed-${jobId}`;

function stored(jobId: number): Pending[] {
  try {
    const list = JSON.parse(localStorage.getItem(storeKey(jobId)) ?? '[]') as Pending[];
    return list.map((p) =>
      p.status === 'saving' ? { ...p, status: 'failed', says: 'The page was closed before it was saved.' } : p,
    );
  } catch {
    return [];
  }
}

/**
 * Saves readings one after the other while the next is typed. What was not kept stays, in this browser, until it is saved
 * or thrown away: a save that fails, a question that is open, or a page that is left loses nothing.
 */
export function useEntry(jobId: number) {
  const [pending, setPending] = useState<Pending[]>([]);
  const queue = useRef<Promise<void>>(Promise.resolve());
  const isLoaded = useRef(false);
  useEffect(() => {
    // After the first picture, which is the server's: it knows nothing of this browser.
    const timer = setTimeout(() => {
      isLoaded.current = true;
      setPending((now) => [...stored(jobId), ...now]);
    });
    return () => clearTimeout(timer);
  }, [jobId]);
  useEffect(() => {
    if (!isLoaded.current) return;
    try {
      localStorage.setItem(storeKey(jobId), JSON.stringify(pending));
    } catch {
      // Nothing can be kept in this browser: the list on the screen is all there is.
    }
  }, [jobId, pending]);

  const change = useCallback((key: string, to: Partial<Pending> | null): void => {
    setPending((now) =>
      to === null ? now.filter((p) => p.key !== key) : now.map((p) => (p.key === key ? { ...p, ...to } : p)),
    );
  }, []);

  const send = useCallback(
    (typed: Typed, confirmed: boolean): void => {
      queue.current = queue.current.then(async () => change(typed.key, await taken(jobId, typed, confirmed)));
    },
    [jobId, change],
  );

  const take = useCallback(
    (typed: Typed, confirmed = false): void => {
      isLoaded.current = true;
      setPending((now) => [...now.filter((p) => p.key !== typed.key), { ...typed, status: 'saving', says: '' }]);
      send(typed, confirmed);
    },
    [send],
  );
  return { pending, take, drop: (key: string) => change(key, null) };
}

/** Takes a reading into the record; null once it is kept, else what it waits for or why it was not. Never throws. */
async function taken(jobId: number, typed: Typed, confirmed: boolean): Promise<Partial<Pending> | null> {
  const { where, text, mode, phase, redProbe, leadsOhm, good, circuit, state } = typed;
  const reading = { jobId, where, text, mode, phase, redProbe, leadsOhm, good, circuit, state, confirmed };
  try {
    const result = await takeTyped(reading);
    if (!result.ok) return { status: 'failed', says: result.message };
    return result.value.kept ? null : { status: 'asked', says: result.value.asks.join(' ') };
  } catch {
    return { status: 'failed', says: 'The server could not be reached. Nothing was saved.' };
  }
}
