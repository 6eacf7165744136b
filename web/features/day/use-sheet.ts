'use client';

import { useEffect, useRef, useState } from 'react';
import type { Bench } from './queries';
import type { RunSheet } from '@/server/work/day/sheet';
import { rememberSheet } from './kept-sheet';

export interface BenchNow {
  bench: Bench;
  sheet: RunSheet;
  /** Since when the record has not answered; null while it does. */
  awaySince: string | null;
}

const everyMs = 10_000;

/**
 * The bench as it is, asked for again and again; while nothing answers, the last one stands, with its time.
 *
 * @param given what the page was made with; what a change makes anew comes in here
 */
export function useSheet(given: { bench: Bench; sheet: RunSheet }): BenchNow {
  const [found, setFound] = useState<{ bench: Bench; sheet: RunSheet } | null>(null);
  const [awaySince, setAway] = useState<string | null>(null);
  const newest = found && found.sheet.madeAt > given.sheet.madeAt ? found : given;
  const madeAt = useRef(newest.sheet.madeAt);
  useEffect(() => {
    madeAt.current = newest.sheet.madeAt;
    rememberSheet(newest);
  }, [newest]);
  useEffect(() => {
    let isOn = true;
    const look = async (): Promise<void> => {
      try {
        const answer = await fetch('/api/sheet', { cache: 'no-store' });
        const body = (await answer.json()) as { ok: boolean; value?: { bench: Bench; sheet: RunSheet } };
        if (!isOn) return;
        if (body.ok && body.value) {
          setFound(body.value);
          setAway(null);
        } else if (answer.status >= 500) setAway((since) => since ?? madeAt.current);
      } catch {
        if (isOn) setAway((since) => since ?? madeAt.current);
      }
    };
    const timer = setInterval(() => void look(), everyMs);
    const back = (): void => {
      if (document.visibilityState === 'visible') void look();
    };
    document.addEventListener('visibilitychange', back);
    return () => {
      isOn = false;
      clearInterval(timer);
      document.removeEventListener('visibilitychange', back);
    };
  }, []);
  return { ...newest, awaySince };
}
