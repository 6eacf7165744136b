import { namedChecks, circuitIds, type CircuitId } from '../catalogue/index.ts';
import { placeAt, sameNetByName } from '../hypotheses/index.ts';
import { type HeatOutcome, type Injection } from '../case/index.ts';
import type { Space } from '../prediction/index.ts';
import { atHeat, atProbe, elementNamed, targetOf, type Board, type Fault } from '../twin/index.ts';
import { checkQuestion } from './check-table.ts';
import heat from './heat.json';
import type { Question } from './question.ts';

type Words = Readonly<Record<string, number>>;

/**
 * Rail on which a fault conducts to ground; -1 where it does not.
 *
 * @returns index into the rails of the board's profile
 */
export function shortedRail(board: Board, fault: Fault | null): number {
  if (fault?.kind !== 'short') return -1;
  const target = targetOf(board.profile, fault.at);
  if (!target) return -1;
  if (target.element === 'rail') return target.index;
  if (target.element === 'load') return board.loadRail[target.index];
  if (target.element === 'converter') return board.from[target.index];
  if (target.element === 'peripheral') return board.railIndex.get(board.profile.peripherals[target.index].rail) ?? -1;
  return -1;
}

/**
 * Probability that the element with this id is what warms last, if the fault is so. Heat shows where the power goes: at the
 * part that is shorted; now and then somebody takes another part of its net, or one on the way to it, for the cause.
 *
 * @param hot id of the element; null for "nothing warmed"
 * @param fed index of the rail that was fed for it; -1 where the device was looked at while it ran
 */
export function heatLikelihood(board: Board, fault: Fault | null, hot: string | null, fed: number): number {
  const rail = shortedRail(board, fault);
  const reached = rail >= 0 && (fed < 0 || fed === rail);
  if (hot === null) return reached ? heat.nothingThough : heat.nothingWarm;
  if (!reached) return heat.elsewhere;
  if (fault?.at === hot) return heat.atTheFault;
  const target = targetOf(board.profile, hot);
  if (!target) return heat.elsewhere;
  const isOnNet =
    (target.element === 'rail' && target.index === rail) ||
    (target.element === 'load' && board.loadRail[target.index] === rail);
  if (isOnNet) return heat.sameRail;
  const feeds = target.element === 'converter' && board.to[target.index].includes(rail);
  return feeds ? heat.onTheWay : heat.elsewhere;
}

/** What warms on a board of the model's own profile with a voltage on a rail, or while it runs: by element. */
export function ownHeatQuestion(space: Space, rail: number): Question {
  const { board } = space.twin;
  const shorted = space.hypotheses.map((h) => shortedRail(board, h.fault));
  const places = [
    ...new Set(
      space.hypotheses.flatMap((h, k) =>
        h.fault && shorted[k] >= 0 && (rail < 0 || shorted[k] === rail) ? [h.fault.at] : [],
      ),
    ),
  ];
  const lists: Record<string, number[]> = Object.fromEntries([...places, 'nothing', 'elsewhere'].map((w) => [w, []]));
  space.hypotheses.forEach((h, k) => {
    const of = (hot: string | null): number => heatLikelihood(board, h.fault, hot, rail);
    const all = [...places.map(of), of(null), heat.elsewhere];
    const sum = all.reduce((a, b) => a + b, 0);
    [...places, 'nothing', 'elsewhere'].forEach((word, w) => (lists[word][k] = all[w] / sum));
  });
  return { key: `heat:${rail}`, outcomes: lists, repeats: heat.repeats, lacking: 'works' };
}

/**
 * Names of the elements that can warm last, by the word of the outcome; empty for a question whose outcomes are no elements.
 */
export function namesOfHot({ closeness, twin }: Space, { key, outcomes }: Question): Record<string, string> {
  if (closeness !== 'own' || !key.startsWith('heat:')) return {};
  const named = Object.keys(outcomes).map((word) => [word, targetOf(twin.board.profile, word)?.name]);
  return Object.fromEntries(named.filter(([, name]) => name !== undefined));
}

