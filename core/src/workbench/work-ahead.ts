import {
  circuitIds,
  waitTypes,
  workPlaceIds,
  type CircuitId,
  type DeviceClass,
  type EquipmentId,
  type Feed,
  type WaitKind,
  type WorkKind,
  type WorkPlace,
} from '../catalogue/index.ts';
import {
  expectedValue,
  feeOf,
  repairCost,
  repairMinutes,
  searchAhead,
  successOf,
  type ShopPolicy,
  type Suggestion,
} from '../decide/index.ts';
import type { Assessment } from '../diagnosis/index.ts';
import { baseRates } from '../hypotheses/index.ts';
import { isWorking } from '../proof/index.ts';
import type { Stretch } from './schedule/index.ts';
import { usualWait } from './waits.ts';
import { bestOption, dataPath, worthOf, type WorthInput } from './worth.ts';
import settings from './work.json';

/** What is known of a job, as far as it says what is still to be done. */
export interface JobInHand {
  deviceClass: DeviceClass;
  /** Agreed with the customer; null for the shop's usual fee. */
  fee: number | null;
  liquid: boolean;
  dataWanted: boolean;
  /** A swollen pack that nobody has put away yet. */
  isHazard?: boolean;
  /** What it waits for with an end: nothing is powered before what must follow it is done. */
  waiting?: WaitKind | null;
  /** It is only the data that is wanted now. */
  dataOnly: boolean;
  /** Runs, readings and injections so far. */
  seen: number;
  /** How a first run would be made. */
  feed: Feed;
  /** Share of customers who agree to a fee, and what saying what it is brings; 1 where this one has agreed. */
  approval?: number;
  diagnosisFee?: number;
  /** Null before anything was entered. */
  assessment: Pick<Assessment, 'circuits' | 'state' | 'next' | 'outlook' | 'proof' | 'conclusion'> | null;
}

/** A stretch of work with what it is called. */
export interface NamedStretch extends Stretch {
  work: WorkKind;
  /** What is done, as it is said in a list. */
  name: string;
}

/** What is still to be done with a job, and what it brings. */
export interface WorkAhead {
  /** The first is the next step, certain; those after it are what is expected. */
  stretches: NamedStretch[];
  /** Expected euros when all of it is done: fees, less parts. The order of work weighs it against the minutes. */
  value: number;
  /** Expected euros of the best way on, less the bench time from here: what every screen calls expected. */
  expected: number;
  /** Probability that it ends with the fee. */
  success: number;
  /** Going on costs more than it brings: tell the customer. */
  isVain: boolean;
}

type Planned = Omit<WorkAhead, 'expected'>;

/**
 * The work that a job still needs: the next step as the engine ranks it; the tests after it, the repair with what must dry or
 * cool, and the proof, each as long as it is on average, with the chance that it comes to that; and the fee with the chance
 * that it is earned. All of it from the one belief.
 *
 * @param shop fees, hourly cost, chances of success
 * @param usual minutes that waits of a kind take here
 */
export function workAhead(job: JobInHand, shop: ShopPolicy, usual: (kind: WaitKind) => number = usualWait): WorkAhead {
  const worths = worthOf(worthInputOf(job, shop));
  return { ...stretchesAhead(job, shop, usual), expected: worths[bestOption(worths)] ?? 0 };
}

/** What a decision about a job is made from: the one belief, the agreed terms, and what is left to prove of a device that works. */
export function worthInputOf(
  job: Pick<JobInHand, 'deviceClass' | 'fee' | 'dataWanted' | 'assessment' | 'approval' | 'diagnosisFee'>,
  shop: ShopPolicy,
): WorthInput {
  const { deviceClass, fee, dataWanted, assessment, approval, diagnosisFee } = job;
  const { unknown } = settings;
  const works = assessment?.proof && assessment.state && isWorking(assessment.state);
  return {
    circuits: circuitsOf(job),
    outlook: assessment?.outlook ?? { minutes: unknown.testMinutes, decided: unknown.decided },
    shop,
    deviceClass,
    fee,
    dataWanted,
    ...(approval === undefined ? {} : { approval }),
    ...(diagnosisFee === undefined ? {} : { diagnosisFee }),
    proof: works ? { success: settings.doneShare, minutes: proofMinutes(assessment) } : null,
  };
}

/** Hands-on minutes of the proofs that are still open. */
function proofMinutes({ proof }: Pick<NonNullable<JobInHand['assessment']>, 'proof'>): number {
  const open = (proof?.protocols ?? []).filter((p) => p.steps.some((s) => s.result === null));
  return open.reduce((sum, p) => sum + p.minutes, 0);
}

