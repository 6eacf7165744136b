import { checkTypes, circuitNames, complaintTypes, isCheck, patternNames, type CircuitId } from '../catalogue/index.ts';
import { sayAction, sayMeasured } from '../case/index.ts';
import {
  clipText,
  countOf,
  formatCurrent,
  formatPercent,
  formatResistance,
  formatSeconds,
  formatVoltage,
} from '../quantity/index.ts';
import type {
  Difference,
  Level,
  MovedWord,
  Reason,
  ReasonId,
  ReasonValues,
  WeighedEvidence,
  WhyLeftOut,
  WhyLeftOutValues,
} from './reason.ts';

const moved: Record<MovedWord, string> = {
  recovers: 'it recovers',
  improves: 'the first fault is gone, but it does not work yet',
  falls: 'the reading falls but is not normal',
  rises: 'the reading rises but is not normal',
  same: 'nothing changes',
};

const senses: Record<string, string> = {
  'ground:short': 'short to ground',
  'ground:low': 'low',
  'ground:normal': 'no short',
  'ground:high': 'open',
  'voltage:present': 'is up',
  'voltage:low': 'too low',
  'voltage:swings': 'swings, so the rail is not up',
  'voltage:missing': 'missing',
  'voltage:high': 'too high',
  'across:conducts': 'conducts normally',
  'across:open': 'open',
};

/** What a customer said, by the id of the remark. */
export const remarkWords: Readonly<Record<string, string>> = {
  update: 'it failed at an update',
  slow: 'it had become slow or lost data',
  heat: 'it got hot',
  'warm-port': 'it got warm at the port',
  load: 'it goes off under load',
  moved: 'it changes when it is moved or squeezed',
  'plug-moves': 'it changes when the plug moves',
  'one-side': 'one port works and another does not',
  'bad-charger': 'a doubtful charger or a surge was involved',
  stored: 'it lay unused for long',
  cells: 'the battery behaves like an old one',
  sounds: 'it sounds or vibrates without a picture',
  radio: 'the radio had trouble',
  part: 'something that can be unplugged had trouble',
  module: 'a memory module was changed',
  check: 'nothing is wrong with it',
  fall: 'it fell',
  liquid: 'liquid got in',
};

const differences: Record<string, string> = {
  'pack good': 'another battery in it',
  'pack none': 'the battery disconnected',
  'display good': 'another display',
  'display none': 'the display unplugged',
  'board good': 'another board in it',
  'outside good': 'a known-good charger',
  'port none': 'another port',
  'side none': 'the plug flipped',
  'button none': 'the button unplugged',
};

const contracts = { none: 'no contract', 'default-5v': 'no contract, 5 V only', pd: 'a contract' } as const;
const halves = {
  starts: 'the main half starts on its own',
  fails: 'the main half does not start on its own',
  draws: 'the other half draws current on its own',
  rests: 'the other half draws nothing on its own',
};
const draws = { falls: 'the draw falls', rises: 'the draw rises', same: 'nothing changes' } as const;

function sayDifferences(without: readonly Difference[]): string {
  const said = without.flatMap(({ slot, is }) =>
    slot.startsWith('part:')
      ? [`${clipText(slot.slice('part:'.length))} ${is === 'good' ? 'swapped' : 'unplugged'}`]
      : (differences[`${slot.split(':')[0]} ${is}`] ?? []),
  );
  return said.length > 0 ? said.join(' and ') : 'another setup';
}

function sayLevel({ run, amps, volts, resolutionA }: Level): string {
  if (amps === null) return `run ${run} ${volts === null ? 'nothing measured' : formatVoltage(volts)}`;
  const current = formatCurrent(amps, resolutionA);
  return `run ${run} ${volts === null ? current : `${current} at ${formatVoltage(volts)}`}`;
}

const sayLevels = ({ before, now }: { before: Level; now: Level }): string => `${sayLevel(before)}, ${sayLevel(now)}`;

const inBrackets = (circuits: readonly CircuitId[]): string =>
  circuits.length > 0 ? ` (${circuits.map((c) => circuitNames[c]).join(', ')})` : '';

function sayInjection({ rail, setV, amps, hot, heat, goodA, ohm, hotCircuit }: ReasonValues['injection']): string {
  const flowed = amps === null ? '' : `, ${formatCurrent(amps)} flow`;
  const warmed =
    heat === null ? '' : heat === 'none' ? ', nothing gets warm' : `, ${hot ?? heat.replaceAll('-', ' ')} gets warm`;
  const at = hotCircuit === null ? '' : inBrackets([hotCircuit]);
  const against = goodA === null ? '' : `; a known-good board takes ${formatCurrent(goodA)}`;
  const means = ohm === null ? '' : `: about ${ohm.toPrecision(2)} ohm`;
  return `${formatVoltage(setV)} on ${rail}${flowed}${warmed}${at}${against}${means}`;
}

function sayReading(reading: ReasonValues['reading']): string {
  const { where, circuit, reference, isAcross, sense } = reading;
  const show = (x: number): string => (reading.unit === 'ohm' ? formatResistance(x) : formatVoltage(x));
  const place = where || (circuit ? circuitNames[circuit] : 'a point');
  const against = reference === null ? '' : ` (known good: ${show(reference)})`;
  const means = sense === null ? '' : `, ${senses[sense]}`;
  return `${place}: ${sayMeasured(reading)}${isAcross ? ' across it' : ''}${against}${means}`;
}

