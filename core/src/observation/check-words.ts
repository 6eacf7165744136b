import { checkTypes, isCheck } from '../catalogue/index.ts';
import { type Check } from '../case/index.ts';
import { clipText } from '../quantity/index.ts';
import type { Candidate } from './kind.ts';

/** A check in words. */
export function sayCheck({ id, outcome, where }: Pick<Check, 'id' | 'outcome' | 'where'>): string {
  const name = isCheck(id) ? checkTypes[id].name : clipText(id);
  const at = where ? ` at ${clipText(where)}` : '';
  return `${name}${at}: ${(outcome ?? 'no answer').replaceAll('-', ' ')}`;
}

/** A check as a test that can be made. */
export function plainCandidate(
  given: Pick<Candidate, 'id' | 'check' | 'name' | 'minutes' | 'depth' | 'question'>,
): Candidate {
  return { ...given, kind: 'check', action: null, where: null, mode: null, circuit: null };
}
