'use client';

import type { Marker } from '@umbral/core/words';
import { useEffect, useRef, useState } from 'react';
import { useToast } from '@/ui/toast';
import { saveMarkers } from './actions';
import type { RunView } from './view';

/** Keys that come in quick succession are one change. */
const pauseMs = 350;

interface Work {
  version: number;
  next: { markers: Marker[]; done: string } | null;
  busy: boolean;
}

/**
 * The markers of a run as they are being moved. What is moved shows at once and is saved when the hand rests; what is
 * moved while a save is under way is saved after it, on the version that it made. The lane keeps its place and focus.
 */
export function useMarkers(chosen: RunView) {
  const [markers, setMarkers] = useState<Marker[]>(chosen.markers);
  const [isUnsaved, setUnsaved] = useState(false);
  const [shown, setShown] = useState(chosen.version);
  const [savedVersion, setSavedVersion] = useState(chosen.version);
  const toast = useToast();
  const work = useRef<Work>({ version: chosen.version, next: null, busy: false });
  const timer = useRef<ReturnType<typeof setTimeout> | null>(null);

  // What the server made of it (inferred markers among it) is taken over once nothing of one's own is under way, and
  // never from before the last save.
  if (!isUnsaved && shown !== chosen.version && chosen.version >= savedVersion) {
    setShown(chosen.version);
    setMarkers(chosen.markers);
  }

  const flush = async (): Promise<void> => {
    const { current } = work;
    const { next } = current;
    if (current.busy || next === null) return;
    current.next = null;
    current.busy = true;
    const { version, problem } = await saved(chosen, Math.max(current.version, chosen.version), next.markers);
    current.version = version;
    current.busy = false;
    if (problem !== null) {
      current.next = null;
      setMarkers(chosen.markers);
      setUnsaved(false);
      toast({ tone: 'problem', text: problem });
    } else if (current.next !== null) await flush();
    else {
      setUnsaved(false);
      setSavedVersion(current.version);
      toast({ tone: 'done', text: next.done });
    }
  };
  const latest = useRef(flush);
  useEffect(() => {
    latest.current = flush;
  });
  // Leaving the run saves what is still waiting for the pause.
  useEffect(
    () => () => {
      if (timer.current !== null) clearTimeout(timer.current);
      void latest.current();
    },
    [],
  );

  const store = (next: Marker[], done: string): void => {
    setMarkers(next);
    setUnsaved(true);
    work.current.next = { markers: next, done };
    if (timer.current !== null) clearTimeout(timer.current);
    timer.current = setTimeout(() => void latest.current(), pauseMs);
  };
  return { markers, setMarkers, store, isUnsaved };
}

/** Saves the markers that were set by hand, on a version of the run; never throws. */
async function saved(
  run: RunView,
  version: number,
  markers: Marker[],
): Promise<{ version: number; problem: string | null }> {
  const given = markers.filter((m) => !m.inferred).map(({ t, event, note, said }) => ({ t, event, note, said }));
  try {
    const result = await saveMarkers({ runId: run.id, version, markers: given });
    return result.ok ? { version: result.value, problem: null } : { version, problem: result.message };
  } catch {
    return { version, problem: 'The server could not be reached. The markers were not saved.' };
  }
}
