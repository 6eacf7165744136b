import { actionTypes, checkTypes, isCheck, type CircuitId } from '../catalogue/index.ts';
import type { Case, Injection } from '../case/index.ts';
import { openingMinutes, depthReached, repairMinutes, usualShop, type ShopPolicy } from '../decide/index.ts';
import { targetOf, type Fault, type Profile } from '../twin/index.ts';
import { partsMeant } from './meant.ts';
import settings from './tally.json';

const minutesPerHour = 60;

/** Something that was done and should not have been, with why. */
export interface Risk {
  id: 'above-the-rail' | 'swollen-charged' | 'no-dump' | 'burnt' | 'no-run-before';
  says: string;
}

/** What the work on a unit took, as on a bench. */
export interface Tally {
  minutes: number;
  /** Minutes and parts, in the shop's money. */
  cost: number;
  /** Points that a probe was put on. */
  probes: number;
  changes: number;
  /** What parts cost that nothing was wrong with, in the shop's money. */
  wasted: number;
  risks: Risk[];
}

/**
 * Adds up what the work on a unit took so far. It follows from what was entered and asked alone: whoever comes back after a
 * reload finds the same minutes.
 *
 * @param value the job as it stands
 * @param faults that the unit came with; parts that are replaced without one at them were wasted
 * @param looks probes that were answered, kept or not
 * @param isOver the unit is finished: until then a part was wasted only where something was looked at after it, since the sum
 * would tell what a test has to show
 */
export function tallyOf(
  value: Case,
  device: Profile,
  faults: readonly Fault[],
  looks: number,
  shop: ShopPolicy = usualShop,
  isOver = false,
): Tally {
  const probes = Math.max(looks, value.readings.length);
  const changed = value.actions.map((a) => {
    const ids = partsMeant(device, a);
    const circuit = a.circuit ?? targetOf(device, ids[0] ?? '')?.circuit ?? null;
    return { ...a, ids, circuit, ...changeCosts(a.kind, circuit, shop) };
  });
  const minutes =
    sum(value.runs.map(() => settings.runMinutes)) +
    sum(value.checks.map((c) => (isCheck(c.id) ? checkTypes[c.id].minutes : 0))) +
    probes * readingMinutes(value) +
    value.injections.length * settings.injectionMinutes +
    sum(changed.map((c) => c.minutes)) +
    openingMinutes(0, depthReached(value));
  const parts = sum(changed.map((c) => c.part));
  const follows = [...value.runs, ...value.checks, ...value.readings].map((e) => e.after);
  const lastSeen = Math.max(...follows.map((after) => value.actions.findIndex((a) => a.id === after)));
  const inVain = changed.filter(
    (c, k) => c.part > 0 && !faults.some((f) => c.ids.includes(f.at)) && (isOver || k <= lastSeen),
  );
  return {
    minutes,
    cost: (minutes * shop.hourlyCost) / minutesPerHour + parts,
    probes,
    changes: value.actions.length,
    wasted: sum(inVain.map((c) => c.part)),
    risks: risksOf(value, device),
  };
}

const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);

function changeCosts(
  kind: Case['actions'][number]['kind'],
  circuit: CircuitId | null,
  shop: ShopPolicy,
): { minutes: number; part: number } {
  const { fits, isRepair, isLight } = actionTypes[kind];
  const minutes = isRepair && !isLight && circuit ? repairMinutes(circuit) : settings.lightMinutes;
  const part = fits ? ((circuit && shop.partCosts?.[circuit]) ?? settings.partCost) : 0;
  return { minutes, part };
}

function risksOf(value: Case, device: Profile): Risk[] {
  const injected = value.injections.flatMap((i) => aboveTheRail(i, device));
  const isSwollen = value.intake.batterySwollen && !value.intake.batteryIsolated;
  const charged = value.runs.filter((r) => r.feed !== 'battery' && r.setup.battery === 'connected');
  const of = (id: Risk['id'], says: string): Risk => ({ id, says });
  return [
    ...injected,
    ...(isSwollen && charged.length > 0
      ? [
          of(
            'swollen-charged',
            `Charged with the swollen battery connected (run ${charged[0].id}). It can vent and burn.`,
          ),
        ]
      : []),
    ...value.actions.flatMap((a) => {
      if (a.kind === 'burn')
        return [of('burnt', `Burned off a short at ${a.target || 'a place'}. This cannot be undone.`)];
      const says = a.without?.join(' ') ?? '';
      if (a.kind === 'reload-firmware' && says !== '')
        return [of('no-dump', 'Overwrote a chip without a backup of its content. It cannot be recovered.')];
      return says.includes('no run of the state before')
        ? [of('no-run-before', `Changed ${a.target || 'a part'} without a run before it, so nothing can be compared.`)]
        : [];
    }),
  ];
}

/** A rail that was fed more than it is made for hurts what hangs on it. */
function aboveTheRail({ rail, setV }: Injection, device: Profile): Risk[] {
  const spec = device.rails.find((r) => r.id === rail || r.name === rail);
  if (!spec || setV === null || setV <= spec.nominalV * settings.overRail) return [];
  const says = `Injected ${setV} V into ${spec.name}, which is rated for ${spec.nominalV} V. This can destroy the parts on it.`;
  return [{ id: 'above-the-rail', says }];
}

/** Minutes that a probe takes on the average: to ground it is quicker than with the device powered. */
function readingMinutes({ readings }: Pick<Case, 'readings'>): number {
  const { voltage, resistance } = settings.readingMinutes;
  const powered = readings.filter((r) => r.mode === 'voltage').length;
  const total = powered * voltage + (readings.length - powered) * resistance;
  return readings.length === 0 ? voltage : total / readings.length;
}
