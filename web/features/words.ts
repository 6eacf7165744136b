import type { Assessment, DeviceStateId, OutcomeGrade, Run, Segment } from '@umbral/core';
import {
  complaintTypes,
  deviceClassTypes,
  feedTypes,
  formatCurrent,
  formatPercent,
  formatSeconds,
  formatStatedCurrent,
  formatVoltage,
  gradeTypes,
  namesOf,
} from '@umbral/core/words';

export const feedWords = namesOf(feedTypes);
export const classWords = namesOf(deviceClassTypes);
export const complaintWords = namesOf(complaintTypes);
export const gradeWords = namesOf(gradeTypes);

/** A grade as a heading; a fault that was found and not repaired has none yet: why is the shop's to say. */
export function gradeName(grade: OutcomeGrade | null): string {
  if (grade === null) return 'Found, not repaired';
  const name = gradeWords[grade];
  return name.charAt(0).toUpperCase() + name.slice(1);
}

/** How the device is now, as every screen says it. */
export interface StateView {
  id: DeviceStateId;
  sentence: string;
  /** How likely that is, where it is a matter of belief: whether what fails now is the old fault. Null for what was seen. */
  likely: string | null;
}

/**
 * How the device is after the last change; null for a verdict of an older engine, which says nothing of it.
 *
 * @param result the verdict in force
 */
export function stateView(result: Pick<Assessment, 'state' | 'now'> | null): StateView | null {
  const state = result?.state;
  if (!result || !state) return null;
  const p = result.now.find((n) => n.id === state.id)?.p;
  return { id: state.id, sentence: state.sentence, likely: p === undefined ? null : `${formatPercent(p)} likely` };
}

/** A day of the database, which comes as midnight here, as YYYY-MM-DD. */
export function dayWords(day: Date): string {
  const two = (n: number): string => String(n).padStart(2, '0');
  return `${day.getFullYear()}-${two(day.getMonth() + 1)}-${two(day.getDate())}`;
}

/** Above these the numbers of units to practise on begin. */
const practiceFrom = 900_000_000;

/** A job's number as people write it; P and a number of its own for a unit to practise on. */
export function jobNumber(id: number): string {
  if (id > practiceFrom) return `P${id - practiceFrom}`;
  return String(id).padStart(4, '0');
}

/** What a run is called in the story: feed, port, plug. */
export function runTitle(run: Pick<Run, 'feed' | 'setup'>): string {
  const words: string[] = [feedWords[run.feed]];
  if (run.setup.port !== null) words.push(`port ${run.setup.port}`);
  if (run.setup.flipped) words.push('flipped');
  const title = words.join(', ');
  return title.charAt(0).toUpperCase() + title.slice(1);
}

/** The setup as short sentences, one a chip. */
export function setupWords(run: Pick<Run, 'feed' | 'setup' | 'quantity'>): string[] {
  const s = run.setup;
  const words: string[] = [feedWords[run.feed]];
  if (run.quantity === 'voltage-only') words.push('voltage only');
  if (s.setV !== null) words.push(formatVoltage(s.setV));
  if (s.limitA !== null) words.push(`limit ${formatStatedCurrent(s.limitA)}`);
  if (s.port !== null) words.push(`port ${s.port}`);
  if (s.flipped) words.push('plug flipped');
  if (s.assembly)
    words.push(
      { assembled: 'in its case', 'board-alone': 'board alone', half: s.half ? `half: ${s.half}` : 'one half' }[
        s.assembly
      ],
    );
  if (s.battery === null && s.batteryV === null && run.feed === 'usb-c') words.push('battery not stated');
  if (s.battery)
    words.push(
      {
        connected: 'battery in',
        disconnected: 'battery out',
        absent: 'no battery',
        'known-good': 'known-good battery',
      }[s.battery],
    );
  if (s.batteryV !== null) words.push(`battery at ${formatVoltage(s.batteryV)}`);
  if (s.display)
    words.push(
      { connected: 'own display', disconnected: 'display off', 'known-good': 'known-good display' }[s.display],
    );
  if (s.deviceState && s.deviceState !== 'unknown')
    words.push({ off: 'device off', asleep: 'device asleep', running: 'device running' }[s.deviceState]);
  if (s.charger && s.charger !== 'unknown')
    words.push({ own: 'own charger', 'known-good': 'known-good charger' }[s.charger]);
  if (s.board === 'known-good') words.push('known-good board');
  for (const part of s.unplugged) words.push(`without ${part}`);
  return words;
}

const instrumentWords = {
  'bench-supply': 'supply',
  'usb-c-meter': 'USB-C meter',
  dmm: 'multimeter',
  'current-probe': 'current probe',
  eye: 'read by eye',
} as const;

/** Instrument, rate and resolution in a few words. */
export function instrumentSentence(run: Pick<Run, 'instrument'>, intervalS: number, resolutionA: number): string {
  const { kind } = run.instrument;
  const words: string[] = [kind ? instrumentWords[kind] : 'instrument not stated'];
  if (kind !== 'eye' && intervalS > 0) {
    const rate = 1 / intervalS;
    words.push(
      rate >= 0.95 ? `${Math.round(rate)} readings per second` : `a reading every ${formatSeconds(intervalS)}`,
    );
  }
  if (resolutionA > 0) words.push(`±${formatStatedCurrent(resolutionA)}`);
  return words.join(', ');
}

/** One segment in words: how much, and what it does. */
export function segmentWords(s: Segment, resolutionA: number): { level: string; does: string } {
  const level = s.meanA === null ? formatVoltage(s.meanV) : formatCurrent(s.meanA, resolutionA);
  const watts =
    s.watts !== null && s.watts >= 0.05 ? `, ${s.watts < 10 ? s.watts.toFixed(1) : Math.round(s.watts)} W` : '';
  switch (s.kind) {
    case 'zero':
      return { level: 'nothing', does: s.meanV === null ? 'draws nothing' : `at ${formatVoltage(s.meanV)}` };
    case 'limit':
      return { level: s.meanA === null ? 'in current limit' : level, does: 'the supply is limiting: at least this' };
    case 'pulses':
      return {
        level: `pulses, ${level} mean`,
        does: s.periodS === null ? 'repeats' : `repeats every ${formatSeconds(s.periodS)}`,
      };
    case 'bursts':
      return { level: `bursts, ${level} mean`, does: `activity${watts}` };
    case 'ramp':
      return { level: `ramp, ${level} mean`, does: 'changes steadily' };
    case 'gap':
      return { level: 'no readings', does: 'the recording paused' };
    default:
      return { level, does: `steady${s.meanV === null ? '' : ` at ${formatVoltage(s.meanV)}`}${watts}` };
  }
}

export function spanWords(t0: number, t1: number): string {
  return `${formatSeconds(t0)} to ${formatSeconds(t1)}`;
}
