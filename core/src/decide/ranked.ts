import type { PerHypothesis } from '../inference/index.ts';
import type { Candidate } from '../observation/index.ts';

/** A candidate with what it is worth now. */
export interface RankedTest {
  candidate: Candidate;
  /** Probability of every outcome by hypothesis, as entering it would add. */
  outcomes: Record<string, PerHypothesis>;
  bits: number;
  /** With the way into the device and the change of what the meter does. */
  minutes: number;
  /** Bits a minute. */
  worth: number;
}