const heatWords: readonly HeatOutcome[] = ['none', 'leads-only', 'uniform', 'one-spot', 'several-spots'];

/** What warms at one chip or part, by circuit, while the device is fed: the last warm thing accuses, those before it less. */
export function cameraQuestion(space: Space, circuit: CircuitId, where: string): Question {
  const upstream = heat.upstream as Partial<Record<CircuitId, string[]>>;
  const rowOf = (of: CircuitId): Words => {
    if (circuit === 'core.soc')
      return of === circuit
        ? heat.processor.atTheFault
        : of === 'core.supply'
          ? heat.processor['core.supply']
          : heat.processor.elsewhere;
    if (of === circuit) return heat.camera.atTheFault;
    return upstream[of]?.includes(circuit) ? heat.camera.onTheWay : heat.camera.elsewhere;
  };
  return {
    key: `heat:${circuit}:${where.toLowerCase()}`,
    repeats: heat.repeats,
    outcomes: Object.fromEntries(heatWords.map((word) => [word, space.hypotheses.map((h) => rowOf(h.circuit)[word])])),
  };
}

/** What warms at a part that nobody knows the circuit of: it accuses the fault at that place; null where there is no such place. */
export function unknownSpotQuestion(space: Space, where: string): Question | null {
  const here = where === '' ? null : placeAt(space.places, null, where);
  if (!here) return null;
  const rowOf = (place: string | null): Words => (place === here.key ? heat.camera.atTheFault : heat.camera.elsewhere);
  return {
    key: `heat:${here.key}`,
    repeats: heat.repeats,
    outcomes: Object.fromEntries(heatWords.map((word) => [word, space.hypotheses.map((h) => rowOf(h.place)[word])])),
  };
}

/** Heat without a place: it says little by itself, since leads, converters and a sound chip warm as well. */
export function anywhereQuestion(space: Space): Question | null {
  const table = checkQuestion(space, namedChecks.heat);
  if (!table) return null;
  const means = Object.fromEntries(
    heatWords.map((word) => [word, table.outcomes[word].reduce((a, b) => a + b, 0) / space.hypotheses.length]),
  );
  const w = heat.anywhereWeight;
  return {
    ...table,
    outcomes: Object.fromEntries(
      heatWords.map((word) => [word, table.outcomes[word].map((p) => w * p + (1 - w) * means[word])]),
    ),
  };
}

const spot = 'spot:';

/**
 * What warms by itself, of the answer to a heat test.
 *
 * @param word a word of the test's question
 * @returns id of the circuit or part, or null where the word names none
 * @example spotOf('spot:backlight') // 'backlight'
 */
export function spotOf(word: string): string | null {
  return word.startsWith(spot) ? word.slice(spot.length) : null;
}

/** The words that a voltage put on a rail can be answered with. */
const fedWords = [
  'none',
  'leads-only',
  'several-spots',
  'uniform',
  'evenProcessor',
  ...circuitIds.map((id) => `spot:${id}`),
];

/**
 * What warms with a voltage on a rail: the part that is shorted, which hangs on the rail or is of it. A processor that
 * warms evenly behind a main rail speaks for the power stages between them; one spot on it speaks against the processor. On a
 * rail that nobody knows it is the part of the circuit at whose place the voltage is put.
 *
 * @param circuit of the rail that is fed; null while nobody knows it
 */
