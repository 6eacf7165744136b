import { patternTypes, type PatternId } from '@umbral/core/words';

export type Cue = 'limit' | 'stalled' | 'started';

/** What is listened for: how the supply holds its output, and the pattern as far as it has formed. */
export interface LiveCall {
  mode: 'cv' | 'cc' | 'off' | null;
  pattern: { id: PatternId; p: number } | null;
}

/** A pattern is told once it is this likely. */
const sure = 0.6;

const kindOf = ({ pattern }: LiveCall): Cue | null => {
  if (!pattern || pattern.p < sure) return null;
  return patternTypes[pattern.id].cue ?? null;
};

/**
 * The sound for what has just happened.
 *
 * @param was what was heard before; null at the beginning
 */
export function cueOf(was: LiveCall | null, now: LiveCall): Cue | null {
  if (now.mode === 'cc' && was?.mode !== 'cc') return 'limit';
  const kind = kindOf(now);
  return kind !== null && (was === null || kindOf(was) !== kind) ? kind : null;
}