function sayRun({ run, pattern, p, beforeA, resolutionA, periodS }: ReasonValues['run']): string {
  const level = beforeA === null ? '' : `, ${formatCurrent(beforeA, resolutionA)} before power-on`;
  const period = periodS === null ? '' : `, every ${formatSeconds(periodS)}`;
  return `Run ${run}: “${patternNames[pattern]}” (${formatPercent(p)}${level}${period})`;
}

const messages: { [I in ReasonId]: (values: ReasonValues[I]) => string } = {
  liquid: () => 'Liquid got in, as noted at intake',
  dropped: () => 'It was dropped, as noted at intake',
  'repaired-before': () => 'It was repaired before, as noted at intake',
  swollen: () => 'Its battery is swollen, as noted at intake',
  complaint: ({ kind }) => `The complaint is “${complaintTypes[kind].name}” (not verified yet)`,
  remark: ({ remark }) => `The customer said: ${remarkWords[remark] ?? clipText(remark)}`,
  run: sayRun,
  compared: ({ without, moved: word, before, now }) =>
    `Run ${now.run} against ${before.run}: with ${sayDifferences(without)}, ${moved[word]} (${sayLevels({ before, now })})`,
  changed: ({ action, moved: word, before, now, isWeak }) =>
    `${sayAction(action)}: ${moved[word]} (${sayLevels({ before, now })})${isWeak ? '; a weaker test, because the part or joint may itself be bad' : ''}`,
  'failed-before': ({ action }) => `${sayAction(action)} before it came here: it still failed`,
  check: ({ id, outcome, where, circuits }) =>
    `${isCheck(id) ? checkTypes[id].name : clipText(id)}${where ? ` at ${clipText(where)}` : ''}: ${(outcome ?? 'no answer').replaceAll('-', ' ')}${inBrackets(circuits)}`,
  reading: sayReading,
  injection: sayInjection,
  unplugged: ({ part, run, moved: word, beforeA, afterA }) =>
    `${part === '' ? 'A part' : clipText(part)} unplugged in run ${run}: ${draws[word]} (${formatCurrent(beforeA)}, then ${formatCurrent(afterA)})`,
  contract: ({ run, kind, volts }) =>
    `Run ${run}: the meter shows ${contracts[kind]}${volts === null ? '' : ` at ${formatVoltage(volts)}`}`,
  halves: ({ main, other }) =>
    `Boards split: ${[main, other].flatMap((word) => (word === null ? [] : [halves[word]])).join(', ')}`,
  proof: ({ protocol, step, reason, result }) =>
    `Proof ${result === 'pass' ? 'passed' : 'failed'}: ${[`${protocol}, ${step}`.replaceAll('-', ' '), reason].filter(Boolean).join(': ')}`,
  'past-cases': ({ cases, ofModel, closest }) =>
    `Past cases: ${countOf(cases, 'similar case')}, ${ofModel === 0 ? 'none' : ofModel} of this model; closest: ${closest.join('; ')}`,
  correction: () => 'Adjusted by past results',
};

/**
 * Why a belief moved, in words. The only place that has words for reasons.
 *
 * @param times how often the same was seen in one state of the device
 * @example sayReason({ id: 'check', values: { id: 'fan', outcome: 'spins', where: '', circuits: [] } }) // 'Watch the fan: spins'
 */
export function sayReason(reason: Reason, times = 1): string {
  const say = messages[reason.id] as (values: Reason['values']) => string;
  return `${say(reason.values)}${times > 1 ? `, seen ${times === 2 ? 'twice' : `${times} times`}` : ''}`;
}

/** The same of weighed evidence, by whatever engine it was stored. */
export const sayEvidence = (evidence: WeighedEvidence): string =>
  'item' in evidence ? evidence.item : sayReason(evidence.reason, evidence.times);

const whyNot: { [I in keyof WhyLeftOutValues]: (values: WhyLeftOutValues[I]) => string } = {
  'never-on': () => 'the output was never on, so the device was never powered',
  'unknown-check': () => 'this check is not known',
  'no-result': () => 'no result was entered',
  'by-its-readings': () => 'its readings count instead',
  'by-its-runs': () => 'its runs count instead',
  'by-injections': () => 'the injections count instead',
  'seen-later': ({ outcome }) => `later it was seen as “${outcome.replaceAll('-', ' ')}”`,
  'no-likelihoods': () => 'its likelihoods are not known',
  'needs-usb-c': ({ feed }) => `a contract needs USB-C, and this run is on ${feed}`,
  'nothing-noted': () => 'neither current nor heat was noted',
  'may-be-short': ({ value }) => `above ${value} ohm may or may not be a short`,
  'low-on-a-core': () => 'a low resistance is normal on a core rail; compare with a known-good board',
  'low-on-a-big-chip': () => 'a low diode reading is normal on a rail with big chips; compare with a known-good board',
  'no-voltage': () => 'a voltage cannot be OL',
  'no-expectation': () => 'the expected voltage is not known',
  'not-powered-on': () => 'the device was not powered on when this was measured, so a run rail may be off',
};

/** What does not count and why, in words: "Watch the fan: spins: its runs count instead". */
export function sayLeftOut({ reason, why }: { reason: Reason; why: WhyLeftOut }): string {
  const say = whyNot[why.id] as (values: WhyLeftOut['values']) => string;
  return `${sayReason(reason)}: ${say(why.values)}`;
}
