'use client';

import type { StationState } from '@umbral/instruments';
import { useState } from 'react';
import type { SetupForm } from '@/features/record/setup-form';
import type { LastSet } from './presets';

const setOf = (last: LastSet[keyof LastSet]): Partial<SetupForm> =>
  last ? { setV: last.setV, limitA: last.limitA } : {};

/** Which instrument is read large, which record along, and the setup that goes with it. */
export function useStations(
  states: readonly StationState[],
  { form: first, lastSet }: { form: SetupForm; lastSet: LastSet },
) {
  const [chosenKey, setChosenKey] = useState<string | null>(null);
  const [alongKeys, setAlongKeys] = useState<ReadonlySet<string>>(new Set());
  const [form, setForm] = useState(first);
  const wanted = form.feed === 'usb-c' ? 'meter' : 'supply';
  const station =
    states.find((s) => s.key === chosenKey) ?? states.find((s) => s.kind === wanted && !s.isSeen) ?? states[0];

  /** At another feed stands what was set there last, unless something is said. */
  const atFeed = (to: SetupForm): SetupForm =>
    to.setV === '' && to.limitA === '' ? { ...to, ...setOf(lastSet[to.feed]) } : to;
  const choose = (s: StationState): void => {
    setChosenKey(s.key);
    // A display that a camera reads may be that of a supply or of a meter.
    const fits = s.isSeen || (s.kind === 'meter' ? form.feed !== 'battery' : form.feed !== 'usb-c');
    if (!fits) setForm(atFeed({ ...form, setV: '', limitA: '', feed: s.kind === 'meter' ? 'usb-c' : 'battery' }));
  };
  const takeForm = (to: SetupForm): void => {
    setForm(to.feed === form.feed ? to : atFeed(to));
    if ((to.feed === 'usb-c') !== (form.feed === 'usb-c') && !station.isSeen) setChosenKey(null);
  };
  const setAlong = (key: string, records: boolean): void => {
    const next = new Set(alongKeys);
    if (records) next.add(key);
    else next.delete(key);
    setAlongKeys(next);
  };
  return {
    station,
    form,
    setForm,
    takeForm,
    choose,
    chooseKey: setChosenKey,
    alongKeys,
    setAlong,
    along: states.filter((s) => alongKeys.has(s.key) && s.key !== station.key),
  };
}
