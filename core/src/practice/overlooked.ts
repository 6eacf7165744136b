import { circuitNames, patternNames, patternTypes, type CircuitId } from '../catalogue/index.ts';
import type { Assessment, CircuitProbability, SuspectDraw } from '../diagnosis/index.ts';
import { formatPercent } from '../quantity/index.ts';
import { topPattern } from '../shape/index.ts';
import { leadingShare, type Call } from './call.ts';
import settings from './overlooked.json';

/** Something that speaks against a call, with where it can be seen. */
export interface Overlooked {
  says: string;
  /** The run in which it can be seen; null for what a check or a reading says. */
  run: string | null;
  /** Where in the run, seconds; null for what is no part of a trace. */
  span: readonly [from: number, to: number] | null;
}

/** What the engine's first suspect and the caller's would show in one run. */
export interface HeldAgainst {
  run: string;
  first: SuspectDraw;
  called: SuspectDraw;
}

/**
 * What a call overlooked, from the evidence alone: the pattern where it was named wrong, what in the runs the called circuit
 * does not explain and the engine's first suspect does, and the items that weigh most between the two.
 *
 * @param given the engine's assessment of what lay there when the call was made
 * @param draws of both circuits, by run
 * @returns the weightiest first; empty where the call took everything in
 */
export function overlookedBy(call: Call, given: Assessment, draws: readonly HeldAgainst[]): Overlooked[] {
  const first = given.circuits[0];
  const said = leadingShare(call.shares);
  if (!first) return [];
  if (first.id === said.circuit) return [...patternMissed(call, given), ...surenessOff(said, first, given)];
  const [a, b] = [circuitNames[first.id], circuitNames[said.circuit]];
  const seen = draws.flatMap(({ run, first: fits, called }): Overlooked[] => {
    const missed = called.predicted.filter((x) => x.fits === 'no');
    const explained = fits.predicted.filter((x) => x.fits === 'yes');
    return [
      ...missed.map(({ says, span }) => ({ says: `${b} does not fit: ${says}.`, run, span })),
      ...(missed.length > 0
        ? explained.slice(0, 1).map(({ says, span }) => ({ says: `${a} fits: ${says}.`, run, span }))
        : []),
    ];
  });
  return [...patternMissed(call, given), ...seen, ...weighs(given, first.id, said.circuit)].slice(0, settings.most);
}

/**
 * What tells a unit's own circuit from the likeliest other one, in words, with the run in which it stands: the one fact that
 * decides, whether the call had it or not.
 *
 * @param given the engine's assessment of what lay there when the call was made
 * @returns null where nothing speaks for the circuit, or no other one is in question
 */
export function decidedBy(truth: CircuitId, given: Assessment): Overlooked | null {
  const other = given.circuits.find((c) => c.id !== truth);
  if (!other) return null;
  const [item] = itemsFor(given, truth, other.id);
  if (!item) return null;
  // The sentence of a run begins with its name, where there are several.
  const run =
    given.runs.find((r) => item.toLowerCase().startsWith(`run ${r.id}`.toLowerCase())) ??
    (given.runs.length === 1 ? given.runs[0] : null);
  const prompt = run?.markers.find((m) => m.event === 'prompt')?.t ?? run?.segments[0]?.t0 ?? 0;
  return {
    says: `${item.charAt(0).toUpperCase()}${item.slice(1)}. This tells ${circuitNames[truth]} from ${circuitNames[other.id]}.`,
    run: run?.id ?? null,
    span: run ? [prompt, run.segments.at(-1)?.t1 ?? prompt] : null,
  };
}

function patternMissed(call: Call, { runs }: Assessment): Overlooked[] {
  const failing = runs.findLast((r) => patternTypes[topPattern(r.pattern)].healthyWhen === undefined) ?? runs.at(-1);
  const top = failing && topPattern(failing.pattern);
  if (!failing || !top || runs.some((r) => topPattern(r.pattern) === call.pattern)) return [];
  const [from, to] = [failing.segments[0]?.t0 ?? 0, failing.segments.at(-1)?.t1 ?? 0];
  const prompt = failing.markers.find((m) => m.event === 'prompt')?.t ?? null;
  const isBefore = patternTypes[top].phase === 'before';
  return [
    {
      says: `Run ${failing.id} shows “${patternNames[top]}”, not “${patternNames[call.pattern]}”.`,
      run: failing.id,
      span: prompt === null ? [from, to] : isBefore ? [from, prompt] : [prompt, to],
    },
  ];
}

/** The right circuit, but much surer or much less sure of it than what was seen allows. */
function surenessOff(said: Call['shares'][number], first: CircuitProbability, given: Assessment): Overlooked[] {
  const p = said.percent / whole;
  if (Math.abs(p - first.p) < settings.sureWithin) return [];
  const shown = `You said ${formatPercent(p)} for ${circuitNames[first.id]}; the evidence supports ${formatPercent(first.p)}`;
  const others = given.circuits
    .slice(1)
    .filter((c) => c.p >= settings.stillFrom)
    .map((c) => circuitNames[c.id]);
  const reason = first.evidence.find((e) => e.for > 0)?.item;
  const why =
    p > first.p
      ? others.length > 0
        ? `: ${others.join(' and ')} would look much the same.`
        : '.'
      : reason
        ? `: ${reason}.`
        : '.';
  return [{ says: `${shown}${why}`, run: null, span: null }];
}

const whole = 100;

/** The items that tell the two circuits apart, the weightiest first. */
function weighs(given: Assessment, first: CircuitId, called: CircuitId): Overlooked[] {
  return itemsFor(given, first, called)
    .slice(0, settings.maxItems)
    .map((item) => ({
      says: `${item.charAt(0).toUpperCase()}${item.slice(1)}: this points to ${circuitNames[first]} rather than ${circuitNames[called]}.`,
      run: null,
      span: null,
    }));
}

function itemsFor(given: Assessment, first: CircuitId, called: CircuitId): string[] {
  const itemsOf = (id: CircuitId): CircuitProbability['evidence'] =>
    given.circuits.find((c) => c.id === id)?.evidence ?? [];
  const other = new Map(itemsOf(called).map((e) => [e.item, e.for]));
  return itemsOf(first)
    .map((e) => ({ item: e.item, by: e.for - (other.get(e.item) ?? 0) }))
    .filter(({ by }) => by >= settings.minDecibans)
    .sort((a, b) => b.by - a.by)
    .map(({ item }) => item);
}
