import { formatCurrent, formatPercent, formatPower, formatSeconds, formatVoltage } from '../quantity/index.ts';
import { patternNames, feedVolts } from '../catalogue/index.ts';
import { topPattern, type Features, type Phase } from '../shape/index.ts';
import rules from './comparing.json';
import { isHealthy, type SeenRun } from '../observation/index.ts';
import { repeatability } from '../prediction/index.ts';

/** What two runs are held against each other by, in the order of a start. */
type Compared = 'before' | 'rise' | 'peak' | 'hold' | 'contract' | 'period';

interface RunDifference {
  what: Compared;
  from: number | null;
  to: number | null;
  /** How many times what the bench repeats the change is; 0 to 1 is no change that counts. Infinity where one has none. */
  times: number;
  changed: boolean;
  says: string;
}

export interface RunComparison {
  /** What changed, in a sentence or two, the greatest first. */
  says: string;
  differences: RunDifference[];
  /** Whether draws are compared in watts, because the voltages differ; in amperes otherwise. */
  inWatts: boolean;
  /** Whether anything changed by more than the bench repeats. */
  changed: boolean;
  /** Whether the later run is what a healthy device shows now. */
  normal: { is: boolean; says: string };
  /** What of the setup is not the same, in words: a difference there may be the cause of the others. */
  setup: string[];
}

interface Aspect {
  what: Compared;
  name: string;
  /** In a sentence: "the peak goes from … to …". */
  subject: string;
  value: (f: Features, inWatts: boolean) => number | null;
  /** Differences that the instrument cannot show, in the unit of the value. */
  blur: (f: Features, inWatts: boolean) => number;
  /** Share of the value within which the bench repeats. */
  share: number;
  format: (value: number | null, f: Features, inWatts: boolean) => string;
}

const mainPhase = (f: Features): Phase => f.after ?? f.whole;
const voltsOf = (f: Features): number => f.voltage.tail ?? f.voltage.highest ?? feedVolts.unknown;
const currentBlur = (f: Features, inWatts: boolean): number =>
  Math.max(rules.resolutions * f.resolutionA, 2 * f.noiseA, rules.minChangeA) * (inWatts ? voltsOf(f) : 1);
const sayDraw = (value: number | null, f: Features, inWatts: boolean): string =>
  inWatts ? formatPower(value) : formatCurrent(value, f.resolutionA);
const saySeconds = (value: number | null): string => (value === null ? '–' : formatSeconds(value));

const draw = (what: Compared, name: string, subject: string, amps: (f: Features) => number | null): Aspect => ({
  what,
  name,
  subject,
  value: (f, inWatts) => {
    const a = amps(f);
    return a === null ? null : inWatts ? a * voltsOf(f) : a;
  },
  blur: currentBlur,
  share: repeatability,
  format: sayDraw,
});

const aspects: Aspect[] = [
  draw('before', 'Before power-on', 'the draw before power-on', (f) => f.before?.levelA ?? null),
  {
    what: 'rise',
    name: 'First rise',
    subject: 'the first rise after power-on',
    value: (f) => mainPhase(f).riseAfterS,
    blur: (f) => Math.max(rules.minChangeS, rules.intervals * f.intervalS),
    share: repeatability,
    format: saySeconds,
  },
  draw('peak', 'Highest level', 'the highest level', (f) => mainPhase(f).peakA),
  draw('hold', 'Level at the end', 'the level at the end', (f) => mainPhase(f).tailA),
  {
    what: 'contract',
    name: 'Voltage at the end',
    subject: 'the voltage at the end',
    value: (f) => f.voltage.tail,
    blur: () => rules.minChangeV,
    share: rules.voltageRepeatability,
    format: (value) => formatVoltage(value),
  },
  {
    what: 'period',
    name: 'Repeats every',
    subject: 'the period',
    value: (f) => mainPhase(f).pulses?.periodS ?? null,
    blur: (f) => Math.max(rules.minChangeS, rules.intervals * f.intervalS),
    share: repeatability,
    format: saySeconds,
  },
];

