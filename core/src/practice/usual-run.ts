import type { DeviceClass, PatternId } from '../catalogue/index.ts';
import { bareCase, type Case, type Run } from '../case/index.ts';
import { describe } from '../diagnosis/index.ts';
import { contextFor } from '../prediction/index.ts';
import { recognisePatterns, topPattern, type Shape } from '../shape/index.ts';
import type { Random, Trace } from '../trace/index.ts';
import type { Fault, Profile, TwinSetup } from '../twin/index.ts';
import { instrumentsOf, powerOn } from './power-on.ts';

/** The feed of a usual run, and whether the device's own battery is in. */
export interface UsualFeed {
  feed: TwinSetup['feed'];
  battery: boolean;
}

/** A run with what is seen in it. */
export interface SeenUsual {
  run: Run;
  trace: Trace;
  shape: Shape;
  pattern: PatternId;
}

/**
 * Records a device as somebody does who has set nothing: the usual volts and limit, the instrument that logs, the button
 * pressed.
 *
 * @param random seeded: the same seed gives the same samples
 * @throws {RangeError} for a feed that the device does not have
 */
export function usualRun(device: Profile, faults: readonly Fault[], on: UsualFeed, random: Random): SeenUsual {
  const instruments = instrumentsOf[on.feed];
  const instrument = instruments.find((name) => name === 'bench-logger') ?? instruments[0];
  const set = { setV: null, limitA: null, port: 1, flipped: false, presses: true, unplugged: [] };
  const { run, trace } = powerOn(device, faults, [], { ...on, ...set, instrument }, 'r1', random);
  const of = { class: device.class as DeviceClass, model: device.name, profile: device.id };
  const value: Case = { ...bareCase(of, [], 'practice'), runs: [run] };
  const shape = describe(value, run, trace, null);
  return { run, trace, shape, pattern: topPattern(recognisePatterns(shape, contextFor(value, run))) };
}
