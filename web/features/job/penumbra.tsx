'use client';

import { createContext, useContext, useMemo, useState, type ReactNode } from 'react';
import { useKey } from '@/ui/keys';
import type { RunView } from './view';

interface Penumbra {
  /** Suspect whose prediction stands behind the run; null for the healthy band. */
  shown: string | null;
  show: (id: string | null) => void;
}

const Context = createContext<Penumbra>({ shown: null, show: () => undefined });

/** Which band stands behind the run: what a healthy unit draws, or what the suspect under the pointer would. */
export function PenumbraProvider({
  predictions,
  children,
}: {
  predictions: RunView['predictions'];
  children: ReactNode;
}) {
  const [shown, show] = useState<string | null>(null);
  useKey('s', 'expected draw of the next suspect, behind the run', () => {
    const ids = predictions.map((p) => p.id as string);
    const at = shown === null ? -1 : ids.indexOf(shown);
    show(ids[at + 1] ?? null);
  });
  const value = useMemo(() => ({ shown, show }), [shown]);
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

/** The run with the band that is asked for, and its name where it is not the healthy one. */
export function usePenumbra(chosen: RunView): { run: RunView; named: string | null } {
  const { shown } = useContext(Context);
  const prediction = chosen.predictions.find((p) => p.id === shown);
  return useMemo(
    () =>
      prediction
        ? { run: { ...chosen, band: prediction.band, leavesAt: null }, named: prediction.name }
        : { run: chosen, named: null },
    [chosen, prediction],
  );
}

/** A suspect in the list: pointing at it, or focusing it, puts its prediction behind the run. */
export function SuspectArea({ id, children }: { id: string; children: ReactNode }) {
  const { shown, show } = useContext(Context);
  return (
    <div
      className={shown === id ? 'rounded-[10px] outline-2 outline-offset-1 outline-edge' : ''}
      onPointerEnter={() => show(id)}
      onPointerLeave={() => show(null)}
      onFocus={() => show(id)}
      onBlur={() => show(null)}
    >
      {children}
    </div>
  );
}
