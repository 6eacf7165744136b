import { parseMainVoltage, type Expect, type Kind } from '@umbral/core';
import type { InferType } from 'yup';
import { ExpectedError } from '../../record/errors.ts';
import { quantityOrNull, type knownInput } from '../../record/input.ts';

/** Quantities of a healthy unit, with what they are called on the screen. */
const quantities = {
  dcV: ['voltage', 'DC input'],
  batteryV: ['voltage', 'Battery'],
  contractV: ['voltage', 'Contract'],
  chargeA: ['current', 'Charge current'],
  quiescentA: ['current', 'Draw when off'],
  startPeakA: ['current', 'Peak during start'],
  idleA: ['current', 'Draw when running'],
} as const satisfies Partial<Record<keyof Expect, readonly [Kind, string]>>;

const yesOrNo = { startsWithoutBattery: true, startsOnPower: true } as const;

/**
 * What is expected of a unit from what was typed; an empty field is nothing known. What is kept besides stays.
 *
 * @throws {ExpectedError} for what is no quantity, by the name of its field
 */
export function expectOf(typed: InferType<typeof knownInput>, before: Expect): Expect {
  const main = parseMainVoltage(typed.mainV);
  if (!main.ok) throw new ExpectedError('input', `Main rail voltage: ${main.error}`);
  const ports = typed.ports === '' ? null : Number(typed.ports);
  if (ports !== null && !(Number.isInteger(ports) && ports >= 0 && ports <= 20))
    throw new ExpectedError('input', 'Ports: expected a whole number from 0 to 20');
  const known: [keyof Expect, number | boolean | null][] = [
    ['mainV', main.volts],
    ['ports', ports],
    ...Object.entries(quantities).map(([key, [kind, label]]): [keyof Expect, number | null] => [
      key as keyof Expect,
      quantityOrNull(typed[key as keyof typeof quantities], kind, label),
    ]),
    ...Object.keys(yesOrNo).map((key): [keyof Expect, boolean | null] => {
      const said = typed[key as keyof typeof yesOrNo];
      return [key as keyof Expect, said === null ? null : said === 'yes'];
    }),
  ];
  const kept = Object.fromEntries(Object.entries(before).filter(([key]) => !known.some(([k]) => k === key)));
  return { ...kept, ...Object.fromEntries(known.filter(([, value]) => value !== null)) };
}
