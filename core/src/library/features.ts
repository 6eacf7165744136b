import type { Features, Phase } from '../shape/index.ts';
import settings from './settings.json';

/** One number of a run that two runs are held against each other by. */
export interface FeatureDefinition {
  id: string;
  /** How far two units with the same fault are apart in it, as a standard deviation; a name of `settings.scales`. */
  scale: keyof typeof settings.scales;
  /** In a sentence: "the level at the end". */
  says: string;
  /** Null where the run has none. */
  of: (features: Features) => number | null;
  /** True where it is a power, which a coarse display blurs. */
  isLevel: boolean;
}

/** Watts on a scale that is linear up to what a display can show and logarithmic above: 30 % more is 0.26 more anywhere. */
export function powerScale(watts: number, floorW: number): number {
  return Math.asinh(Math.max(0, watts) / floorW);
}

const level = (watts: number | null): number | null => (watts === null ? null : powerScale(watts, settings.floorW));
const seconds = (s: number | null): number | null =>
  s === null ? null : Math.log(Math.max(s, 0) + settings.floors.seconds);
const volts = (v: number | null): number | null => (v === null ? null : Math.log(Math.max(v, 0) + 1));

/** What comes after the press or, where nothing was pressed, the whole run. */
const main = (f: Features): Phase => f.after ?? f.whole;

const asLevel = (id: string, says: string, of: (f: Features) => number | null): FeatureDefinition => ({
  id,
  scale: 'level',
  says,
  of: (f) => level(of(f)),
  isLevel: true,
});

/** Every feature, in the order in which a signature holds them. */
export const featureTypes: readonly FeatureDefinition[] = [
  asLevel('before', 'the draw before power-on', (f) => f.before?.levelW ?? null),
  asLevel('level', 'the typical draw', (f) => main(f).levelW),
  asLevel('peak', 'the highest draw', (f) => main(f).peakW),
  asLevel('tail', 'the level at the end', (f) => main(f).tailW ?? main(f).levelW),
  { id: 'volts', scale: 'volts', says: 'the voltage at the end', of: (f) => volts(f.voltage.tail), isLevel: false },
  { id: 'highest', scale: 'volts', says: 'the highest voltage', of: (f) => volts(f.voltage.highest), isLevel: false },
  {
    id: 'last-step',
    scale: 'seconds',
    says: 'the time of the last rise',
    of: (f) => seconds(main(f).lastStepAfterS),
    isLevel: false,
  },
  {
    id: 'period',
    scale: 'seconds',
    says: 'the period',
    of: (f) => seconds((main(f).pulses ?? f.whole.pulses)?.periodS ?? null),
    isLevel: false,
  },
  { id: 'limit', scale: 'share', says: 'the time at the limit', of: (f) => main(f).limitShare, isLevel: false },
  { id: 'bursts', scale: 'share', says: 'how much it varies', of: (f) => main(f).burstShare, isLevel: false },
];

/** Every feature of a run, in the order of `featureTypes`; NaN where it has none. */
export function featuresOf(features: Features): number[] {
  return featureTypes.map((type) => type.of(features) ?? Number.NaN);
}

/** How far the display lets each feature be known: the width of half a step at that level; 0 for what no step blurs. */
export function blursOf(features: Features): number[] {
  const volts = features.voltage.tail ?? features.voltage.highest ?? 1;
  const stepW = settings.blurSteps * features.resolutionA * volts;
  return featureTypes.map((type) => {
    const value = type.isLevel ? type.of(features) : null;
    if (value === null) return 0;
    // The slope of the scale at this level.
    return stepW / (settings.floorW * Math.cosh(value));
  });
}
