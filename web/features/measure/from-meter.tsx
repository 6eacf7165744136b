'use client';

import type { StationState } from '@umbral/instruments';
import { useEffect, useRef, useState } from 'react';
import { useRecorder } from '@/ui/kit/use-recorder';
import { usePreference } from '@/ui/preference';
import { usePedalKey } from '@/ui/kit/pedal';
import { sayReading, sayStep } from './say-reading';

type Reading = NonNullable<StationState['reading']>;

/** What somebody would type for what a multimeter shows: the mode in front, a beep as a word. */
function typedFor({ mode, value, ol, beeps }: Reading): string {
  if (mode === 'continuity') return beeps ? 'beep' : 'no beep';
  const letter = mode === 'voltage' ? '' : mode === 'diode' ? 'd ' : 'r ';
  if (ol || value === null) return `${letter}OL`;
  return mode === 'resistance' ? `r ${value} ohm` : `${letter}${value} V`;
}

/** What the unit does not say. */
const modeNames = { voltage: '', resistance: '', diode: ', diode mode', continuity: ', continuity' } as const;

/**
 * The multimeter of the bench beside the line that a reading is typed into: what it shows, taken by a button, the pedal, or by
 * itself once it stands still. Nothing where the bench has none.
 */
export function FromMeter({ isEmpty, onTake }: { isEmpty: boolean; onTake: (text: string) => void }) {
  const { states } = useRecorder();
  const meter = states?.find((s) => s.kind === 'multimeter');
  const reading = meter?.reading ?? null;
  const [takes, setTakes] = usePreference('meter-takes', 'by-hand');
  const [last, setLast] = useState('');
  const text = reading ? typedFor(reading) : '';
  const take = (): void => {
    if (!reading) return;
    setLast(text);
    onTake(text);
  };
  usePedalKey(take);
  const latest = useRef(take);
  useEffect(() => {
    latest.current = take;
  });
  // A probe that is lifted shows another value before the next place: the same one is not taken twice.
  const isNew = reading?.isStable === true && !isIdle(reading) && text !== last;
  const takesNow = takes === 'stable' && isEmpty && isNew;
  useEffect(() => {
    if (takesNow) latest.current();
  }, [takesNow]);
  if (!meter) return null;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 text-sm">
      <span role="status" aria-label={`${meter.name} shows`}>
        {meter.name}:{' '}
        {reading ? (
          <strong className="tabular-nums">
            {sayReading(reading)}
            {modeNames[reading.mode]}
          </strong>
        ) : (
          meter.why || 'shows nothing'
        )}
        {reading?.step && <span className="text-muted">, last digit {sayStep(reading)}</span>}
        {reading && !reading.isStable && <span className="text-muted">, settling</span>}
      </span>
      {reading && (
        <button type="button" className="button min-h-9" onClick={take}>
          Take {sayReading(reading)}
        </button>
      )}
      <label className="flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          checked={takes === 'stable'}
          onChange={(e) => setTakes(e.target.checked ? 'stable' : 'by-hand')}
        />
        take a steady value at once
      </label>
    </div>
  );
}

/** Probes in the air: nothing to be taken by itself. */
const isIdle = ({ mode, value, ol }: Reading): boolean => ol || (mode === 'voltage' && Math.abs(value ?? 0) < airV);

const airV = 0.005;