function stretchesAhead(job: JobInHand, shop: ShopPolicy, usual: (kind: WaitKind) => number): Planned {
  if (job.isHazard) {
    const safe = stretch('other', 'Isolate the swollen battery', settings.isolateMinutes, 1, [], 'desk');
    const then = stretchesAhead({ ...job, isHazard: false }, shop, usual);
    return { ...then, stretches: [safe, ...then.stretches], isVain: false };
  }
  const { step, leadsTo } = job.waiting ? waitTypes[job.waiting] : {};
  if (step) {
    const then = stretchesAhead({ ...job, waiting: leadsTo ?? null }, shop, usual);
    const first = {
      ...stretch('other', step.name, step.minutes, 1, [], 'opened'),
      wait: leadsTo ? usual(leadsTo) : 0,
    };
    return { ...then, stretches: [first, ...then.stretches] };
  }
  const { assessment } = job;
  const circuits = circuitsOf(job);
  if (job.dataOnly) return dataWork(circuits, shop);
  const fee = (job.fee ?? feeOf(shop, job.deviceClass)) + (job.dataWanted ? shop.dataFee : 0);
  if (!assessment || job.seen === 0) return unseen(job, shop, { circuits, fee, usual });
  const { state, conclusion, proof } = assessment;
  if (proof && state && isWorking(state)) return proving(assessment, fee, usual);
  if (conclusion?.stop?.first) return declining();
  return testing(job, shop, { circuits, fee, usual });
}

/** Probability by circuit: as assessed, or as base rates say. */
function circuitsOf({ assessment, deviceClass }: Pick<JobInHand, 'assessment' | 'deviceClass'>): readonly number[] {
  const known = assessment?.circuits;
  return known ? circuitIds.map((id) => known.find((c) => c.id === id)?.p ?? 0) : baseRates(deviceClass);
}

interface About {
  circuits: readonly number[];
  fee: number;
  usual: Usual;
}

/** Only what is stored is wanted. */
function dataWork(circuits: readonly number[], shop: ShopPolicy): Planned {
  const { chance, minutes } = dataPath(circuits);
  return {
    stretches: [
      stretch('repair', 'Recover the data', minutes, 1, []),
      stretch('talk', 'Close and tell the customer', settings.closeMinutes, 0, [], 'desk'),
    ],
    value: chance * shop.dataFee,
    success: chance,
    isVain: false,
  };
}

type Usual = (kind: WaitKind) => number;

const expectedRepair = (circuits: readonly number[], minutes: (id: CircuitId) => number): number => {
  const sum = circuits.reduce((a, p) => a + p, 0);
  return sum === 0 ? 0 : expectedValue(circuits, circuitIds.map(minutes)) / sum;
};

/** Nothing recorded yet: the first run, then what devices of its kind usually need. */
function unseen(job: JobInHand, shop: ShopPolicy, about: About): Planned {
  const { firstRun, unknown } = settings;
  const [first] = job.assessment?.next ?? [];
  const next =
    first && first.kind !== 'stop'
      ? nextStretch(first)
      : stretch('test', 'Record a first run', firstRun.minutes, 0, usesOf(`run:${job.feed}`));
  return { ...rest(job, shop, { ...about, ...unknown, first: next }), isVain: false };
}

function testing(job: JobInHand, shop: ShopPolicy, about: About): Planned {
  const { outlook, next: suggested } = job.assessment as NonNullable<JobInHand['assessment']>;
  const { circuits } = about;
  const next = suggested[0]
    ? nextStretch(suggested[0])
    : stretch('test', 'Decide what to do', settings.minMinutes, 0, []);
  const { decided, minutes } = searchAhead(outlook, circuits);
  const testMinutes = Math.max(0, minutes - next.minutes);
  const worth = worthOf({ ...job, circuits, outlook, shop, approval: 1 });
  if ((worth['go-on'] ?? 0) < (worth.stop ?? 0)) return declining();
  return { ...rest(job, shop, { ...about, decided, testMinutes, first: next }), isVain: false };
}

