import {
  assess,
  believe,
  planBoard,
  predictChange,
  predictedDraw,
  type Assessment,
  type BoardPlan,
  type Case,
  type ChangePrediction,
  type CircuitId,
  type ConfirmedCounts,
  type PlannedChange,
  type SuspectDraw,
  type Profile,
  type Run,
  type Shape,
  type ShopPolicy,
} from '@umbral/core';
import { LRUCache } from 'lru-cache';
import { findWorlds } from './worlds.ts';

findWorlds();

/** A profile under a name that says which version it is, so that the thread finds again what it computed for it. */
export interface NamedProfile {
  key: string;
  profile: Profile;
}

/** A case with the shape of each of its runs. */
export interface Seen {
  value: Case;
  shapes: ReadonlyMap<string, Shape>;
}

export interface EngineOptions {
  confirmed?: ConfirmedCounts;
  shop?: ShopPolicy;
}

const known = new LRUCache<string, Profile>({ max: 40 });

/** The same object for the same version: what the engine computed for it is found again. */
function profilesOf(named: NamedProfile | null): Map<string, Profile> | undefined {
  if (!named) return undefined;
  const profile = known.get(named.key) ?? named.profile;
  known.set(named.key, profile);
  return new Map([[profile.id, profile]]);
}

/** What the engine's thread answers. Arguments and results are what can be cloned to another thread. */
export const engineAnswers = {
  assess: (
    { value, shapes }: Seen,
    profile: NamedProfile | null,
    options: EngineOptions & { runWarnings?: ReadonlyMap<string, string[]> },
  ): Assessment => assess(value, shapes, { profiles: profilesOf(profile), ...options }),

  planBoard: ({ value, shapes }: Seen, profile: NamedProfile | null, options: EngineOptions): BoardPlan =>
    planBoard(value, shapes, { profiles: profilesOf(profile), ...options }),

  predictChange: ({ value, shapes }: Seen, profile: NamedProfile | null, change: PlannedChange): ChangePrediction[] =>
    predictChange(believe(value, shapes, { profiles: profilesOf(profile) }), change),

  predictedDraws: (
    value: Case,
    run: Run,
    shape: Shape,
    circuits: CircuitId[],
    profile: NamedProfile | null,
  ): SuspectDraw[] => circuits.map((c) => predictedDraw(value, run, shape, c, profilesOf(profile))),
};

export type EngineAnswers = typeof engineAnswers;
