import {
  checkIds,
  checkTypes,
  circuitNames,
  gradeTypes,
  type CircuitId,
  type OutcomeGrade,
} from '../catalogue/index.ts';
import { plainAction, plainCheck, type Case, type Outcome } from '../case/index.ts';
import { soundUnit, usualSpread } from '../population/index.ts';
import { seededRandom, type Random, type Trace } from '../trace/index.ts';
import { shippedProfile, type Profile } from '../twin/index.ts';
import settings from './shop-year.json';
import { makeCase, weakSpots, type VirtualCase } from './virtual-case.ts';

/** A closed job of a made-up year at one repair bench. */
export interface ShopJob {
  /** The whole case with its outcome; what came before the device was opened stands first in each list. */
  value: Case;
  traces: Map<string, Trace>;
  label: string;
  technician: string;
  /** Days before the end of the year that it came in, and hours into that day. */
  daysAgo: number;
  hour: number;
  /** Minutes after it came in, one an entry: runs and checks before it was opened, then readings, actions, runs after. */
  minutes: { before: number[]; after: number[]; closed: number };
}

/** How far a unit of a made-up model is from its model, and how far apart the seeds of its units lie. */
export const { units: unitSpread, seedStep } = settings;

interface ShopModel {
  name: string;
  hidden: Profile;
  spots: ReadonlyMap<string, number>;
}

const models = new Map<number, ShopModel>();

/** A model that nobody has a profile of, as this shop meets it: figures and weak spots of its own. */
function modelAt(k: number): ShopModel {
  const known = models.get(k);
  if (known) return known;
  const { profile: id, name } = settings.models[k];
  const base = shippedProfile(id) as Profile;
  const random = seededRandom(settings.seed + k);
  const hidden = name === null ? base : { ...soundUnit(base, random, usualSpread), name };
  const made = {
    name: name ?? base.name,
    base,
    hidden,
    spots: weakSpots(hidden, random, settings.weakness),
    isKnown: name === null,
  };
  models.set(k, made);
  return made;
}

/** One of a list, each as often as it says. */
function pick<T extends { often: number }>(list: readonly T[], random: Random): number {
  let left = random() * list.reduce((sum, x) => sum + x.often, 0);
  return Math.max(
    0,
    list.findIndex((x) => (left -= x.often) <= 0),
  );
}

const between = ([low, high]: number[], random: Random): number => low + (high - low) * random();

/**
 * Job number `k` of a year of `count`: a unit of one of the shop's models with a fault that it is known for or not, what
 * was seen of it from outside, and how it ended, now and then oddly. The same for the same numbers.
 */
export function shopJob(k: number, count: number): ShopJob {
  const random = seededRandom(settings.seed + (k + 1) * seedStep);
  const model = modelAt(pick(settings.models, random));
  const one = makeCase(model.hidden, random, {
    generic: true,
    mismatch: unitSpread,
    weakSpots: model.spots,
  });
  const outcome = outcomeOf(one, random);
  const { value, traces } = workedOn(one, outcome, random);
  const gaps = (n: number): number[] => Array.from({ length: n }, () => between(settings.minutesApart, random));
  const running = (list: number[], from: number): number[] => {
    let at = from;
    return list.map((gap) => (at += gap));
  };
  const before = running(gaps(value.runs.filter((r) => r.after === null).length + value.checks.length), 2);
  const opened = (before.at(-1) ?? 0) + between(settings.minutesApart, random);
  const after = running(
    gaps(value.readings.length + value.actions.length + value.runs.filter((r) => r.after).length),
    opened,
  );
  return {
    value: { ...value, device: { ...value.device, serial: `HLS-Y-${String(k + 1).padStart(3, '0')}` } },
    traces,
    label: `${model.name}, lending number ${1000 + Math.floor(random() * 9000)}`,
    technician: settings.technicians[pick(settings.technicians, random)].name,
    daysAgo: Math.max(1, Math.round(365 * (1 - (k + random()) / count))),
    hour: settings.openFrom + settings.openHours * random(),
    minutes: { before, after, closed: (after.at(-1) ?? opened) + between(settings.fixMinutes, random) },
  };
}

function outcomeOf(one: VirtualCase, random: Random): Outcome {
  const circuit = one.circuit === 'unmodelled' ? null : (one.circuit as CircuitId);
  const dice = Object.entries(settings.grades).map(([grade, often]) => ({ grade: grade as OutcomeGrade, often }));
  const drawn = dice[pick(dice, random)].grade;
  const isHard = circuit !== null && settings.hard.includes(circuit) && random() < settings.hardNotEconomical;
  const grade = circuit === null ? 'not-found' : isHard ? 'not-economical' : drawn;
  if (circuit === null || !gradeTypes[grade].isConfirmed)
    return { grade, circuit: null, target: '', fix: fixWords[grade] ?? '' };
  const target = one.target ?? circuitNames[circuit];
  return { grade, circuit, target: one.target ?? '', fix: fixWords[grade] ?? `${target} replaced.` };
}

/** What was noted where no part was replaced. */
const fixWords: Partial<Record<OutcomeGrade, string>> = {
  disappeared: 'Worked again after it was opened and closed.',
  'not-found': 'Two hours of search; returned unrepaired.',
  declined: 'The library did not want it repaired.',
  'not-economical': 'The board costs more than the device.',
};

/** What was entered of it, from the first run to the one after the repair. */
function workedOn(one: VirtualCase, outcome: Outcome, random: Random): { value: Case; traces: Map<string, Trace> } {
  const runs = one.value.runs.filter((_, k) => k === 0 || random() < settings.keepRun);
  const traces = new Map(runs.flatMap((r) => (one.traces.has(r.id) ? [[r.id, one.traces.get(r.id) as Trace]] : [])));
  const checks = checkIds.flatMap((id) => {
    const answer = checkTypes[id].depth <= 1 && random() < settings.keepCheck ? one.outcomeOf(id) : null;
    return answer === null ? [] : [{ ...plainCheck, id, outcome: answer }];
  });
  const isRepaired = gradeTypes[outcome.grade].isConfirmed && one.circuit !== 'none';
  if (!isRepaired) return { value: { ...one.value, runs, checks, outcome }, traces };
  const readings = outcome.grade === 'measured' ? readingsAround(one, random) : [];
  const action = {
    ...plainAction,
    id: 'a1',
    kind: 'replace' as const,
    circuit: outcome.circuit,
    target: outcome.target,
  };
  const again = one.recordAgain(0, `r${one.value.runs.length + 1}`, [], []);
  traces.set(again.run.id, again.trace);
  const value: Case = {
    ...one.value,
    runs: [...runs, { ...again.run, after: 'a1' }],
    checks,
    readings,
    actions: [{ ...action, runBefore: runs[0].id }],
    outcome,
  };
  return { value, traces };
}

/** A few points of the ladder, those of the faulty circuit among them. */
function readingsAround(one: VirtualCase, random: Random): Case['readings'] {
  const wanted = Math.round(between(settings.readings, random));
  const at = one.readings.filter((r) => r.circuit === one.circuit).slice(0, 2);
  const others = one.readings.filter((r) => r.circuit !== one.circuit);
  const chosen = others.filter(() => random() < wanted / Math.max(1, others.length)).slice(0, wanted);
  return [...chosen, ...at];
}
