import {
  circuitIds,
  type CircuitId,
  type DeviceClass,
  searchAhead,
  usualShop,
  type ShopPolicy,
  baseRates,
  gaussianNoise,
  seededRandom,
  type Random,
  type JobInHand,
} from '@umbral/core';
import settings from './shop-day.json';

/** A job as it stands in a simulated week, with what nobody there knows. */
export interface SimulatedJob {
  hand: JobInHand;
  /** Minutes from the beginning at which it comes in. */
  arrives: number;
  due: number | null;
  /** What it is, and how it will go. */
  truth: {
    circuit: CircuitId;
    isFound: boolean;
    testMinutes: number;
    repairFactor: number;
    partMinutes: number;
    luck: number;
  };
}

const between = ([low, high]: number[], random: Random): number => low + (high - low) * random();
const minutesPerDay = 1440;
const daysAWeek = 7;
const workdays = 5;
const minutesOpen = 540;

/** What somebody believes of a job: one circuit leads, the others as base rates say. */
function belief(deviceClass: DeviceClass, random: Random): number[] {
  const base = baseRates(deviceClass);
  const lead = drawIndex(base, random);
  const p = between(settings.leading, random);
  const others = 1 - base[lead];
  return base.map((x, k) => (k === lead ? p : (x * (1 - p)) / others));
}

function drawIndex(weights: readonly number[], random: Random): number {
  let left = random() * weights.reduce((sum, x) => sum + x, 0);
  return Math.max(
    0,
    weights.findIndex((x) => (left -= x) <= 0),
  );
}

/** A job with a made-up belief, drawn from base rates. */
function madeUpHand(random: Random): JobInHand {
  const classes = Object.keys(settings.classes) as (keyof typeof settings.classes)[];
  const deviceClass =
    classes[
      drawIndex(
        classes.map((c) => settings.classes[c]),
        random,
      )
    ];
  const circuits = belief(deviceClass, random);
  const minutes = between(settings.minutes, random);
  const depth = Math.floor(between(settings.depths, random));
  const hand: JobInHand = {
    deviceClass,
    fee: null,
    liquid: random() < settings.liquid,
    dataWanted: false,
    dataOnly: false,
    seen: 1,
    feed: 'usb-c',
    assessment: null,
  };
  return believingJob(
    hand,
    circuits,
    { minutes, decided: between(settings.decided, random) },
    depth,
    minutes * between(settings.nextShare, random),
  );
}

/** The same job with another belief. */
export function believingJob(
  hand: JobInHand,
  circuits: readonly number[],
  outlook: { minutes: number; decided: number },
  depth: number,
  nextMinutes: number,
): JobInHand {
  const assessment = {
    circuits: circuitIds.map((id, k) => ({ id, p: circuits[k] })),
    now: [],
    proof: null,
    outlook,
    next:
      outlook.minutes <= 0
        ? []
        : [{ kind: 'reading', name: 'A test', minutes: nextMinutes, depth, check: null, action: null }],
  } as unknown as JobInHand['assessment'];
  return { ...hand, assessment };
}

/**
 * What happens to a job in truth: which circuit it is, by what is believed of it; whether the tests find it; how long all of
 * it takes. The same for every rule that it is worked by.
 */
function simulatedJob(hand: JobInHand, arrives: number, due: number | null, random: Random): SimulatedJob {
  const circuits = circuitsOf(hand);
  const { decided, minutes } = searchAhead(hand.assessment?.outlook ?? settings.unknown, circuits);
  return {
    hand,
    arrives,
    due,
    truth: {
      circuit: circuitIds[drawIndex(circuits, random)],
      isFound: random() < decided,
      testMinutes: minutes * Math.exp(settings.testSpread * gaussianNoise(random) - settings.testSpread ** 2 / 2),
      repairFactor: Math.exp(settings.repairSpread * gaussianNoise(random) - settings.repairSpread ** 2 / 2),
      partMinutes: random() < settings.partOnOrder ? between(settings.partDays, random) * minutesPerDay : 0,
      luck: random(),
    },
  };
}

function circuitsOf(hand: JobInHand): readonly number[] {
  const known = hand.assessment?.circuits;
  return known ? circuitIds.map((id) => known.find((c) => c.id === id)?.p ?? 0) : baseRates(hand.deviceClass);
}

/**
 * Jobs that were not looked at before: some lie there, more come in every day.
 *
 * @param days days of the calendar from the first Monday on; nothing comes in on a weekend
 * @param aDay how many come in on a day; the usual number where left out
 * @param hands jobs that lie there at the beginning; made up where there are none
 */
export function madeUpJobs(
  seed: number,
  {
    days = settings.days,
    aDay = settings.arrivalsADay,
    hands = [],
  }: { days?: number; aDay?: number; hands?: readonly JobInHand[] } = {},
): SimulatedJob[] {
  const random = seededRandom(settings.seed + seed);
  const one = (k: number): JobInHand => (k < hands.length ? hands[k] : madeUpHand(random));
  const due = (from: number): number | null =>
    random() < settings.undated ? null : from + Math.floor(between(settings.dueDays, random)) * minutesPerDay;
  const first = hands.length > 0 ? hands.length : settings.firstJobs;
  const lying = Array.from({ length: first }, (_, k) => simulatedJob(one(k), 0, due(0), random));
  const coming = Array.from({ length: days }, (_, d) => d)
    .filter((d) => d % daysAWeek < workdays)
    .flatMap((d) =>
      Array.from({ length: aDay }, () => {
        const at = d * minutesPerDay + Math.floor(random() * minutesOpen);
        return simulatedJob(madeUpHand(random), at, due(at), random);
      }),
    );
  return [...lying, ...coming];
}

/** The made-up shop: fees by kind of device. */
export const simulatedShop: ShopPolicy = { ...usualShop, fees: settings.fees, hourlyCost: settings.hourlyCost };
