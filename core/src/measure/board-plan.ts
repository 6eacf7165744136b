import { isCheck, swingOf, type Case, type Reading } from '../case/index.ts';
import {
  believe,
  depthReached,
  heatSeenOf,
  railsTold,
  senseOf,
  shortedRail,
  type AssessOptions,
  type Believed,
  type ProbePhase,
} from '../diagnosis/index.ts';
import { topPattern, type Shape } from '../shape/index.ts';
import { elementNamed, type Fault } from '../twin/index.ts';
import policy from './data/measuring.json';
import { byElement, elementsOf, type Element } from './elements.ts';
import { contradictionsOf, findingOf, needsOf, rungsOf, type Contradiction, type RailFinding } from './ladder.ts';
import { leadingElement, nextTests, type BenchNow, type RankedTest } from './next-probe.ts';
import { compareReading, type ReadingComparison } from './reference.ts';
import type { BoardTestKind } from './tests.ts';

/** One finding at a rail, as the ladder shows it. */
export interface RungReading {
  /** Place in the case's readings. */
  reading: number;
  finding: RailFinding | null;
  value: number | null;
  ol: boolean;
  swing: { low: number; high: number } | null;
  /** Against the good board, where one was read with the probes the same way. */
  against: ReadingComparison | null;
}

/** What is known of a rail in one phase. */
export interface RungPhase {
  /** Stands in a good unit then. */
  expected: boolean;
  seen: RungReading | null;
  implied: 'present' | 'explained' | null;
  /** Name of the rail from which it follows. */
  from: string | null;
}

/** A rail on the ladder. Volts, ohms. */
export interface LadderRung {
  id: string;
  name: string;
  state: string;
  circuit: string;
  nominalV: number;
  depth: number;
  capacitors: number;
  half: string | null;
  phases: Record<ProbePhase, RungPhase>;
  diode: RungReading | null;
  resistance: RungReading | null;
  /** Probability that something is shorted on it. */
  shorted: number;
}

/** A proposed test without the tables behind it. */
export type ProposedTest = Omit<RankedTest, 'outcomes'> & { names: string[] };

/** Everything that is planned at the opened device: what is suspected, what is known of the rails, what to do next. */
export interface BoardPlan {
  closeness: 'own' | 'generic';
  profile: string;
  /** Each with its likeliest fault; null where nothing of it can be started. */
  elements: (Element & { p: number; fault: Fault | null })[];
  isDecided: boolean;
  rungs: LadderRung[];
  contradictions: Contradiction[];
  next: ProposedTest[];
  /** The best of them that are done with a probe. */
  probes: ProposedTest[];
}

/** The phase in which a voltage was read. Nobody said: while it holds. */
export function phaseOf(reading: Pick<Reading, 'prompted' | 'extra'>): ProbePhase {
  if (reading.extra?.feed === 'usb-c' || reading.extra?.feed === 'dc-in') return 'plugged';
  return reading.prompted === false ? 'before' : 'after';
}

/**
 * Plans the work at the opened device.
 *
 * @param shapes by run id
 */
export function planBoard(given: Case, shapes: ReadonlyMap<string, Shape>, options: AssessOptions = {}): BoardPlan {
  const believed = believe(given, shapes, options);
  const { twin, posterior, value } = believed;
  const { profile } = twin.board;
  const elements = elementsOf(twin);
  const p = byElement(elements, posterior);
  const now = benchNow(believed);
  const nameOf = (id: string): string => elementNamed(profile, id)?.name ?? id;
  const said = ({ outcomes: _tables, ...test }: RankedTest): ProposedTest => ({ ...test, names: test.at.map(nameOf) });
  const wanted = readingsByRail(value, believed);
  const ladder = ladderOf(believed, wanted);
  return {
    closeness: twin.closeness,
    profile: profile.name,
    elements: [...p.keys()]
      .sort((a, b) => p[b] - p[a])
      .slice(0, policy.mostTests)
      .map((k) => ({ ...elements.list[k], p: p[k], fault: likeliestFault(believed, elements.of, k) })),
    isDecided: leadingElement(twin, posterior, now.found).isDecided,
    ...ladder,
    next: nextTests(twin, posterior, now, { checks: believed.outcomes }).map(said),
    probes: nextTests(twin, posterior, now, { kinds: ['voltage', 'resistance'] }).map(said),
  };
}

function likeliestFault({ twin, posterior }: Believed, of: readonly number[], element: number): Fault | null {
  const best = of.reduce((top, e, h) => (e === element && (top < 0 || posterior[h] > posterior[top]) ? h : top), -1);
  return twin.hypotheses[best]?.fault ?? null;
}