/** Tests, repair and proof after the next step, each with the chance that it comes to that. */
function rest(
  job: JobInHand,
  shop: ShopPolicy,
  about: About & { decided: number; testMinutes: number; first: NamedStretch },
): Omit<Planned, 'isVain'> {
  const { circuits, fee, decided, testMinutes, first, usual } = about;
  const pays = (id: CircuitId): boolean => successOf(shop, id) * fee > repairCost(shop, id);
  const repaired = circuits.map((p, k) => (pays(circuitIds[k]) ? p : 0));
  const begun = decided * repaired.reduce((sum, p) => sum + p, 0);
  const success =
    decided *
    expectedValue(
      repaired,
      circuitIds.map((id) => successOf(shop, id)),
    );
  const parts =
    decided *
    expectedValue(
      repaired,
      circuitIds.map((id) => shop.partCosts?.[id] ?? 0),
    );
  const isRepair = first.work === 'repair';
  const depth = depthOfRepair(repaired);
  const list: NamedStretch[] = [first];
  if (!isRepair && testMinutes > settings.minMinutes)
    list.push(stretch('test', 'More tests', testMinutes, Math.max(first.depth, 1), []));
  const minutes = Math.max(0, begun * expectedRepair(repaired, repairMinutes) - (isRepair ? first.minutes : 0));
  if (minutes > settings.minMinutes)
    list.push({
      ...stretch('repair', 'Repair', minutes, depth, depth >= settings.heatFrom ? usesOf('repair') : []),
      wait: usual(job.liquid ? 'dry' : 'cool'),
      waitUses: [],
    });
  if (begun > 0)
    list.push({
      ...stretch('proof', 'Proof', begun * settings.proofMinutes, 0, usesOf('proof')),
      wait: usual('soak'),
    });
  list.push(stretch('talk', 'Close and tell the customer', settings.closeMinutes, 0, [], 'desk'));
  return { stretches: list, value: success * fee - parts, success };
}

function proving(assessment: NonNullable<JobInHand['assessment']>, fee: number, usual: Usual): Planned {
  const [first] = assessment.next;
  const minutes = proofMinutes(assessment);
  const next = first && first.kind !== 'stop' ? nextStretch(first) : null;
  const more = Math.max(0, minutes - (next?.minutes ?? 0));
  const list: NamedStretch[] = next ? [next] : [];
  if (more > settings.minMinutes)
    list.push({ ...stretch('proof', 'More proofs', more, 0, usesOf('proof')), wait: usual('soak') });
  list.push(stretch('talk', 'Close and tell the customer', settings.closeMinutes, 0, [], 'desk'));
  return { stretches: list, value: settings.doneShare * fee, success: settings.doneShare, isVain: false };
}

/** Going on does not pay: a customer who is told early is worth something. */
function declining(): Planned {
  return {
    stretches: [stretch('talk', 'Stop and tell the customer', settings.declineMinutes, 0, [], 'desk')],
    value: settings.declineValue,
    success: 0,
    isVain: true,
  };
}

function stretch(
  work: WorkKind,
  name: string,
  minutes: number,
  depth: number,
  uses: readonly EquipmentId[],
  place: WorkPlace = placeOf(depth),
): NamedStretch {
  return { work, name, minutes: Math.max(settings.minMinutes, minutes), place, depth, uses, wait: 0, waitUses: [] };
}

/** A suggestion of the engine as a piece of work. */
function nextStretch(next: Suggestion): NamedStretch {
  const key =
    next.kind === 'check' ? `check:${next.check}` : next.kind === 'action' ? `action:${next.action?.kind}` : next.kind;
  const work: WorkKind = next.kind === 'verify' ? 'proof' : next.kind === 'action' ? 'repair' : 'test';
  const uses = work === 'proof' ? usesOf('proof') : usesOf(key);
  // Hot air is for what is heated; a flex that is pulled needs none.
  const needed = next.depth < settings.heatFrom ? uses.filter((e) => e !== 'hot-air') : uses;
  return stretch(work, next.name, next.minutes, next.depth, needed);
}

const usesOf = (key: string): readonly EquipmentId[] =>
  ((settings.uses as Partial<Record<string, string[]>>)[key] ?? []) as EquipmentId[];

const placeOf = (depth: number): WorkPlace => {
  const name = settings.placeOfDepth[Math.min(depth, settings.placeOfDepth.length - 1)];
  return workPlaceIds.find((id) => id === name) ?? 'outside';
};

/** How far the likeliest repair opens the device. */
function depthOfRepair(repaired: readonly number[]): number {
  const likeliest = circuitIds[repaired.indexOf(Math.max(...repaired))];
  return (settings.repairDepth as Partial<Record<CircuitId, number>>)[likeliest] ?? settings.repairDepth.usual;
}