/** The name of an aspect for a table. */
export const comparedNames = Object.fromEntries(aspects.map((a) => [a.what, a.name])) as Record<Compared, string>;

/**
 * Holds a run against an earlier or a reference one: what changed by more than the bench repeats and the instruments
 * can show, and whether it is normal now. Draws are compared in watts where the voltages differ.
 *
 * @param from the run before, the other port, or the healthy unit
 * @param to the run that is judged
 */
export function compareRuns(from: SeenRun, to: SeenRun): RunComparison {
  const [a, b] = [from.shape.features, to.shape.features];
  const inWatts = from.run.feed !== to.run.feed || differs(voltsOf(a), voltsOf(b), rules.minChangeV, repeatability) > 1;
  // What a press divides cannot be compared with a run that was not pressed.
  const usable = a.prompted === b.prompted ? aspects : aspects.filter((x) => x.what !== 'before' && x.what !== 'rise');
  const differences = usable.flatMap((aspect) => differenceIn(aspect, a, b, inWatts) ?? []);
  const changed = differences.filter((d) => d.changed).sort((x, y) => y.times - x.times);
  const patternBefore = topPattern(from.patterns);
  const patternNow = topPattern(to.patterns);
  const isChanged = changed.length > 0 || patternBefore !== patternNow;
  return {
    says: isChanged ? sayChanges(changed, from, to) : sameSentence(from, to),
    differences,
    inWatts,
    changed: isChanged,
    normal: sayNormal(to),
    setup: setupDifferences(from, to),
  };
}

/** How many times the allowance two values are apart. */
function differs(x: number, y: number, blur: number, share: number): number {
  return Math.abs(x - y) / Math.max(blur, share * Math.max(Math.abs(x), Math.abs(y)));
}

function differenceIn(aspect: Aspect, a: Features, b: Features, inWatts: boolean): RunDifference | null {
  const [from, to] = [aspect.value(a, inWatts), aspect.value(b, inWatts)];
  if (from === null && to === null) return null;
  const blur = Math.max(aspect.blur(a, inWatts), aspect.blur(b, inWatts));
  const times = from === null || to === null ? Infinity : differs(from, to, blur, aspect.share);
  const changed = times > 1;
  const [x, y] = [aspect.format(from, a, inWatts), aspect.format(to, b, inWatts)];
  const says =
    from === null
      ? `${aspect.subject} is new at ${y}`
      : to === null
        ? `${aspect.subject}(${x} before) is gone`
        : changed
          ? `${aspect.subject} changed ${fromTo(x, y)}${ratioWords(from, to)}`
          : `${aspect.subject} stays at ${y}`;
  return { what: aspect.what, from, to, times, changed, says };
}

function ratioWords(from: number, to: number): string {
  const ratio = Math.max(from, to) / Math.max(Math.min(from, to), 1e-9);
  if (ratio < rules.timesFrom || ratio > 1000) return '';
  const word = to > from ? 'as much' : 'less';
  return to > from
    ? ` (${Number(ratio.toPrecision(2))} times ${word})`
    : ` (to ${formatPercent(Math.min(from, to) / Math.max(from, to))})`;
}

const numberWords = ['one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine', 'ten', 'eleven', 'twelve'];

/** As people say it: "five times", "1.4 times", "19 times". */
function timesWords(times: number): string {
  const whole = Math.round(times);
  if (times < rules.roundTimesFrom) return `${times.toFixed(1)} times`;
  return `${numberWords[whole - 1] ?? whole} times`;
}

/** "from 29 to 130 mA": the unit is said once where it is the same. */
function fromTo(x: string, y: string): string {
  const [, number, unit] = /^(\S+) (\S+)$/.exec(x) ?? [];
  return unit !== undefined && y.endsWith(` ${unit}`) ? `from ${number} to ${y}` : `from ${x} to ${y}`;
}

