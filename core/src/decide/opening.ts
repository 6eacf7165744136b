import { checkTypes, depthOf, isCheck } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import policy from './policy.json';

/** How deep the device has been opened already: 0 outside to 5 stack split or chip off. */
export function depthReached(value: Case): number {
  const byCheck = value.checks.map((c) => (isCheck(c.id) && c.outcome !== null ? checkTypes[c.id].depth : 0));
  const byRun = value.runs.map((r) =>
    r.setup.assembly === 'board-alone'
      ? depthOf.boardOut
      : r.setup.unplugged.length > 0
        ? depthOf.plugPulled
        : r.feed === 'battery'
          ? 1
          : 0,
  );
  const byReading = value.readings.length > 0 ? [depthOf.boardOut] : [];
  const byInjection = value.injections.length > 0 ? [depthOf.heated] : [];
  return Math.max(0, ...byCheck, ...byRun, ...byReading, ...byInjection);
}

/**
 * Minutes that it takes to get from one depth to a deeper one; 0 where it is reached already.
 *
 * @param reached how deep it is open already, 0 to 5
 * @param depth how deep the next test goes, 0 to 5
 */
export function openingMinutes(reached: number, depth: number): number {
  let minutes = 0;
  for (let d = reached + 1; d <= depth; d++) minutes += policy.depthMinutes[d] ?? 0;
  return minutes;
}
