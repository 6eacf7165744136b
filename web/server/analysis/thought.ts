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
import { findWorlds } from './worlds.ts';

findWorlds();

/** A profile under a name that says which version it is, so that the thread finds again what it knows of it. */
export interface NamedProfile {
  key: string;
  profile: Profile;
}

/** What the thinking thread is asked. */
export type Question =
  | {
      kind: 'assess';
      value: Case;
      shapes: ReadonlyMap<string, Shape>;
      profile: NamedProfile | null;
      runWarnings?: ReadonlyMap<string, string[]>;
      confirmed?: ConfirmedCounts;
      shop?: ShopPolicy;
    }
  | {
      kind: 'board';
      value: Case;
      shapes: ReadonlyMap<string, Shape>;
      profile: NamedProfile | null;
      confirmed?: ConfirmedCounts;
      shop?: ShopPolicy;
    }
  | {
      kind: 'change';
      value: Case;
      shapes: ReadonlyMap<string, Shape>;
      profile: NamedProfile | null;
      change: PlannedChange;
    }
  | { kind: 'draws'; value: Case; run: Run; shape: Shape; circuits: CircuitId[]; profile: NamedProfile | null };

export type Thought =
  | { kind: 'assess'; result: Assessment }
  | { kind: 'board'; result: BoardPlan }
  | { kind: 'change'; result: ChangePrediction[] }
  | { kind: 'draws'; result: SuspectDraw[] };

const known = new Map<string, Profile>();
const mostKnown = 40;

function profilesOf(named: NamedProfile | null): Map<string, Profile> | undefined {
  if (!named) return undefined;
  let profile = known.get(named.key);
  if (!profile) {
    if (known.size >= mostKnown) known.delete(known.keys().next().value ?? '');
    known.set(named.key, (profile = named.profile));
  }
  return new Map([[profile.id, profile]]);
}

/** Answers a question; what was computed for a profile is kept for the next. */
export function answerTo(question: Question): Thought {
  const profiles = profilesOf(question.profile);
  if (question.kind === 'assess') {
    const { value, shapes, runWarnings, confirmed, shop } = question;
    return { kind: 'assess', result: assess(value, shapes, { profiles, runWarnings, confirmed, shop }) };
  }
  if (question.kind === 'board') {
    const { value, shapes, confirmed, shop } = question;
    return { kind: 'board', result: planBoard(value, shapes, { profiles, confirmed, shop }) };
  }
  if (question.kind === 'change') {
    const { value, shapes, change } = question;
    return { kind: 'change', result: predictChange(believe(value, shapes, { profiles }), change) };
  }
  const { value, run, shape, circuits } = question;
  return { kind: 'draws', result: circuits.map((c) => predictedDraw(value, run, shape, c, profiles)) };
}
