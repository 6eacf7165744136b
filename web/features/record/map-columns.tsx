'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { useState } from 'react';
import { SelectField, TextField } from '@/ui/kit/fields';

export interface Mapping {
  time: number | null;
  timeUnit: 's' | 'ms' | 'us';
  rateHz: number | null;
  voltage: number | null;
  voltageUnit: 'V' | 'mV';
  current: number | null;
  currentUnit: 'A' | 'mA' | 'uA';
}

/** Asks which column is which, with the first rows in view. */
export function MapColumns({
  doubt,
  header,
  sample,
  onMap,
}: {
  doubt: string;
  header: string[] | null;
  sample: string[][];
  onMap: (mapping: Mapping) => void;
}) {
  const width = Math.max(header?.length ?? 0, ...sample.map((r) => r.length));
  const names = Array.from({ length: width }, (_, k) => header?.[k] || `column ${k + 1}`);
  const [mapping, setMapping] = useState<Mapping>({
    time: null,
    timeUnit: 's',
    rateHz: null,
    voltage: null,
    voltageUnit: 'V',
    current: null,
    currentUnit: 'A',
  });
  const [rate, setRate] = useState('');
  const rateHz = rate.trim() === '' ? null : Number(rate.trim().replace(',', '.'));
  const isRate = rateHz === null || rateHz > 0;
  const set = (change: Partial<Mapping>): void => setMapping({ ...mapping, ...change });
  const column = (label: string, key: 'time' | 'voltage' | 'current') => (
    <SelectField
      label={label}
      value={mapping[key] ?? ''}
      onValue={(value) => set({ [key]: value === '' ? null : Number(value) })}
    >
      <option value="">none</option>
      {names.map((n, k) => (
        <option key={k} value={k}>
          {n}
        </option>
      ))}
    </SelectField>
  );
  const unit = <K extends 'timeUnit' | 'voltageUnit' | 'currentUnit'>(label: string, key: K, units: Mapping[K][]) => (
    <SelectField label={label} value={mapping[key]} onValue={(value) => set({ [key]: value } as Partial<Mapping>)}>
      {units.map((u) => (
        <option key={u}>{u}</option>
      ))}
    </SelectField>
  );
  return (
    <div className="mt-2 grid gap-3">
      <p className="text-sm">{doubt}.</p>
      <div className="overflow-x-auto">
        <table className="text-sm">
          <thead>
            <tr>
              {names.map((n, k) => (
                <th key={k} scope="col" className="pr-4 text-left font-semibold">
                  {n}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {sample.map((row, k) => (
              <tr key={k}>
                {names.map((_, j) => (
                  <td key={j} className="pr-4 whitespace-nowrap">
                    {row[j]?.slice(0, 30)}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="grid grid-cols-2 gap-3 sm:grid-cols-3">
        {column('Time', 'time')}
        {column('Voltage', 'voltage')}
        {column('Current', 'current')}
        {mapping.time === null ? (
          <TextField
            label="Readings per second"
            inputMode="decimal"
            value={rate}
            aria-invalid={!isRate}
            onValue={setRate}
          />
        ) : (
          unit('Time in', 'timeUnit', ['s', 'ms', 'us'])
        )}
        {unit('Voltage in', 'voltageUnit', ['V', 'mV'])}
        {unit('Current in', 'currentUnit', ['A', 'mA', 'uA'])}
      </div>
      {mapping.time === null && !isRate && (
        <p role="alert" className="text-sm text-decide">
          Readings per second: expected a number above 0, such as 20.
        </p>
      )}
      <GatedButton
        type="button"
        className="button button-main"
        blocked={
          mapping.current === null && mapping.voltage === null
            ? 'Choose the current or the voltage column'
            : mapping.time === null && !isRate
              ? 'Choose the time column, or enter the readings per second'
              : null
        }
        onClick={() => onMap({ ...mapping, rateHz: mapping.time === null ? rateHz : null })}
      >
        Read with these columns
      </GatedButton>
    </div>
  );
}