const maxSaid = 3;
function sayChanges(changed: RunDifference[], from: SeenRun, to: SeenRun): string {
  const [was, is] = [topPattern(from.patterns), topPattern(to.patterns)];
  const pattern =
    was === is ? `Both read as “${patternNames[is]}”` : `“${patternNames[was]}” became “${patternNames[is]}”`;
  // A level that holds from its highest is one level.
  const once = changed.filter((d) => !(d.what === 'peak' && changed.some((x) => x.what === 'hold' && isSame(x, d))));
  // How far beyond what repeats is said of the greatest; the table has it for each.
  const said = once
    .slice(0, maxSaid)
    .map((d, k) =>
      k === 0 && Number.isFinite(d.times) ? `${d.says}, ${timesWords(d.times)} the bench’s repeatability` : d.says,
    );
  return said.length === 0
    ? `${pattern}; no level changed by more than the repeatability.`
    : `${pattern}: ${said.join('; ')}.`;
}

/** Two levels that start and end alike, within what the bench repeats, are one. */
const isSame = (a: RunDifference, b: RunDifference): boolean => near(a.from, b.from) && near(a.to, b.to);
const near = (x: number | null, y: number | null): boolean =>
  x === y || (x !== null && y !== null && Math.abs(x - y) <= repeatability * Math.max(Math.abs(x), Math.abs(y)));

function sameSentence(from: SeenRun, to: SeenRun): string {
  return `Runs ${from.run.id} and ${to.run.id} read the same: no difference exceeds the repeatability (${formatPercent(repeatability)}) and the resolution.`;
}

function sayNormal(to: SeenRun): RunComparison['normal'] {
  const top = topPattern(to.patterns);
  const p = to.patterns.find((x) => x.id === top)?.p ?? 0;
  const is = isHealthy(to);
  const how = `“${patternNames[top]}”, ${formatPercent(p)}`;
  // "Now" and "yet" belong to a device that was changed.
  if (to.run.after === null) return { is, says: is ? `It is normal: ${how}.` : `It is not normal: ${how}.` };
  return { is, says: is ? `It is normal now: ${how}.` : `It is not normal yet: ${how}.` };
}

const setupNames = {
  port: 'port',
  flipped: 'plug',
  battery: 'battery',
  display: 'display',
  assembly: 'assembly',
  half: 'half',
  deviceState: 'state before',
  charger: 'charger',
} as const;

function setupDifferences({ run: a, shape: x }: SeenRun, { run: b, shape: y }: SeenRun): string[] {
  const say = (x: unknown): string =>
    x === null || x === undefined || x === ''
      ? 'not stated'
      : x === true
        ? 'flipped'
        : x === false
          ? 'not flipped'
          : String(x);
  const out: string[] = [];
  if (a.feed !== b.feed) out.push(`feed: ${a.feed}, then ${b.feed}`);
  for (const [key, name] of Object.entries(setupNames) as [keyof typeof setupNames, string][])
    if ((a.setup[key] ?? null) !== (b.setup[key] ?? null) && (a.setup[key] || b.setup[key]))
      out.push(`${name}: ${say(a.setup[key])}, then ${say(b.setup[key])}`);
  const [offA, offB] = [a.setup.unplugged.join(', '), b.setup.unplugged.join(', ')];
  if (offA !== offB) out.push(`unplugged: ${offA || 'nothing'}, then ${offB || 'nothing'}`);
  const [vA, vB] = [a.setup.setV, b.setup.setV];
  if (vA !== null && vB !== null && vA !== vB) out.push(`set voltage: ${formatVoltage(vA)}, then ${formatVoltage(vB)}`);
  const [iA, iB] = [a.setup.limitA, b.setup.limitA];
  if (iA !== null && iB !== null && iA !== iB) out.push(`limit: ${formatCurrent(iA)}, then ${formatCurrent(iB)}`);
  if (x.features.prompted !== y.features.prompted) out.push('power was pressed in only one of them');
  if (a.quantity !== b.quantity) out.push('one shows voltage only');
  return out;
}
