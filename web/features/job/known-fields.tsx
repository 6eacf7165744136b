'use client';

import type { Expect } from '@umbral/core';
import { SelectField, TextField } from '@/ui/kit/fields';

/** What is known of a healthy unit, as typed. */
export interface KnownValues {
  mainV: string;
  dcV: string;
  batteryV: string;
  contractV: string;
  chargeA: string;
  quiescentA: string;
  startPeakA: string;
  idleA: string;
  ports: string;
  startsWithoutBattery: string;
  startsOnPower: string;
}

export const blankKnown: KnownValues = {
  mainV: '',
  dcV: '',
  batteryV: '',
  contractV: '',
  chargeA: '',
  quiescentA: '',
  startPeakA: '',
  idleA: '',
  ports: '',
  startsWithoutBattery: '',
  startsOnPower: '',
};

type Quantity = Exclude<keyof KnownValues, 'startsWithoutBattery' | 'startsOnPower'>;

const quantities: [Quantity, string, string][] = [
  ['mainV', 'Main rail voltage', '8.6 V or 2 cells'],
  ['batteryV', 'Battery', '3.85 V'],
  ['dcV', 'DC input', '19 V'],
  ['contractV', 'Contract', '20 V'],
  ['chargeA', 'Charge current', '1.5 A'],
  ['ports', 'Ports', '2'],
  ['quiescentA', 'Draw when off', '2 mA'],
  ['startPeakA', 'Peak during start', '1.2 A'],
  ['idleA', 'Draw when running', '250 mA'],
];

const say = (value: number | undefined, unit: string): string => (value === undefined ? '' : `${value} ${unit}`);
const sayWhether = (value: boolean | undefined): string => (value === undefined ? '' : value ? 'yes' : 'no');

/** What a record holds of a healthy unit, as it is typed. */
export function knownOf(expect: Expect): KnownValues {
  return {
    mainV: say(expect.mainV, 'V'),
    dcV: say(expect.dcV, 'V'),
    batteryV: say(expect.batteryV, 'V'),
    contractV: say(expect.contractV, 'V'),
    chargeA: say(expect.chargeA, 'A'),
    quiescentA: say(expect.quiescentA, 'A'),
    startPeakA: say(expect.startPeakA, 'A'),
    idleA: say(expect.idleA, 'A'),
    ports: expect.ports === undefined ? '' : String(expect.ports),
    startsWithoutBattery: sayWhether(expect.startsWithoutBattery),
    startsOnPower: sayWhether(expect.startsOnPower),
  };
}

/** What is known of a healthy unit of the model, where no profile says it: every figure sharpens the call. */
export function KnownFields({ known, onChange }: { known: KnownValues; onChange: (known: KnownValues) => void }) {
  const isAny = Object.values(known).some((x) => x !== '');
  const whether = (label: string, key: 'startsWithoutBattery' | 'startsOnPower') => (
    <SelectField label={label} value={known[key]} onValue={(value) => onChange({ ...known, [key]: value })}>
      <option value="">not known</option>
      <option>yes</option>
      <option>no</option>
    </SelectField>
  );
  return (
    <details open={isAny} className="rounded-lg border border-line px-3 py-1.5">
      <summary className="min-h-9 py-1 text-sm font-semibold">Known values of a healthy device</summary>
      <div className="grid grid-cols-2 gap-3 pb-2 sm:grid-cols-3">
        {quantities.map(([key, label, example]) => (
          <TextField
            key={key}
            label={label}
            maxLength={40}
            placeholder={example}
            value={known[key]}
            onValue={(value) => onChange({ ...known, [key]: value })}
          />
        ))}
        {whether('Starts without the battery', 'startsWithoutBattery')}
        {whether('Starts when power is connected', 'startsOnPower')}
      </div>
    </details>
  );
}
