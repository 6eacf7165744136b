'use client';

import type { MarkerEvent } from '@umbral/core/words';
import type { StationState } from '@umbral/instruments';
import { useEffect, useRef, useState } from 'react';
import type { SetupForm } from '@/features/record/setup-form';
import { useAct } from '@/ui/kit/use-recorder';
import { useGo } from '@/ui/link';

/** The setup as it is for one of several instruments that record together. */
export function setupFor(form: SetupForm, { kind, isSeen }: Pick<StationState, 'kind' | 'isSeen'>): SetupForm {
  // A display that a camera reads is that of a supply or of a meter, as the feed says.
  if (isSeen) return { ...form, instrument: form.feed === 'usb-c' ? 'usb-c-meter' : 'bench-supply' };
  const instrument = kind === 'meter' ? 'usb-c-meter' : 'bench-supply';
  const fits = kind === 'meter' ? form.feed !== 'battery' : form.feed !== 'usb-c';
  if (fits) return { ...form, instrument };
  // The other instrument stands at the other feed: what was set for this one is not its setup.
  return kind === 'meter'
    ? { ...form, feed: 'usb-c', setV: '', limitA: '', port: form.port ?? 1, instrument }
    : { ...form, feed: 'battery', setV: '', limitA: '', port: null, flipped: false, instrument };
}

/** Recordings that are in the record now, and what kept an output from going off. */
interface Stopped {
  recording: number | null;
  along: (number | null)[];
  problem: string | null;
}

/**
 * The recordings of a job that go on: begun, marked and stopped together, and made runs of the job at the end. One that
 * ends by its time is kept as if it had been stopped here.
 */
export function useTakes(jobId: number, states: StationState[] | null, chosen: string, form: SetupForm) {
  const go = useGo();
  const act = useAct();
  const [isKeeping, setKeeping] = useState(false);
  /** Recordings of this screen, with the instrument that makes each. */
  const seen = useRef(new Map<number, Pick<StationState, 'kind' | 'isSeen'>>());
  const ours = (states ?? []).filter((s) => s.recording?.jobId === jobId);
  const first = [...ours].sort((a, b) => Number(b.key === chosen) - Number(a.key === chosen));
  /** The chosen instrument's run comes first and is the one that is opened. */
  const keepAll = async (ids: number[]): Promise<void> => {
    setKeeping(true);
    let open: string | null = null;
    for (const recording of ids) {
      const station = seen.current.get(recording);
      seen.current.delete(recording);
      // What was typed while it went on is the setup of the run.
      const setup = station ? setupFor(form, station) : null;
      const kept = await act<{ key: string }>('keep', { recording, setup });
      open ??= kept?.key ?? null;
    }
    if (open !== null) go(`/jobs/${jobId}?run=${encodeURIComponent(open)}`);
    else setKeeping(false);
  };
  /** @param off makes sure of outputs that nothing here knows to be on */
  const stop = async (off: () => Promise<unknown>): Promise<void> => {
    const [instrument, ...along] = first.map((s) => s.key);
    const supplies = (states ?? []).filter((s) => s.kind === 'supply' && (s.armed || s.outputOn !== false));
    // One request: the recordings end first, so that a falling voltage is in none of them, and outputs go off at once.
    const stopped = await act<Stopped>('stop', { instrument, along, off: supplies.map((s) => s.key) });
    if (stopped === null || stopped.problem !== null) await off();
    if (stopped) await keepAll([stopped.recording, ...stopped.along].flatMap((id) => id ?? []));
  };
  const start = async (
    keys: Pick<StationState, 'key' | 'kind' | 'isSeen'>[],
    stopAfterS: number | null,
  ): Promise<void> => {
    await Promise.all(
      keys.map((s) => act('record', { jobId, instrument: s.key, setup: setupFor(form, s), stopAfterS })),
    );
  };
  const mark = (event: MarkerEvent, note = '', agoS = 0): void => {
    for (const s of ours) void act('mark', { instrument: s.key, event, note, agoS });
  };
  const keepNow = useRef(keepAll);
  useEffect(() => {
    keepNow.current = keepAll;
    for (const s of ours) seen.current.set(s.recording!.id, s);
  });
  const over = (states ?? []).flatMap((s) => (s.ended?.why === 'by its time' ? [s.ended.id] : []));
  const overKey = ours.length === 0 ? over.join(',') : '';
  useEffect(() => {
    const ids = overKey.split(',').map(Number);
    const unkept = ids.filter((id) => seen.current.has(id));
    if (unkept.length > 0) void keepNow.current(unkept);
  }, [overKey]);
  return { ours, isKeeping, keepAll, start, stop, mark };
}
