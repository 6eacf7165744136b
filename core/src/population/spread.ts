import { gaussianNoise, type Random } from '../trace/index.ts';
import type { Profile, StageSpec } from '../twin/index.ts';
import settings from './settings.json';

/** The first and the last two stages keep their place. */
const innerStages = 4;

/** How far a device may be from its profile. Standard deviations of natural logarithms, and probabilities. */
export interface Spread {
  level: number;
  time: number;
  limit: number;
  efficiency: number;
  merged: number;
  reordered: number;
}

/** Figures are off by 30 % and more (one standard deviation), stages swapped or merged in every fourth device each. */
export const usualSpread: Spread = {
  level: 0.3,
  time: 0.35,
  limit: 0.3,
  efficiency: 0.04,
  merged: 0.25,
  reordered: 0.25,
};

/**
 * A unit that the profile does not quite describe: its currents, times, limits and efficiencies are off, and its stages
 * may come in another order or together.
 *
 * @param profile left as it is
 * @param random seeded
 * @param spread natural-log widths of currents, times and limits, and probabilities of stages that come otherwise
 */
export function perturbProfile(profile: Profile, random: Random, spread: Spread): Profile {
  const factor = (spread: number): number => Math.exp(spread * gaussianNoise(random));
  const overall = factor(0.5 * spread.level);
  const table = (amps: Record<string, number>): Record<string, number> => {
    const own = overall * factor(spread.level);
    return Object.fromEntries(
      Object.entries(amps).map(([level, a]) => [level, a * own * factor(settings.ownLevels * spread.level)]),
    );
  };
  const stages = reorder(
    profile.stages.map((s) => ({
      ...s,
      seconds: s.seconds * factor(spread.time),
      needs: s.needs.map((n) => ({ ...n, timeoutS: n.timeoutS * factor(spread.time) })),
    })),
    random,
    spread,
  );
  return {
    ...profile,
    restartS: profile.restartS * factor(spread.time),
    stages,
    loads: profile.loads.map((l) => ({ ...l, amps: table(l.amps), bursts: table(l.bursts) })),
    converters: profile.converters.map((c) => ({
      ...c,
      limitA: c.limitA * factor(spread.limit),
      ownA: c.ownA * factor(spread.level),
      retryS: c.retryS * factor(spread.time),
      chargeA: c.chargeA * factor(settings.ownLevels * spread.level),
      efficiency: Math.min(
        settings.bestEfficiency,
        Math.max(0.5, c.efficiency * (c.efficiency < 1 ? factor(spread.efficiency) : 1)),
      ),
    })),
  };
}

/** Swaps what two neighbouring middle stages wait for, or lets one of them pass at once. */
function reorder(stages: StageSpec[], random: Random, spread: Spread): StageSpec[] {
  const out = stages.map((s) => ({ ...s }));
  const pick = (): number => 2 + Math.floor(random() * Math.max(1, out.length - innerStages));
  if (out.length > settings.mergeFromStages && random() < spread.merged) out[pick()].seconds = 0.02;
  if (out.length > settings.mergeFromStages && random() < spread.reordered) {
    const k = pick();
    const [a, b] = [out[k], out[k + 1]];
    // What needs a rail of its own stage stays; what only waits for a partner changes places.
    const partner = (s: StageSpec) => s.needs.filter((n) => n.then === 'restart');
    const rest = (s: StageSpec) => s.needs.filter((n) => n.then !== 'restart');
    if (partner(a).length > 0 || partner(b).length > 0) {
      [a.needs, b.needs] = [
        [...rest(a), ...partner(b)],
        [...rest(b), ...partner(a)],
      ];
    } else [a.seconds, b.seconds] = [b.seconds, a.seconds];
  }
  return out;
}