export function fedHeatQuestion(space: Space, circuit: CircuitId | null, rail: string): Question {
  const here = circuit === null ? (placeAt(space.places, null, rail) ?? null) : null;
  const outcomes = Object.fromEntries(
    fedWords.map((word) => [word, new Array<number>(space.hypotheses.length).fill(0)]),
  );
  space.hypotheses.forEach((hypothesis, h) => {
    const own = hypothesis.circuit;
    const fed = circuit ?? (here !== null && isOnNet(space, h, here.name) ? own : null);
    const behindCore = own === 'core.supply' && circuit === 'rail.main';
    const row: Words =
      own === fed
        ? circuit === null && !own.startsWith('rail.')
          ? heat.fed.atAChip
          : heat.fed.atTheRail
        : behindCore
          ? heat.fed.throughACore
          : circuitIds[hypothesis.net] === circuit
            ? heat.fed.atAChip
            : heat.fed.soundRail;
    // A chip that nobody thought to hang there can be what warms all the same.
    const unexpected = row === heat.fed.soundRail && own !== 'none' && own !== 'unmodelled' ? heat.elsewhere : 0;
    const spread = (row.anyOther - unexpected) / (circuitIds.length - 2);
    for (const word of fedWords) {
      const at = spotOf(word);
      const p =
        at === null
          ? row[word]
          : at === own && row['spot:own'] !== undefined
            ? row['spot:own']
            : at === fed
              ? row['spot:rail']
              : spread + (at === own ? unexpected : 0);
      outcomes[word][h] = Math.max(p, 1e-4);
    }
  });
  normaliseWords(outcomes);
  const key = circuit ?? here?.key ?? 'unknown';
  return {
    key: `heat:fed:${key}:${here === null ? rail.toLowerCase() : ''}`,
    outcomes,
    repeats: heat.repeats,
    lacking: 'works',
  };
}

/** Whether the fault of a hypothesis sits at a place, or most likely on its net. */
function isOnNet(space: Space, h: number, rail: string): boolean {
  const place = space.places.find((p) => p.key === space.hypotheses[h].place);
  return place !== undefined && place.circuit === null && sameNetByName(place.name, rail) > 0.5;
}

/** The same question as it is answered by whoever saw one warm spot and cannot say which circuit it is of. */
export function coarseHeat(question: Question): Question {
  const words = Object.keys(question.outcomes);
  const spots = words.filter((word) => spotOf(word) !== null);
  const sum = question.outcomes[words[0]].map((_, h) =>
    spots.reduce((total, word) => total + question.outcomes[word][h], 0),
  );
  const others = words.filter((word) => spotOf(word) === null).map((word) => [word, question.outcomes[word]]);
  return { ...question, key: `${question.key}:any`, outcomes: { ...Object.fromEntries(others), 'one-spot': sum } };
}

function normaliseWords(outcomes: Record<string, number[]>): void {
  const words = Object.keys(outcomes);
  for (let h = 0; h < outcomes[words[0]].length; h++) {
    const sum = words.reduce((total, word) => total + outcomes[word][h], 0);
    for (const word of words) outcomes[word][h] /= sum;
  }
}

/** The word of `fedHeatQuestion` that an injection answers; null where nobody looked. */
export function fedHeatWord({
  heat: seen,
  hotCircuit,
  circuit,
}: Pick<Injection, 'heat' | 'hotCircuit' | 'circuit'>): string | null {
  if (seen === null) return null;
  if (seen === 'uniform') return hotCircuit === 'core.soc' ? 'evenProcessor' : 'uniform';
  if (seen !== 'one-spot') return seen;
  const at = hotCircuit ?? circuit;
  return at === null ? 'one-spot' : `spot:${at}`;
}

/** Heat at an element of the model's own profile; null where it names none. */
export function ownHeat(
  space: Space,
  seen: { where: string; rail: string; outcome: string | null },
): { question: Question; word: string } | null {
  if (space.closeness !== 'own') return null;
  const { profile } = space.twin.board;
  const fed = elementNamed(profile, seen.rail, atProbe);
  const rail = fed?.element === 'rail' ? fed.index : -1;
  const question = ownHeatQuestion(space, rail);
  if (seen.outcome === 'none') return rail >= 0 ? { question, word: 'nothing' } : null;
  const hot = elementNamed(profile, seen.where, atHeat);
  if (!hot) return null;
  return { question, word: Object.hasOwn(question.outcomes, hot.id) ? hot.id : 'elsewhere' };
}
