import { circuitNames, patternNames, patternTypes, type CircuitId } from '../catalogue/index.ts';
import type { Assessment, CircuitProbability, SuspectDraw } from '../diagnosis/index.ts';
import { formatPercent } from '../quantity/index.ts';
import { topPattern } from '../shape/index.ts';
import { leadingShare, type Call } from './call.ts';
import { sayEvidence } from '../reasons/index.ts';
import settings from './facts.json';

/** A fact of a unit that a call is held against, with where it can be seen. */
export interface Fact {
  says: string;
  /** The circuit that it speaks for; null where it is about the call itself. */
  circuit: CircuitId | null;
  /** The run in which it can be seen; null for what is no part of a run. */
  run: string | null;
  /** Where in the run, seconds; null for what is no part of a trace. */
  span: readonly [from: number, to: number] | null;
}

/** What a unit's own circuit and another one would draw in a run of it. */
export interface DrawnBoth {
  run: string;
  own: SuspectDraw;
  other: SuspectDraw;
}

/** A call as it is held against its unit. */
export interface HeldCall {
  call: Call;
  /** The engine's assessment of what lay there when the call was made. */
  given: Assessment;
  /** The circuit that the unit's fault is in. */
  truth: CircuitId;
  /** What the unit's circuit and its {@link rivalOf} would draw, by run. */
  draws: readonly DrawnBoth[];
}

/** The circuit that a unit's own one is to be told from: the one that was called, or the likeliest other one. */
export function rivalOf(call: Call, given: Assessment, truth: CircuitId): CircuitId | null {
  const said = leadingShare(call.shares).circuit;
  return said === truth ? (given.circuits.find((c) => c.id !== truth)?.id ?? null) : said;
}

/**
 * What a call missed: the pattern where it was named wrong, what tells the unit's circuit from the one that was called, and
 * how sure it was.
 *
 * Only what is true of this unit is said. Where the evidence points to another circuit than the unit's, what it says would
 * teach a wrong link, so nothing is said for or against any circuit.
 *
 * @returns the weightiest first; empty where the call took everything in, or nothing shows the circuit yet
 */
export function missedBy(held: HeldCall): Fact[] {
  const { call, given, truth } = held;
  if (!pointsToIt(given, truth)) return patternMissed(call, given);
  const said = leadingShare(call.shares);
  const rest = said.circuit === truth ? surenessOff(said, given.circuits[0], given) : factsBetween(held).slice(1);
  return [...patternMissed(call, given), ...rest].slice(0, settings.most);
}

/** Whether the evidence leads to the circuit that the fault is in. */
export function pointsToIt(given: Assessment, truth: CircuitId): boolean {
  return given.circuits[0]?.id === truth;
}

/** The one fact that tells a unit's circuit from its rival; null where nothing that was seen does. */
export function decidingFact(held: HeldCall): Fact | null {
  return factsBetween(held)[0] ?? null;
}

/** Figures of the runs first, since they can be pointed at; then what weighs otherwise; then the pattern as a whole. */
function factsBetween({ call, given, truth, draws }: HeldCall): Fact[] {
  const rival = rivalOf(call, given, truth);
  if (rival === null) return [];
  const drawn = draws
    .flatMap((of) => drawnApart(of, truth, rival))
    .sort((a, b) => Number(a.of === 'pattern') - Number(b.of === 'pattern') || b.against - a.against);
  const facts = drawn.map(({ fact }) => fact);
  const isFigure = drawn.map((d) => d.of !== 'pattern');
  const figures = facts.filter((_, k) => isFigure[k]);
  return [...figures, ...weighs(given, truth, rival), ...facts.filter((_, k) => !isFigure[k])];
}

/** What of a run the rival does not explain, and the unit's circuit does. */
function drawnApart({ run, own, other }: DrawnBoth, truth: CircuitId, rival: CircuitId) {
  return other.predicted.flatMap((o) => {
    const t = own.predicted.find((x) => x.of === o.of);
    if (o.fits !== 'no' || t?.fits !== 'yes') return [];
    const says = `Seen: ${o.seen}. ${circuitNames[truth]} would show ${t.predicted}, ${circuitNames[rival]} ${o.predicted}.`;
    const fact: Fact = { says, circuit: truth, run, span: o.span };
    return [{ fact, of: o.of, against: o.against }];
  });
}

function patternMissed(call: Call, { runs }: Assessment): Fact[] {
  const failing = runs.findLast((r) => patternTypes[topPattern(r.pattern)].healthyWhen === undefined) ?? runs.at(-1);
  const top = failing && topPattern(failing.pattern);
  if (!failing || !top || runs.some((r) => topPattern(r.pattern) === call.pattern)) return [];
  const [from, to] = [failing.segments[0]?.t0 ?? 0, failing.segments.at(-1)?.t1 ?? 0];
  const prompt = failing.markers.find((m) => m.event === 'prompt')?.t ?? null;
  const isBefore = patternTypes[top].phase === 'before';
  return [
    {
      says: `Run ${failing.id} shows “${patternNames[top]}”, not “${patternNames[call.pattern]}”.`,
      circuit: null,
      run: failing.id,
      span: prompt === null ? [from, to] : isBefore ? [from, prompt] : [prompt, to],
    },
  ];
}

/** The right circuit, but much surer or much less sure of it than what was seen allows. */
function surenessOff(said: Call['shares'][number], first: CircuitProbability, given: Assessment): Fact[] {
  const p = said.percent / whole;
  if (Math.abs(p - first.p) < settings.sureWithin) return [];
  const shown = `You said ${formatPercent(p)} for ${circuitNames[first.id]}; the evidence supports ${formatPercent(first.p)}`;
  const others = given.circuits
    .slice(1)
    .filter((c) => c.p >= settings.stillFrom)
    .map((c) => circuitNames[c.id]);
  const reason = first.evidence.find((e) => e.for > 0);
  const why =
    p > first.p
      ? others.length > 0
        ? `: ${others.join(' and ')} would look much the same.`
        : '.'
      : reason
        ? `: ${sayEvidence(reason)}.`
        : '.';
  return [{ says: `${shown}${why}`, circuit: null, run: null, span: null }];
}

const whole = 100;

/** Evidence beside the patterns of the runs that tells the two circuits apart, the weightiest first. */
function weighs(given: Assessment, truth: CircuitId, rival: CircuitId): Fact[] {
  const itemsOf = (id: CircuitId): CircuitProbability['evidence'] =>
    given.circuits.find((c) => c.id === id)?.evidence ?? [];
  const other = new Map(itemsOf(rival).map((e) => [sayEvidence(e), e.for]));
  return itemsOf(truth)
    .filter((e) => !('reason' in e && e.reason.id === 'run'))
    .map((e) => ({ item: sayEvidence(e), by: e.for - (other.get(sayEvidence(e)) ?? 0) }))
    .filter(({ by }) => by >= settings.minDecibans)
    .sort((a, b) => b.by - a.by)
    .slice(0, settings.maxItems)
    .map(({ item }) => ({
      says: `${item.charAt(0).toUpperCase()}${item.slice(1)}: this points to ${circuitNames[truth]} rather than ${circuitNames[rival]}.`,
      circuit: truth,
      run: null,
      span: null,
    }));
}
