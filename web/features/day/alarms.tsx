'use client';

import { waitTypes } from '@umbral/core/words';
import { BellRing } from 'lucide-react';
import Link from '@/ui/link';
import { useCallback, useEffect, useRef, useState } from 'react';
import { jobNumber } from '@/features/words';
import type { RunningWait } from '@/server/work/entries/waits';
import { heard } from '@/features/waits/actions';
import { ringingWaits, titleWith } from './alarm';
import { useSound } from '@/ui/sound';
import { showNotice, playAlarm } from './notices';
import { useServerNow } from './use-now';

const everyMs = 15_000;
const againMs = 20_000;

/**
 * Rings when a wait is over, on every page and every screen of the shop, until somebody has heard it: a bar with what is to
 * be done, a sound, the title of the page, and a notice of the system where that was allowed. The waits are records, so a
 * closed page or a restarted server forgets none: the next page that is opened rings.
 */
export function Alarms() {
  const [known, setKnown] = useState<{ now: string; waits: RunningWait[] } | null>(null);
  const look = useCallback(async (): Promise<void> => {
    try {
      const answer = await fetch('/api/waits', { cache: 'no-store' });
      const body = (await answer.json()) as { ok: boolean; value?: { now: string; waits: RunningWait[] } };
      if (body.ok && body.value) setKnown(body.value);
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
  const hear = (id: number): void => {
    setKnown((k) => k && { ...k, waits: k.waits.map((w) => (w.id === id ? { ...w, heard: true } : w)) });
    void heard(id).then(() => look());
  };
  return known && <Bar known={known} onHeard={hear} />;
}

function Bar({ known, onHeard }: { known: { now: string; waits: RunningWait[] }; onHeard: (id: number) => void }) {
  const over = ringingWaits(known.waits, useServerNow(known.now));
  useRinging(over);
  if (over.length === 0) return null;
  return (
    <div
      role="alert"
      aria-label="Finished waits"
      className="grid max-h-28 gap-1 overflow-y-auto border-b border-decide bg-decide-soft px-4 py-1.5 sm:max-h-none print:hidden"
    >
      {over.map((wait) => (
        <p key={wait.id} className="mx-auto flex w-full max-w-[1248px] items-center gap-x-3">
          <BellRing size={18} className="shrink-0 text-decide" aria-hidden />
          <span className="min-w-0 flex-1 text-sm sm:text-base">
            <Link href={`/jobs/${wait.jobId}`} className="mr-1.5 font-bold hover:underline">
              {jobNumber(wait.jobId)} {wait.label}
            </Link>{' '}
            {wait.words || waitTypes[wait.kind].name} is over. {waitTypes[wait.kind].then}
          </span>
          <button type="button" className="button min-h-9" onClick={() => onHeard(wait.id)}>
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
  // Every time: another page that is gone to brings a title of its own.
  useEffect(() => {
    document.title = titleWith(document.title, count);
  });
  useEffect(() => {
    for (const wait of over) {
      if (told.current.has(wait.id)) continue;
      told.current.add(wait.id);
      if (isOn) playAlarm();
      void showNotice(`${jobNumber(wait.jobId)} ${wait.label}`, waitTypes[wait.kind].then, `/jobs/${wait.jobId}`);
    }
  }, [over, isOn]);
  useEffect(() => {
    if (count === 0 || !isOn) return;
    const timer = setInterval(playAlarm, againMs);
    return () => clearInterval(timer);
  }, [count, isOn]);
}
