import { circuitIds, swingOf, type Case, type CircuitId, type Reading } from '../case/index.ts';
import { formatResistance, formatVoltage } from '../quantity/index.ts';
import policy from './data/policy.json';
import rules from './data/readings.json';
import type { Closeness } from './fit.ts';
import { evidence, type EvidenceItem, type PerCircuit } from './model.ts';

export type ReadingSense = 'short' | 'low' | 'normal' | 'high' | 'open' | 'missing' | 'present' | 'unclear';

const coreCircuits: CircuitId[] = ['core.supply', 'core.soc', 'core.memory', 'core.chipset'];
const runStates = ['run', 'S0', 'boot', 'S3'];

/**
 * What a reading means on its own. Two good units differ, so only a ratio under about one third is telling; without a
 * reference only a plain short is. A run-state rail that is absent while nobody pressed says nothing.
 */
export function senseOf(reading: Reading): ReadingSense {
  const { mode, value, reference, ol } = reading;
  if (ol) return mode === 'voltage' ? 'unclear' : reference === null ? 'unclear' : 'open';
  if (value === null) return 'unclear';
  // A rail that starts and stops stands now and then: that it can stand is what is told here.
  if (mode === 'voltage') return voltageSense(reading, swingOf(reading)?.high ?? value);
  if (reference !== null && reference > 0) {
    const ratio = value / reference;
    if (ratio < rules.shortRatio) return 'short';
    if (ratio < rules.tellingRatio) return 'low';
    return ratio > 3 ? 'high' : 'normal';
  }
  if (mode === 'resistance') {
    const isCore = reading.circuit !== null && coreCircuits.includes(reading.circuit);
    return value < (isCore ? rules.coreShortOhm : rules.shortOhm) ? 'short' : 'unclear';
  }
  return value < 0.02 ? 'short' : 'unclear';
}

function voltageSense(reading: Reading, value: number): ReadingSense {
  const { reference, state, prompted } = reading;
  const notAsked = state !== null && runStates.includes(state) && prompted === false;
  if (reference !== null && reference > 0) {
    const ratio = value / reference;
    if (ratio < rules.missingRatio) return notAsked ? 'unclear' : 'missing';
    if (ratio < rules.lowRatio) return notAsked ? 'unclear' : 'low';
    return ratio > rules.highRatio ? 'high' : 'present';
  }
  if (value < rules.missingV) return notAsked || state === null ? 'unclear' : 'missing';
  return value > 0.5 ? 'present' : 'unclear';
}

const rankOf = (reading: Reading): number | null => {
  if (reading.state !== null) return rules.ranks[reading.state];
  const ranks = rules.circuitRanks as Record<string, number>;
  return reading.circuit !== null ? (ranks[reading.circuit] ?? null) : null;
};

/** Likelihood of what the reading says, by circuit, from the rail ladder and from what hangs on the net. */
function likelihoodOf(reading: Reading, sense: ReadingSense): PerCircuit {
  const ranks = rules.circuitRanks as Record<string, number>;
  const rank = rankOf(reading);
  const own = reading.circuit;
  const pulls = own === null ? {} : ((rules.pullsDown as Record<string, Record<string, number>>)[own] ?? {});
  return circuitIds.map((id) => {
    if (id === 'unmodelled') return 0.2;
    const below = rank !== null && ranks[id] !== undefined && ranks[id] < rank;
    const above = rank !== null && ranks[id] !== undefined && ranks[id] > rank;
    if (sense === 'missing' || (sense === 'low' && reading.mode === 'voltage')) {
      if (id === own) return rules.missing.own;
      if (id === 'none' || id === 'display') return 0.03;
      return Math.max(pulls[id] ?? 0, below ? rules.missing.below : above ? rules.missing.above : rules.missing.same);
    }
    if (sense === 'present') return id === own ? rules.present.own : below ? rules.present.below : rules.present.above;
    if (sense === 'short' || sense === 'low') {
      const table = rules[sense];
      return id === own ? table.own : Math.max(pulls[id] ?? 0, table.others);
    }
    if (sense === 'open') {
      if (id === own) return rules.open.own;
      return id === 'joint.stack' || id === 'periph.board' || id === 'input.port'
        ? rules.open.joint
        : rules.open.others;
    }
    return id === own ? rules.normal.own : rules.normal.others;
  });
}