/** How far the device has been opened, what was done last, and what need not be done again. */
export function benchNow({ value, twin }: Pick<Believed, 'value' | 'twin'>): BenchNow {
  const { profile } = twin.board;
  const found = new Map<string, string>();
  for (const check of value.checks)
    if (isCheck(check.id) && check.outcome !== null) found.set(`check:${check.id}`, check.outcome);
  for (const reading of value.readings) {
    const rail = elementNamed(profile, reading.where);
    if (rail?.element !== 'rail') continue;
    const { nominalV } = profile.rails[rail.index];
    if (reading.mode === 'voltage')
      found.set(`voltage:${rail.id}:${phaseOf(reading)}`, railWords[findingOf(reading, nominalV) ?? 'low']);
    else found.set(`resistance:${rail.id}`, isLow(reading) ? 'low' : 'sound');
  }
  for (const check of value.checks) {
    const heat = heatSeenOf(check);
    if (heat?.rail) found.set(`inject:${heat.rail}`, heat.hot ?? 'nothing');
  }
  // What a change did to the reading stands in the runs after it, not here.
  for (const action of value.actions) {
    const element = elementNamed(profile, action.target);
    if (!element) continue;
    if (action.kind === 'disconnect') found.set(`unplug:${element.id}`, '');
    if (action.kind === 'replace') found.set(`replace:${element.id}`, '');
  }
  for (const run of value.runs)
    for (const part of run.setup.unplugged) {
      const element = elementNamed(profile, part);
      if (element) found.set(`unplug:${element.id}`, '');
    }
  const last = value.readings.at(-1);
  const kind: BoardTestKind | null = last ? (last.mode === 'voltage' ? 'voltage' : 'resistance') : null;
  return { reached: depthReached(value), last: kind, found };
}

const railWords = { present: 'up', missing: 'down', low: 'down', swinging: 'swings' } as const;

/** Low to ground against a good board, or plainly. */
function isLow(reading: Reading): boolean {
  const sense = senseOf(reading);
  if (sense !== 'unclear') return sense === 'low' || sense === 'short';
  return reading.mode === 'resistance' && reading.value !== null && reading.value < policy.lowOhm;
}

type ByRail = Map<number, { reading: Reading; place: number }[]>;

function readingsByRail(value: Case, { twin }: Believed): ByRail {
  const out: ByRail = new Map();
  value.readings.forEach((reading, place) => {
    const rail = elementNamed(twin.board.profile, reading.where);
    if (rail?.element !== 'rail') return;
    const list = out.get(rail.index) ?? [];
    list.push({ reading, place });
    out.set(rail.index, list);
  });
  return out;
}

function ladderOf(believed: Believed, readings: ByRail): Pick<BoardPlan, 'rungs' | 'contradictions'> {
  const { twin, posterior, seen } = believed;
  const { board } = twin;
  const { rails } = board.profile;
  const needs = needsOf(board);
  const healthy = twin.hypotheses.findIndex((h) => h.fault?.kind === 'none');
  const good = railsTold(twin, (h) => h === healthy)[healthy];
  const phases: ProbePhase[] = ['before', 'after', 'plugged'];
  const lastVoltage = (rail: number, phase: ProbePhase) =>
    readings.get(rail)?.findLast(({ reading }) => reading.mode === 'voltage' && phaseOf(reading) === phase);
  const rungsBy = new Map(
    phases.map((phase) => {
      const found = rails.map((r, k) => {
        const last = lastVoltage(k, phase);
        return last ? findingOf(last.reading, r.nominalV) : null;
      });
      return [phase, { found, rungs: rungsOf(needs, found) }] as const;
    }),
  );
  const shorted = rails.map(() => 0);
  twin.hypotheses.forEach((h, k) => {
    const rail = shortedRail(board, h.fault);
    if (rail >= 0) shorted[rail] += posterior[k];
  });
  const rungs = rails.map((r, k): LadderRung => {
    const last = (mode: Reading['mode']) => readings.get(k)?.findLast(({ reading }) => reading.mode === mode);
    const inPhase = (phase: ProbePhase): RungPhase => {
      const rung = rungsBy.get(phase)?.rungs[k];
      const from = rung?.from ?? null;
      return {
        expected: good?.[phase][k] === 'up',
        seen: rungReading(lastVoltage(k, phase), r.nominalV),
        implied: rung?.implied ?? null,
        from: from === null ? null : rails[from].name,
      };
    };
    const { id, name, state, circuit, nominalV, depth, capacitors, half } = r;
    return {
      ...{ id, name, state, circuit, nominalV, depth, capacitors, half },
      phases: { before: inPhase('before'), after: inPhase('after'), plugged: inPhase('plugged') },
      diode: rungReading(last('diode'), r.nominalV),
      resistance: rungReading(last('resistance'), r.nominalV),
      shorted: shorted[k],
    };
  });
  // Findings of two phases are held against one another too: a rail read before the press and one read after.
  const latest = rails.map((_, k) => readings.get(k)?.findLast(({ reading }) => reading.mode === 'voltage') ?? null);
  const contradictions = contradictionsOf(
    board,
    needs,
    latest.map((l, k) => (l ? findingOf(l.reading, rails[k].nominalV) : null)),
    latest.map((l) => (l ? phaseOf(l.reading) !== 'before' : null)),
    latest.map((l) => l?.reading.value ?? null),
    seen.some((s) => ['restart-loop', 'hiccup'].includes(topPattern(s.patterns))),
  );
  return { rungs: inOrder(rungs), contradictions };
}

/** By power state as it comes up, as the profile lists them within one. */
function inOrder(rungs: LadderRung[]): LadderRung[] {
  const order = ['always', 'G3', 'standby', 'S5', 'S4', 'S3', 'boot', 'run', 'S0'];
  return [...rungs].sort((a, b) => order.indexOf(a.state) - order.indexOf(b.state));
}

function rungReading(of: { reading: Reading; place: number } | undefined, nominalV: number): RungReading | null {
  if (!of) return null;
  const { reading, place } = of;
  const { mode, value, ol, reference, redProbe } = reading;
  const against =
    reference === null
      ? null
      : compareReading({ mode, value, ol, redProbe }, { mode, value: reference, ol: false, redProbe });
  return { reading: place, finding: findingOf(reading, nominalV), value, ol, swing: swingOf(reading), against };
}
