'use client';

import type { ArmedHere, StationState } from '@umbral/instruments';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { useAct } from '@/ui/kit/use-recorder';

type HasOutput = Pick<StationState, 'key' | 'kind' | 'armed' | 'outputOn' | 'outputUnknown'>;

/**
 * What a window that can switch an output owes the bench: to keep the key that arming gave it, to be heard of while it has
 * one, and to switch off on Escape.
 */
export function useOutput(act: ReturnType<typeof useAct>, states: readonly HasOutput[]) {
  const [given, setGiven] = useState<readonly ArmedHere[]>([]);
  const keyOf = (s: HasOutput): string | undefined => given.find((g) => g.id === s.armed?.id)?.key;
  const isMine = (s: HasOutput): boolean => keyOf(s) !== undefined;
  const keys = states.flatMap((s) => keyOf(s) ?? []).join(' ');
  // The output goes off five seconds after this window falls silent.
  useEffect(() => {
    if (keys === '') return;
    const say = (): void => keys.split(' ').forEach((key) => void act('alive', { key }, true));
    const timer = setInterval(say, 1500);
    return () => clearInterval(timer);
  }, [keys, act]);

  /** @param how a way of arming, with what it needs */
  const arm = async (how: 'arm' | 'arm-plan' | 'arm-alone', body: object): Promise<void> => {
    const armed = await act<ArmedHere>(how, body);
    // More than one: what is armed may be told here before an older arming is answered.
    if (armed) setGiven((before) => [...before.slice(-5), armed]);
  };
  const on = (s: HasOutput): Promise<unknown> => act('output', { instrument: s.key, on: true, key: keyOf(s) });
  /** Every supply: whoever wants it off does not look first which one is chosen. */
  const off = useCallback(
    (): Promise<unknown> =>
      Promise.all(
        states
          .filter((s) => s.kind === 'supply' && (s.armed || s.outputOn !== false))
          .map((s) => act('output', { instrument: s.key, on: false })),
      ),
    [act, states],
  );
  const offNow = useRef(off);
  useEffect(() => {
    offNow.current = off;
  });
  // Off must work whatever has the focus.
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') void offNow.current();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, []);
  return { isMine, arm, on, off };
}