const senseWords: Record<ReadingSense, string> = {
  short: 'a short',
  low: 'low',
  normal: 'as it should be',
  high: 'high',
  open: 'open',
  missing: 'missing',
  present: 'present',
  unclear: 'says nothing by itself',
};

function sayReading(reading: Reading, sense: ReadingSense): string {
  const show = (x: number): string => (reading.unit === 'ohm' ? formatResistance(x) : formatVoltage(x));
  const value = reading.ol ? 'open line' : reading.value === null ? '' : show(reading.value);
  const against = reading.reference === null ? '' : ` against ${show(reading.reference)}`;
  return `reading at ${reading.where}: ${value}${against}, ${senseWords[sense]}`;
}

interface Ladder {
  lowestMissing: number;
  highestPresent: number;
}

/** How far up the power states the measured rails reach. */
function ladderOf(readings: readonly Reading[]): Ladder {
  const ladder: Ladder = { lowestMissing: Infinity, highestPresent: -Infinity };
  for (const reading of readings) {
    const rank = rankOf(reading);
    if (reading.mode !== 'voltage' || rank === null) continue;
    const sense = senseOf(reading);
    if (sense === 'missing' || sense === 'low') ladder.lowestMissing = Math.min(ladder.lowestMissing, rank);
    if (sense === 'present') ladder.highestPresent = Math.max(ladder.highestPresent, rank);
  }
  return ladder;
}

/** A missing low rail explains every missing one above it, and one that is present above proves those below. */
function impliedShare(ladder: Ladder, reading: Reading, sense: ReadingSense): number {
  const rank = rankOf(reading);
  if (reading.mode !== 'voltage' || rank === null) return 1;
  if ((sense === 'missing' || sense === 'low') && rank > ladder.lowestMissing) return 0;
  return sense === 'present' && rank < ladder.highestPresent ? rules.impliedShare : 1;
}

/** Evidence from readings. Every point on one net reads the same: more of the same finding adds only a little. */
export function readingEvidence(
  value: Case,
  closeness: Closeness,
  fine: (reading: Reading, sense: ReadingSense, usual: PerCircuit) => number[] | null,
): EvidenceItem[] {
  const groups = new Map<string, { sense: ReadingSense; all: Reading[] }>();
  for (const reading of value.readings) {
    const sense = senseOf(reading);
    if (sense === 'unclear' || sense === 'high') continue;
    const placed = closeness === 'own' && fine(reading, sense, likelihoodOf(reading, sense)) !== null;
    if (reading.circuit === null && reading.state === null && !placed) continue;
    const key = JSON.stringify([placed ? reading.where : '', reading.circuit, reading.state, reading.mode, sense]);
    const group = groups.get(key) ?? { sense, all: [] };
    group.all.push(reading);
    groups.set(key, group);
  }
  const items: EvidenceItem[] = [];
  const ladder = ladderOf(value.readings);
  // A whole ladder is not as many witnesses as it has rungs where the profile only resembles the device.
  const weightOfOne = policy.readingWeight[closeness] * Math.min(1, policy.mostReadings[closeness] / groups.size);
  for (const { sense, all } of groups.values()) {
    const total = Math.min(rules.mostNet, 1 + rules.repeatNet * (all.length - 1));
    for (const reading of all) {
      const usual = likelihoodOf(reading, sense);
      const implied = impliedShare(ladder, reading, sense);
      const told = fine(
        reading,
        sense,
        usual.map((x) => x ** implied),
      );
      if (implied === 0 && told === null) continue;
      const weight = (weightOfOne * total) / all.length;
      const item = evidence(`reading:${reading.where}`, sayReading(reading, sense), usual, weight * implied);
      items.push(told ? { ...item, fine: told.map((x) => weight * Math.log(Math.max(x, 1e-6))) } : item);
    }
  }
  return items;
}
