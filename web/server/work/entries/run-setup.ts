import { unknownInstrument, unknownSetup, type Contract, type Instrument, type Setup } from '@umbral/core';
import { ExpectedError } from '../../record/errors.ts';
import { quantityOrNull, type RunSetupInput } from '../../record/input.ts';

/** The form's words as a setup and an instrument. */
export function setupOf(input: RunSetupInput): { setup: Setup; instrument: Instrument } {
  const setup: Setup = {
    ...unknownSetup,
    setV: quantityOrNull(input.setV, 'voltage', 'Set voltage'),
    limitA: quantityOrNull(input.limitA, 'current', 'Limit'),
    port: input.port,
    flipped: input.flipped,
    battery: input.battery as Setup['battery'],
    display: input.display as Setup['display'],
    ...(input.board ? { board: input.board as Setup['board'] } : {}),
    assembly: input.assembly as Setup['assembly'],
    half: input.half || null,
    unplugged: input.unplugged,
    deviceState: input.deviceState as Setup['deviceState'],
    batteryV: quantityOrNull(input.batteryV, 'voltage', 'Battery voltage'),
    charger: input.charger as Setup['charger'],
  };
  const instrument: Instrument = {
    ...unknownInstrument,
    kind: input.instrument as Instrument['kind'],
    resolutionA: quantityOrNull(input.resolutionA, 'current', 'Resolution'),
  };
  return { setup, instrument };
}

/**
 * What the form says of the contract that a meter decoded; null where nobody read one.
 *
 * @throws {ExpectedError} for a contract on another feed than USB-C
 */
export function contractOf(input: RunSetupInput): Contract | null {
  const kind = input.contract as Contract['kind'] | null;
  if (kind === null) return null;
  if (input.feed !== 'usb-c') throw new ExpectedError('input', 'Contract: only USB-C has contracts.');
  if (kind !== 'pd') return { kind, volts: kind === 'default-5v' ? 5 : null, amps: null };
  const volts = quantityOrNull(input.contractV, 'voltage', 'Contract voltage');
  return { kind, volts, amps: quantityOrNull(input.contractA, 'current', 'Contract current') };
}
