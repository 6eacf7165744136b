'use client';

import { useEffect, useRef } from 'react';
import { usePreference } from '@/ui/preference';
import { cueOf, type Cue, type LiveCall } from './cues';

type Note = [hertz: number, seconds: number];

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
const [pauseS, loudness] = [0.05, 0.2];

let context: AudioContext | null = null;

/** Plays a cue; says nothing where the browser has no sound. */
export function playCue(cue: Cue): void {
  playNotes(notes[cue]);
}

/** Plays notes one after the other; says nothing where the browser has no sound, or lets a page have none yet. */
export function playNotes(list: readonly Note[]): void {
  try {
    context ??= new AudioContext();
    void context.resume();
    let at = context.currentTime + 0.02;
    for (const [hertz, seconds] of list) {
      const tone = context.createOscillator();
      const gain = context.createGain();
      tone.frequency.value = hertz;
      gain.gain.setValueAtTime(0, at);
      gain.gain.linearRampToValueAtTime(loudness, at + 0.01);
      gain.gain.linearRampToValueAtTime(0, at + seconds);
      tone.connect(gain).connect(context.destination);
      tone.start(at);
      tone.stop(at + seconds);
      at += seconds + pauseS;
    }
  } catch {
    // No sound here: what it would have said stands on the screen.
  }
}

/** Whether this browser sounds. */
export function useSound() {
  const [value, set] = usePreference('sound', 'on');
  return { isOn: value === 'on', setOn: (on: boolean) => set(on ? 'on' : 'off') };
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
