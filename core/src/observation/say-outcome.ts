import { circuitNames, type CircuitId } from '../catalogue/index.ts';
import { spotOf } from './heat-question.ts';
import type { Candidate } from './kind.ts';

const words: Record<string, Readonly<Record<string, string>>> = {
  reading: {
    present: 'is up',
    swings: 'comes and goes',
    normal: 'no short',
    short: 'short to ground',
    high: 'high or open',
  },
  injection: {
    evenProcessor: 'the processor warms evenly',
    elsewhere: 'something else gets warm',
    nothing: 'nothing gets warm',
  },
  action: {
    recovers: 'it recovers',
    improves: 'the first fault is gone',
    falls: 'draws less',
    rises: 'draws more',
    same: 'nothing changes',
  },
};

/**
 * An outcome as a technician says it. The same word means different things for different tests: that a computer sees
 * "nothing" is not that "nothing gets warm".
 *
 * @param outcome a word of the test's question; `spot:` and an id names what warms
 * @param kind kind of the test
 * @param hot names of the elements that can warm, by the word that stands for them
 * @example sayOutcome('spot:rail.main', 'injection') // 'Main system rail gets warm'
 */
export function sayOutcome(
  outcome: string,
  kind: Candidate['kind'] | 'verify' | 'stop',
  hot: Readonly<Record<string, string>> = {},
): string {
  if (Object.hasOwn(hot, outcome)) return `${hot[outcome]} gets warm`;
  const id = spotOf(outcome);
  if (id !== null) {
    return `${id in circuitNames ? circuitNames[id as CircuitId] : id} gets warm`;
  }
  return words[kind]?.[outcome] ?? outcome.replaceAll('-', ' ');
}
