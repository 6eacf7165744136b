import type { PerHypothesis, PerRail } from '../inference/index.ts';
import { goodShare, type Board } from '../twin/index.ts';
import settings from './fit.json';
import type { DeviceTwin } from './device-twin.ts';
import type { Trial } from './trial.ts';
import { trialsOf } from './outcomes.ts';

/** What a rail does in one phase of a start-up. */
type RailPrediction = 'up' | 'down' | 'swings';

/**
 * When a voltage is measured: on the supply with the feed on, before the press; while the device holds where it got to;
 * or with the charger plugged in and nobody pressing.
 */
export type ProbePhase = 'before' | 'after' | 'plugged';

/** Everything that probing a board would find if a hypothesis is so. By rail. */
interface RailPredictions extends Record<ProbePhase, PerRail<RailPrediction>> {
  /** True where it reads low to ground with the device unpowered. */
  low: PerRail<boolean>;
}

const kept = new WeakMap<Board, (RailPredictions | null)[]>();

/** When the usual start-ups are measured: before they are pressed, and late in their hold. Seconds. */
const beforeAtS = 3.5;
const afterAtS = 25;
const pressedS = 4;
/** On the charger the button is pressed later. */
const pluggedAtS = 5.5;

/**
 * What probing finds on every rail by hypothesis; null for one that cannot be started. Worked out for each hypothesis when
 * it is first asked for, and kept while the profile lives.
 *
 * @param wanted hypotheses that are asked about
 */
export function predictRails(
  twin: DeviceTwin,
  wanted: (hypothesis: number) => boolean,
): PerHypothesis<RailPredictions | null> {
  const { board } = twin;
  let table = kept.get(board);
  if (!table) kept.set(board, (table = []));
  const trials = trialsOf(twin);
  return twin.hypotheses.map((_, h) => {
    if (!wanted(h)) return null;
    if (table[h] !== undefined) return table[h];
    const trial = trials[h];
    return (table[h] = trial ? railsOf(trial) : null);
  });
}

/** What probing finds on every rail of a board with faults; null where the device cannot be started at all. */
export function railsOf(trial: Trial): RailPredictions | null {
  const { board } = trial;
  const s = trial.bench() ?? trial.outside();
  if (!s) return null;
  const plugged = trial.outside() ?? s;
  const at = (t: number, of = s) => of.segments.find((x) => x.t0 <= t && t < x.t1) ?? of.segments.at(-1);
  const held = s.segments.filter((x) => x.t1 > pressedS);
  const stands = (v: number, rail: number): boolean => v >= goodShare * board.nominalV[rail];
  const { groundS } = s.circumstances.condition;
  const usualS = 1 / settings.usualRailOhm;
  return {
    before: board.profile.rails.map((_, r) => (stands(at(beforeAtS)?.railV[r] ?? 0, r) ? 'up' : 'down')),
    after: board.profile.rails.map((_, r): RailPrediction => {
      const now = stands(at(afterAtS)?.railV[r] ?? 0, r);
      if (s.restarts === 0) return now ? 'up' : 'down';
      const [some, all] = [held.some((x) => stands(x.railV[r], r)), held.every((x) => stands(x.railV[r], r))];
      return all ? 'up' : some ? 'swings' : 'down';
    }),
    plugged: board.profile.rails.map((_, r) => (stands(at(pluggedAtS, plugged)?.railV[r] ?? 0, r) ? 'up' : 'down')),
    low: [...groundS].map((g) => 1 / (g + usualS) < settings.tellingRatio * settings.usualRailOhm),
  };
}
