import type { CircuitId } from '../catalogue/index.ts';
import type { Check } from '../case/index.ts';
import type { Reason } from '../reasons/index.ts';
import type { Candidate } from './kind.ts';

/**
 * What was looked at, as a reason.
 *
 * @param circuits that the place of it belongs to
 */
export const reasonOfCheck = ({ id, outcome, where }: Check, circuits: readonly CircuitId[] = []): Reason => ({
  id: 'check',
  values: { id, outcome, where, circuits },
});

/** A check as a test that can be made. */
export function plainCandidate(
  given: Pick<Candidate, 'id' | 'check' | 'name' | 'minutes' | 'depth' | 'question'>,
): Candidate {
  return { ...given, kind: 'check', action: null, where: null, mode: null, circuit: null };
}
