import type { CircuitId } from '../catalogue/index.ts';
import settings from './ability.json';

/** How well somebody reads units, on the scale of Elo: 400 more is ten times the odds of a good call. */
export interface Ability {
  /** Over all circuits. */
  general: number;
  /** How much better or worse for a circuit, with how many calls of it that stands on. */
  by: Partial<Record<CircuitId, { offset: number; calls: number }>>;
  calls: number;
}

export const beginner: Readonly<Ability> = { general: settings.begins, by: {}, calls: 0 };

/** What a unit asks of a person, on the same scale: more where the engine itself finds it hard. */
export function difficultyOf(enginePoints: number): number {
  const share = clamp(enginePoints / settings.fullPoints);
  return settings.easiest + (1 - share) * settings.span;
}

/**
 * The share of full points that somebody is expected to get on a unit, 0 to 1.
 *
 * @see Elo, "The Rating of Chessplayers, Past and Present" (1978), chapter 8
 */
export function expectedShare(ability: Ability, circuit: CircuitId, difficulty: number): number {
  const rating = ability.general + (ability.by[circuit]?.offset ?? 0);
  return 1 / (1 + 10 ** ((difficulty - rating) / settings.scale));
}

/**
 * The ability after one more call. What came better or worse than expected moves the general rating and that of the circuit,
 * the less the more calls they stand on.
 *
 * @param points of the call, at most 100
 */
export function ratedAbility(ability: Ability, circuit: CircuitId, difficulty: number, points: number): Ability {
  const surprise = clamp(points / settings.fullPoints) - expectedShare(ability, circuit, difficulty);
  const own = ability.by[circuit] ?? { offset: 0, calls: 0 };
  const step = (calls: number, most: number): number =>
    Math.max(settings.minStep, most / (1 + calls / settings.halvesAt));
  return {
    general: ability.general + step(ability.calls, settings.generalStep) * surprise,
    by: {
      ...ability.by,
      [circuit]: {
        offset: own.offset + step(own.calls, settings.circuitStep) * surprise,
        calls: own.calls + 1,
      },
    },
    calls: ability.calls + 1,
  };
}

const clamp = (x: number): number => Math.min(1, Math.max(0, x));
