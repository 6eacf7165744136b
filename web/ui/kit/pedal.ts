'use client';

import { useEffect, useRef } from 'react';
import { usePreference } from '@/ui/preference';

/** What a foot pedal can do while it records. */
export const pedalActions = {
  press: 'marks a power press',
  mark: 'adds a marker',
  record: 'starts and stops recording',
  output: 'switches the armed output on and off',
} as const;

type PedalAction = keyof typeof pedalActions;

/** The pedal of this browser: the code of the key that it sends, empty where there is none, and what it does. */
export function usePedalSetting() {
  const [code, setCode] = usePreference('pedal-code', '');
  const [does, setDoes] = usePreference('pedal-does', 'press');
  const known: PedalAction = Object.hasOwn(pedalActions, does) ? (does as PedalAction) : 'press';
  return { code, does: known, setCode, setDoes: (to: PedalAction) => setDoes(to) };
}

/** Where nothing is recorded, the pedal does one thing: it takes what stands there. Whatever it is set to. */
export function usePedalKey(act: () => void): void {
  usePedal({ press: act, mark: act, record: act, output: act });
}

/** Lets the pedal act, whatever has the focus: a foot does not know where the cursor is. Held down it acts once. */
export function usePedal(acts: Record<PedalAction, () => void>): { code: string; does: PedalAction } {
  const { code, does } = usePedalSetting();
  const latest = useRef(acts);
  useEffect(() => {
    latest.current = acts;
  });
  useEffect(() => {
    if (!code) return;
    const onKey = (event: KeyboardEvent): void => {
      if (event.code !== code || event.ctrlKey || event.metaKey || event.altKey) return;
      event.preventDefault();
      event.stopPropagation();
      if (!event.repeat) latest.current[does]();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, [code, does]);
  return { code, does };
}
