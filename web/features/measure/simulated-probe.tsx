'use client';

import type { ReadingMode } from '@umbral/core/words';
import { useEffect, useState } from 'react';
import { useAct } from '@/ui/kit/use-recorder';
import type { Phase } from './words';

/** Where this model lies on the simulated bench, a probe can be put on it: the meter's reading stands in the line then. */
export function SimulatedProbe({
  profileId,
  at,
  onShows,
}: {
  profileId: string;
  at: { rail: string; mode: ReadingMode; phase: Phase };
  onShows: (shows: string) => void;
}) {
  const act = useAct();
  const [isThere, setThere] = useState(false);
  useEffect(() => {
    let isOn = true;
    void act<{ profile: string }>('bench', {}, true).then((b) => isOn && setThere(b?.profile === profileId));
    return () => {
      isOn = false;
    };
  }, [act, profileId]);
  if (!isThere || at.mode === 'diode') return null;
  const probe = async (): Promise<void> => {
    const answer = await act<{ shows: string }>('probe', at);
    if (answer) onShows(answer.shows);
  };
  return (
    <button type="button" className="button" onClick={() => void probe()}>
      Probe the simulated device
    </button>
  );
}
