'use client';

import { useEffect, useRef } from 'react';
import { playNotes, useSound, type Note } from '@/ui/sound';
import { cueOf, type Cue, type LiveCall } from './cues';

/** Notes of each cue. Told apart by rhythm and direction, not by pitch alone. */
const notes: Record<Cue, Note[]> = {
  limit: [
    [330, 0.09],
    [330, 0.09],
    [330, 0.09],
  ],
  stalled: [
    [440, 0.12],
    [330, 0.35],
  ],
  started: [
    [440, 0.1],
    [554, 0.1],
    [659, 0.25],
  ],
};

/** Plays a cue; says nothing where the browser has no sound. */
export function playCue(cue: Cue): void {
  playNotes(notes[cue]);
}

/** Sounds when the limit is reached, the start stalls, or it succeeds; quiet while nothing is recorded. */
export function useCues(heard: LiveCall | null): void {
  const { isOn } = useSound();
  const was = useRef<LiveCall | null>(null);
  const mode = heard?.mode ?? null;
  const id = heard?.pattern?.id ?? null;
  const p = heard?.pattern?.p ?? 0;
  const isLive = heard !== null;
  useEffect(() => {
    const now = isLive ? { mode, pattern: id && { id, p } } : null;
    const cue = now && cueOf(was.current, now);
    was.current = now;
    if (cue && isOn) playCue(cue);
  }, [isLive, mode, id, p, isOn]);
}
