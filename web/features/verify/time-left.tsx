'use client';

import { useEffect, useState } from 'react';
import { localMoment } from '@/ui/local-time';

/** "1 h 20 min", "4 min", "40 s". */
function sayLeft(seconds: number): string {
  if (seconds < 60) return `${Math.max(0, Math.round(seconds))} s`;
  const minutes = Math.round(seconds / 60);
  if (minutes < 60) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}

/** A time that runs, from the clock: it stands right after a reload, and after a server that stopped. */
export function TimeLeft({ dueAt }: { dueAt: string }) {
  const [now, setNow] = useState<number | null>(null);
  useEffect(() => {
    const tick = (): void => setNow(Date.now());
    const first = setTimeout(tick);
    const timer = setInterval(tick, 1000);
    return () => {
      clearTimeout(first);
      clearInterval(timer);
    };
  }, []);
  if (now === null) return null;
  const left = (Date.parse(dueAt) - now) / 1000;
  return <strong role="timer">{left > 0 ? `${sayLeft(left)} left, until ${localMoment(dueAt)}` : 'Time is up'}</strong>;
}
