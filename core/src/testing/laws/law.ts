import type { Assessment } from '../../diagnosis/index.ts';
import { chance, type Chance } from './chance.ts';
import { wellFormed, type Claim } from './claims.ts';
import { answer, type Draft } from './draft.ts';

/** One made-up situation: cases that belong together, and what must hold of their answers. */
export interface Instance<Names extends string = string> {
  about: string;
  cases: Readonly<Record<Names, Draft>>;
  judge: (answers: Readonly<Record<Names, Assessment>>) => Claim[];
}

/** A relation between the answers to related cases that anybody who knows the work would insist on. */
export interface Law {
  id: string;
  /** Why it holds whatever the device. */
  why: string;
  make: (r: Chance) => Instance;
}

export const law = <Names extends string>(id: string, why: string, make: (r: Chance) => Instance<Names>): Law => ({
  id,
  why,
  make: make as Law['make'],
});

export interface Verdict {
  about: string;
  broken: Claim[];
}

/** Makes the situation of a seed and holds the law against the answers. */
export async function judge({ make }: Law, seed: number): Promise<Verdict> {
  const { about, cases, judge: judged } = make(chance(seed));
  const answers: Record<string, Assessment> = {};
  for (const [name, draft] of Object.entries(cases)) answers[name] = await answer(draft);
  const claims = [...judged(answers), ...Object.values(answers).flatMap(wellFormed)];
  return { about, broken: claims.filter((c) => !c.holds) };
}
