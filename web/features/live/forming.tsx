'use client';

import { formatPercent } from '@umbral/core/words';
import { useEffect, useRef, useState } from 'react';
import { Announce, Hazard, Likely } from '@/ui/parts';
import type { FormingCall } from './acts';
import type { SetupForm } from '@/features/record/setup-form';
import { isSettled } from './settled';
import { useAct } from '@/ui/kit/use-recorder';

const callEveryMs = 1500;
const callsKept = 6;

/** The call of a recording as it forms, asked for again and again while it goes on; null where nothing is recorded. */
export function useForming(recording: number | null, setup: SetupForm, onSettled: () => void) {
  const act = useAct();
  const [formed, setFormed] = useState<{ recording: number; last: FormingCall; calls: FormingCall[] } | null>(null);
  const settledNow = useRef(onSettled);
  // What is typed while it goes on counts from the next call on.
  const setupNow = useRef(setup);
  useEffect(() => {
    settledNow.current = onSettled;
    setupNow.current = setup;
  });
  useEffect(() => {
    if (recording === null) return;
    let isOn = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let calls: FormingCall[] = [];
    const look = async (): Promise<void> => {
      const call = await act<FormingCall>('call', { recording, setup: setupNow.current }, true);
      if (!isOn) return;
      if (call) {
        // Nothing feeds it any more, or not yet: then there is no call.
        calls = call.pattern ? [...calls.slice(1 - callsKept), call] : [];
        setFormed({ recording, last: call, calls });
        if (isSettled(calls)) settledNow.current();
      }
      timer = setTimeout(() => void look(), callEveryMs);
    };
    timer = setTimeout(() => void look(), callEveryMs);
    return () => {
      isOn = false;
      clearTimeout(timer);
    };
  }, [recording, act]);
  const now = formed?.recording === recording ? formed : null;
  return { call: now?.last ?? null, settled: isSettled(now?.calls ?? []) };
}

/** Pattern and suspects as they stand so far. Pointing at a suspect puts what it would draw behind the run. */
export function Forming({
  call,
  settled,
  isRecording,
  isPractice,
  shown,
  show,
}: {
  call: FormingCall | null;
  settled: boolean;
  isRecording: boolean;
  /** A practice unit, of which nothing is said before the call. */
  isPractice: boolean;
  /** Suspect whose prediction stands behind the run. */
  shown: string | null;
  show: (id: string | null) => void;
}) {
  return (
    <section aria-label="Verdict so far" className="grid gap-2">
      <Announce
        says={
          settled && call?.pattern
            ? `Verdict: ${call.pattern.name}. First suspect: ${call.suspects[0]?.name ?? 'none'}. Enough recorded.`
            : ''
        }
      />
      <h2 className="text-[1.4rem] leading-tight">
        {call?.pattern?.name ?? (isRecording ? 'Too early to say' : 'No verdict yet')}
      </h2>
      <p className={`text-sm ${settled ? 'font-semibold text-good' : 'text-muted'}`} role="status">
        {settled
          ? 'Enough recorded. More time will hardly change this. You can stop.'
          : call?.pattern
            ? `${formatPercent(call.pattern.p)} after ${Math.round(call.untilS)} s, still developing`
            : isPractice
              ? 'Switch the output on or plug in, wait, then press power. You make the call first. The suspects appear after it.'
              : 'Switch the output on or plug in, wait, then press power. The suspects appear while it starts.'}
      </p>
      {call?.odd.map((says) => (
        <Hazard key={says}>{says}</Hazard>
      ))}
      {call && call.suspects.length > 0 && (
        <ol aria-label="Suspects so far" className="grid gap-1.5">
          {call.suspects.map((s) => (
            <li
              key={s.id}
              onPointerEnter={() => show(s.id)}
              onPointerLeave={() => show(null)}
              className={shown === s.id ? 'rounded-[10px] outline-2 outline-offset-1 outline-edge' : ''}
            >
              <Likely p={s.p}>
                <p className="flex justify-between gap-2 px-3 py-1.5">
                  <span>
                    {s.name}
                    {s.target && <span className="text-[0.9rem] text-muted"> · {s.target}</span>}
                  </span>
                  <strong className="whitespace-nowrap">{formatPercent(s.p)}</strong>
                </p>
              </Likely>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
