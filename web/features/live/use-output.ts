'use client';

import type { StationState } from '@umbral/instruments';
import { useCallback, useEffect, useRef, useState } from 'react';
import type { useAct } from './use-recorder';

/** What a window that can switch an output owes the bench: to be heard of, and to switch off on Escape. */
export function useOutput(act: ReturnType<typeof useAct>, states: readonly StationState[]) {
  const [me] = useState(() => crypto.randomUUID());
  const isMine = states.some((s) => s.armed?.by === me);
  // The output goes off five seconds after this window falls silent.
  useEffect(() => {
    if (!isMine) return;
    const timer = setInterval(() => void act('alive', { by: me }, true), 1500);
    return () => clearInterval(timer);
  }, [isMine, act, me]);
  /** Every supply: whoever wants it off does not look first which one is chosen. */
  const off = useCallback(
    (): Promise<unknown> =>
      Promise.all(
        states
          .filter((s) => s.kind === 'supply' && (s.armed || s.outputOn !== false))
          .map((s) => act('output', { instrument: s.key, on: false, by: me })),
      ),
    [act, me, states],
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
  return { me, off };
}
