import { feedVolts } from '../catalogue/index.ts';
import type { Feed } from '../catalogue/index.ts';
import type { RunQuantity } from '../trace/index.ts';
import windows from './windows.json';
import type { Features, Phase } from './types.ts';

const { weight } = windows;

/** What a healthy unit would draw in this setup. Watts at the feed, volts. */
export interface Expectation {
  quiescentW: number;
  startPeakW: number;
  idleW: number;
  chargeW: number;
  contractV: number;
  /** Probability that this model asks for more than 5 V. */
  raises: number;
  startsOnPower: boolean;
  /** Natural-log allowance for the levels: small where the model's own figures are known. */
  allowance: number;
  /** Watts at the feed between which a healthy start peaks, and between which it settles. */
  startFromW: number;
  startToW: number;
  settledFromW: number;
  settledToW: number;
  /** Watts from which a charge is one as it should be. */
  chargeFromW: number;
}

/** The run's setup and question, as far as the pattern depends on them. */
export interface RunContext {
  feed: Feed;
  quantity: RunQuantity;
  battery: 'connected' | 'disconnected' | 'absent' | null;
  batteryV: number | null;
  /** Volts of a full and of an empty battery of this model. */
  fullV: number;
  emptyV: number;
  deviceState: 'off' | 'asleep' | 'running' | 'unknown' | null;
  /** What the run is to answer, from the complaint. */
  question: 'start' | 'charge' | 'drain' | null;
  expectation: Expectation;
}

/** The measures that several patterns share, worked out once. */
export interface Sight {
  f: Features;
  context: RunContext;
  /** Before any prompt; the whole run where there was none. */
  before: Phase;
  /** After the prompt; the whole run on a feed that needs none; null where nothing was asked. */
  after: Phase | null;
  /** Power that the instrument cannot resolve, W. */
  blurW: number;
  width: number;
  /** Power under which the device counts as resting, W. */
  restW: number;
  /** 0 to 1: no more than resting before the prompt. */
  quietBefore: number;
  /** 0 to 1: it starts as it should, or nearly. */
  alive: number;
}

/**
 * What the patterns are judged by: the features beside what is expected of the device in this setup.
 *
 * @param f watts, amperes and seconds
 * @param context the device, its setup and what a healthy unit draws
 */
export function patternInputsOf(f: Features, context: RunContext): Sight {
  const e = context.expectation;
  const volts =
    f.voltage.tail ??
    f.voltage.highest ??
    (f.whole.levelW && f.whole.levelA ? f.whole.levelW / f.whole.levelA : feedVolts.unknown);
  const blurA = Math.max(f.resolutionA, f.noiseA) * windows.blurShare;
  const blurW = blurA * Math.max(volts, 0.5);
  const restW = Math.max(
    windows.quietFactor * e.quiescentW,
    windows.quietLeastA * Math.max(volts, windows.quietFromV),
    windows.restOverBlur * blurW,
  );
  const before = f.before ?? f.whole;
  const selfStarting = context.feed !== 'battery' && (e.startsOnPower || context.feed === 'usb-c');
  const after = f.after ?? (selfStarting ? f.whole : null);
  const restBefore = context.feed === 'battery' ? restW : windows.unaskedPortW;
  const sight: Sight = {
    f,
    context,
    before,
    after,
    blurW,
    width: windows.stallWidth * (e.allowance > windows.genericFrom ? windows.genericWidening : 1),
    restW,
    quietBefore: 0,
    alive: 0,
  };
  const limited = before.limitShare;
  const isAboveRest = before.levelW !== null && before.levelW > restBefore;
  const fade = Math.sqrt(windows.quietWidth ** 2 + (blurW / restBefore) ** 2);
  const level = Math.max(before.levelW ?? 0, 1e-6);
  sight.quietBefore = (1 - limited) * (1 / (1 + Math.exp(Math.log(level / restBefore) / fade)));
  if (!isAboveRest && before.levelW !== null && before.levelW <= 0.5 * restBefore) {
    sight.quietBefore = Math.max(sight.quietBefore, weight.almost * (1 - limited));
  }
  // One digit of a coarse display is nothing.
  const oneDigitA = windows.oneDigit * f.resolutionA;
  if (
    context.feed === 'battery' &&
    before.levelA !== null &&
    before.levelA <= oneDigitA &&
    f.resolutionA <= windows.coarsestA
  )
    sight.quietBefore = Math.max(sight.quietBefore, weight.almost * (1 - limited));
  return sight;
}
