'use client';

import { usePreference } from './preference';

export type Note = [hertz: number, seconds: number];

const [pauseS, loudness] = [0.05, 0.2];

let context: AudioContext | null = null;

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
