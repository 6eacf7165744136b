'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { useState } from 'react';
import { parseQuantity, railStates } from '@umbral/core/words';
import { CircuitSelect, ElementNames } from '@/ui/kit/form-parts';
import { SelectField, TextField } from '@/ui/kit/fields';

/** A rail or net that the ladder does not have. */
export interface OwnPoint {
  where: string;
  circuit: string;
  state: string;
}

/** Names a point that is not on the ladder: its circuit and power state say what a reading there means. */
export function OwnPointForm({
  places,
  onTake,
}: {
  /** Names of the places that the job has already. */
  places: readonly string[];
  onTake: (point: OwnPoint) => void;
}) {
  const [point, setPoint] = useState<OwnPoint>({ where: '', circuit: '', state: '' });
  const [carries, setCarries] = useState('');
  const volts = carries.trim() === '' ? null : parseQuantity(carries, 'voltage');
  const isReady = point.where.trim() !== '' && point.circuit !== '' && (volts === null || volts.ok);
  // The voltage stands in the name, as it does on a board: every reading there is held against it.
  const named = (where: string): string =>
    volts?.ok && !/\d\s*v\b/i.test(where) ? `${where} ${Number(volts.value.toPrecision(4))} V` : where;
  return (
    <details className="mt-2 text-sm">
      <summary className="min-h-9 py-1.5">Measure a point that is not in the list</summary>
      <ElementNames names={places} />
      <form
        aria-label="Your own point"
        className="grid items-end gap-2 sm:grid-cols-[minmax(0,2fr)_minmax(0,1.5fr)_minmax(0,1fr)_6rem_auto]"
        onSubmit={(e) => {
          e.preventDefault();
          if (isReady) onTake({ ...point, where: named(point.where.trim()) });
        }}
      >
        <TextField
          label="Point"
          hint="the name you use for it"
          placeholder="standby 3.3 V"
          list="elements"
          value={point.where}
          onValue={(value) => setPoint({ ...point, where: value })}
        />
        <CircuitSelect label="Circuit" value={point.circuit} onChange={(circuit) => setPoint({ ...point, circuit })} />
        <SelectField label="Up from" value={point.state} onValue={(value) => setPoint({ ...point, state: value })}>
          <option value="">not stated</option>
          {railStates.map((s) => (
            <option key={s}>{s}</option>
          ))}
        </SelectField>
        <TextField label="Nominal voltage" placeholder="3.3 V" value={carries} onValue={setCarries} />
        <GatedButton type="submit" className="button" blocked={isReady ? null : 'Name the point first'}>
          Measure here
        </GatedButton>
      </form>
    </details>
  );
}
