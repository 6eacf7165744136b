import type { Reading } from '../case/index.ts';
import { formatResistance, formatVoltage } from '../quantity/index.ts';
import policy from './measuring.json';

type ComparisonWord =
  'short' | 'much lower' | 'below' | 'alike' | 'above' | 'much higher' | 'open' | 'open on both' | 'not comparable';

/** A reading against the same point of a good board. */
export interface ReadingComparison {
  word: ComparisonWord;
  /** Measured over good; null where one of them is open or they do not compare. */
  ratio: number | null;
  /** True where two good boards do not differ like this. */
  isTelling: boolean;
  says: string;
}

/** What makes two readings of a point comparable. */
export type Comparable = Pick<Reading, 'mode' | 'value' | 'ol' | 'redProbe'>;

/**
 * Holds a reading against a good board's. Diode readings and resistances depend on which probe stands on ground: those of
 * two conventions are never compared. Two good units differ by tens of percent, so only a ratio below about a third, or
 * above three, is telling; voltages are regulated and held closer.
 *
 * @param seen volts or ohm, by its mode
 * @param good the same point of a good board
 * @example
 * const seen = { mode: 'diode', value: 0.12, ol: false, redProbe: 'ground' };
 * compareReading(seen, { ...seen, value: 0.41 }).word // 'much lower'
 */
export function compareReading(seen: Comparable, good: Comparable): ReadingComparison {
  const not = (why: string): ReadingComparison => ({
    word: 'not comparable',
    ratio: null,
    isTelling: false,
    says: why,
  });
  if (seen.mode !== good.mode) return not(`a ${good.mode} reading says nothing about a ${seen.mode} reading`);
  if (seen.mode !== 'voltage' && seen.redProbe !== good.redProbe)
    return not(
      `measured with ${sayProbe(seen.redProbe)}, the known-good board with ${sayProbe(good.redProbe)}. Swap the probes`,
    );
  if (seen.ol || good.ol) return againstOpen(seen, good);
  if (seen.value === null || good.value === null || !(good.value > 0))
    return not('there is no known-good value to compare with');
  const ratio = seen.value / good.value;
  const show = seen.mode === 'resistance' ? formatResistance : formatVoltage;
  const word = seen.mode === 'voltage' ? voltageWord(ratio) : wordOf(ratio);
  const isTelling =
    word === 'short' ||
    word === 'much lower' ||
    word === 'much higher' ||
    (seen.mode === 'voltage' && word !== 'alike');
  const says = `${show(seen.value)} against ${show(good.value)}: ${sayRatio(ratio)}, ${word}`;
  return { word, ratio, isTelling, says };
}

function againstOpen(seen: Comparable, good: Comparable): ReadingComparison {
  if (seen.ol && good.ol) return { word: 'open on both', ratio: null, isTelling: false, says: 'open on both boards' };
  if (seen.ol)
    return {
      word: 'open',
      ratio: null,
      isTelling: true,
      says: 'open here, not on the known-good board: a broken line',
    };
  return {
    word: 'much lower',
    ratio: null,
    isTelling: true,
    says: 'conducts here, open on the known-good board: a leak',
  };
}

function wordOf(ratio: number): ComparisonWord {
  if (ratio < policy.shortRatio) return 'short';
  if (ratio < policy.tellingRatio) return 'much lower';
  if (ratio < policy.differsRatio) return 'below';
  if (ratio > 1 / policy.tellingRatio) return 'much higher';
  return ratio > 1 / policy.differsRatio ? 'above' : 'alike';
}

function voltageWord(ratio: number): ComparisonWord {
  if (ratio < policy.missingTo) return 'much lower';
  if (ratio < policy.standsFrom) return 'below';
  if (ratio > policy.maxOverNominal) return 'much higher';
  return ratio > 2 - policy.standsFrom ? 'above' : 'alike';
}

function sayRatio(ratio: number): string {
  return ratio < policy.percentUnder ? `${Math.round(100 * ratio)} %` : `${Number(ratio.toPrecision(2))} times`;
}

function sayProbe(probe: Reading['redProbe']): string {
  return probe === 'ground' ? 'red on ground' : probe === 'point' ? 'red on the point' : 'the probe was not noted';
}
