'use client';

import { waitTypes } from '@umbral/core/words';
import { BellRing } from 'lucide-react';
import Link from 'next/link';
import { useCallback, useEffect, useRef, useState } from 'react';
import { jobNumber } from '@/features/words';
import type { RunningWait } from '@/server/day/waits';
import { heard } from './actions';
import { nextRing, ringing, titleWith } from './alarm';
import { useSound } from '@/features/live/sound';
import { notify, playAlarm } from './notices';

const everyMs = 15_000;
const againMs = 20_000;

/**
 * Rings when a wait is over, on every page and every screen of the shop, until somebody has heard it: a bar with what is to
 * be done, a sound, the title of the page, and a notice of the system where that was allowed. The waits are records, so a
 * closed page or a restarted server forgets none: the next page that is opened rings.
 */
export function Alarms() {
  const [waits, setWaits] = useState<RunningWait[]>([]);
  // The server's clock: milliseconds that it is ahead of what passes on this screen.
  const ahead = useRef(0);
  const [, setTick] = useState(0);
  const look = useCallback(async (): Promise<void> => {
    try {
      const answer = await fetch('/api/waits', { cache: 'no-store' });
      const body = (await answer.json()) as { ok: boolean; value?: { now: string; waits: RunningWait[] } };
      if (!body.ok || !body.value) return;
      ahead.current = Date.parse(body.value.now) - performance.now();
      setWaits(body.value.waits);
    } catch {
      // The record does not answer: what is known goes on ringing.
    }
  }, []);
  useEffect(() => {
    const first = setTimeout(() => void look(), 0);
    const timer = setInterval(() => void look(), everyMs);
    return () => {
      clearTimeout(first);
      clearInterval(timer);
    };
  }, [look]);
  const now = ahead.current + performance.now();
  const over = ringing(waits, now);
  const next = nextRing(waits, now);
  useEffect(() => {
    if (next === null || next > everyMs) return;
    const timer = setTimeout(() => setTick((n) => n + 1), next + 50);
    return () => clearTimeout(timer);
  }, [next]);
  useRinging(over);
  if (over.length === 0) return null;
  return (
    <div
      role="alert"
      aria-label="Waits that are over"
      className="grid gap-1 border-b border-decide bg-decide-soft px-4 py-1.5 print:hidden"
    >
      {over.map((wait) => (
        <p key={wait.id} className="mx-auto flex w-full max-w-[1248px] flex-wrap items-center gap-x-3">
          <BellRing size={18} className="shrink-0 text-decide" aria-hidden />
          <Link href={`/jobs/${wait.jobId}`} className="font-bold hover:underline">
            {jobNumber(wait.jobId)} {wait.label}
          </Link>
          <span className="min-w-0 flex-1">
            {wait.words || waitTypes[wait.kind].name} is over. {waitTypes[wait.kind].then}
          </span>
          <button
            type="button"
            className="button min-h-9"
            onClick={() => {
              setWaits((all) => all.map((w) => (w.id === wait.id ? { ...w, heard: true } : w)));
              void heard(wait.id).then(() => look());
            }}
          >
            Heard
          </button>
        </p>
      ))}
    </div>
  );
}

/** Sound, title and a notice of the system, once for each alarm and again while nobody comes. */
function useRinging(over: readonly RunningWait[]): void {
  const told = useRef(new Set<number>());
  const count = over.length;
  const { isOn } = useSound();
  useEffect(() => {
    document.title = titleWith(document.title, count);
    return () => {
      document.title = titleWith(document.title, 0);
    };
  }, [count]);
  useEffect(() => {
    for (const wait of over) {
      if (told.current.has(wait.id)) continue;
      told.current.add(wait.id);
      if (isOn) playAlarm();
      void notify(`${jobNumber(wait.jobId)} ${wait.label}`, waitTypes[wait.kind].then, `/jobs/${wait.jobId}`);
    }
  }, [over, isOn]);
  useEffect(() => {
    if (count === 0 || !isOn) return;
    const timer = setInterval(playAlarm, againMs);
    return () => clearInterval(timer);
  }, [count, isOn]);
}
