import limits from './calibration.json';

const gainDigits = 3;
/** What two figures after the point show as 0.0 %. */
const shownPercent = 0.05;

export type CalibratedQuantity = 'voltage' | 'current';

/** An instrument and a trusted meter looked at together. Volts or amperes. */
export interface CalibrationPoint {
  trusted: number;
  /** Mean of what the instrument showed, and the standard deviation of its readings. */
  shown: number;
  spread: number;
}

export interface Calibration {
  /** `shown = true * gain + offset`. */
  gain: number;
  offset: number;
  /** Largest distance of a point from the line, in true units; 0 for two points. */
  misfit: number;
}

const units: Record<CalibratedQuantity, string> = { voltage: 'V', current: 'A' };

/**
 * The straight line through what an instrument shows against a trusted meter: least squares (JCGM 100:2008, H.3), which
 * for two points is the line through both.
 *
 * @param points at least two
 * @throws {RangeError} in words: too few, too near to each other, too restless, or a line that is no small correction
 */
export function fitCalibration(points: readonly CalibrationPoint[], quantity: CalibratedQuantity): Calibration {
  const unit = units[quantity];
  if (points.length < 2) throw new RangeError('Two points are needed: one low, one high.');
  if (points.some((p) => !Number.isFinite(p.trusted + p.shown + p.spread)))
    throw new RangeError('Every point needs a value from the reference meter and one from the instrument.');
  const values = points.map((p) => p.trusted);
  const span = Math.max(...values) - Math.min(...values);
  const least = limits.minSpan[quantity];
  if (span < least)
    throw new RangeError(
      `The points are ${plain(span)} ${unit} apart; at least ${least} ${unit} are needed for a useful slope.`,
    );
  const restless = Math.max(...points.map((p) => p.spread));
  if (restless * limits.spreadsApart > span)
    throw new RangeError(
      `The readings swing by ${plain(restless)} ${unit}. Wait until they are steady and take the point again.`,
    );
  const mean = (of: (p: CalibrationPoint) => number): number => points.reduce((s, p) => s + of(p), 0) / points.length;
  const [t, s] = [mean((p) => p.trusted), mean((p) => p.shown)];
  const gain = mean((p) => (p.trusted - t) * (p.shown - s)) / mean((p) => (p.trusted - t) ** 2);
  const offset = s - gain * t;
  const [low, high] = limits.gain;
  if (!(gain >= low && gain <= high))
    throw new RangeError(
      `With these points the instrument shows ${plain(gain)} times the true value. Check the units, the ranges and the leads.`,
    );
  const misfit = Math.max(...points.map((p) => Math.abs((p.shown - offset) / gain - p.trusted)));
  const most = limits.maxMisfit[quantity];
  if (misfit > most)
    throw new RangeError(
      `The points are up to ${plain(misfit)} ${unit} off a straight line; at most ${most} ${unit} are normal. Take the worst one again.`,
    );
  return { gain, offset, misfit };
}

const plain = (x: number): string => String(Number(x.toPrecision(gainDigits)));

/** A calibration in words, such as "shows 1.5 % and 4 mA too much". */
export function sayCalibration(
  { gain, offset }: Pick<Calibration, 'gain' | 'offset'>,
  quantity: CalibratedQuantity,
): string {
  const unit = quantity === 'voltage' ? 'mV' : 'mA';
  const percent = 100 * (gain - 1);
  const milli = 1000 * offset;
  const slope = Math.abs(percent) < shownPercent ? '' : `${Math.abs(percent).toFixed(1)} %`;
  const zero = Math.abs(milli) < 0.5 ? '' : `${Math.abs(milli).toFixed(0)} ${unit}`;
  if (!slope && !zero) return 'reads correctly';
  const word = (x: number): string => (x > 0 ? 'too much' : 'too little');
  if (!zero) return `shows ${slope} ${word(percent)}`;
  if (!slope) return `shows ${zero} ${word(milli)}`;
  return percent > 0 === milli > 0
    ? `shows ${slope} and ${zero} ${word(percent)}`
    : `shows ${slope} ${word(percent)} and ${zero} ${word(milli)}`;
}
