import { atProbe, elementNamed } from '../twin/index.ts';
import type { CircuitId } from '../catalogue/index.ts';
import { fedHeatQuestion, ownHeatQuestion, shortedRail } from './heat-question.ts';
import heat from './heat.json';
import type { Candidate, History } from './kind.ts';
import type { Question } from './question.ts';
import readings from './readings.json';
import { groundFindings, shortsOf } from './shorts.ts';

/** A voltage on every short that was measured and is still there: what warms is the part. */
export function injectionCandidates(history: History): Candidate[] {
  const measured = shortsOf(history).flatMap((short): Candidate[] => {
    if (short.isGone) return [];
    const { space } = history;
    const own = space.closeness === 'own' ? elementNamed(space.twin.board.profile, short.where, atProbe) : null;
    const question =
      own?.element === 'rail' ? ownHeatQuestion(space, own.index) : fedHeatQuestion(space, short.circuit, short.where);
    return [
      candidate(
        short.where,
        own?.name ?? short.where,
        short.circuit,
        question,
        own ? [own.id] : [],
        heat.minutes.inject,
      ),
    ];
  });
  return [...measured, ...suspected(history, new Set(measured.flatMap((c) => c.at ?? [])))];
}

/** Rails of the model's own profile that more than one suspect would short: they are measured to ground first. */
function suspected(history: History, measured: ReadonlySet<string>): Candidate[] {
  const { space } = history;
  if (space.closeness !== 'own') return [];
  const { board } = space.twin;
  const places = new Map<number, Set<string>>();
  space.hypotheses.forEach((h, k) => {
    const rail = history.plausible(k) && h.fault ? shortedRail(board, h.fault) : -1;
    if (rail >= 0 && h.fault) places.set(rail, (places.get(rail) ?? new Set()).add(h.fault.at));
  });
  // What reads good need not be fed.
  const findings = groundFindings(history).map((f) => ({
    ...f,
    id: elementNamed(board.profile, f.where, atProbe)?.id,
  }));
  const sound = new Set(
    findings
      .filter((f, n) => !f.isShort && !findings.slice(n).some((g) => g.id === f.id && g.isShort))
      .map((f) => f.id),
  );
  return board.profile.rails.flatMap((rail, k): Candidate[] => {
    const isFree = !measured.has(rail.id) && !sound.has(rail.id) && (places.get(k)?.size ?? 0) > 0;
    const minutes = heat.minutes.inject + readings.minutes.resistance;
    return isFree ? [candidate(rail.id, rail.name, rail.circuit, ownHeatQuestion(space, k), [rail.id], minutes)] : [];
  });
}

function candidate(
  where: string,
  name: string,
  circuit: CircuitId | null,
  question: Question,
  at: string[],
  minutes: number,
): Candidate {
  return {
    id: `injection:${where}`,
    kind: 'injection',
    check: null,
    action: null,
    where,
    mode: null,
    circuit,
    minutes,
    depth: heat.depth,
    question,
    name: `Inject a low voltage into ${name} and look for heat`,
    at,
  };
}
