import {
  type CheckId,
  plainAction,
  plainCheck,
  plainInjection,
  plainReading,
  unknownSetup,
  type Action,
  type Case,
  type RailState,
  byElements,
  isolationOf,
  minutesOf,
  openTests,
  rankTests,
  type RankedTest,
  believe,
  describe,
  type Belief,
  isHealthy,
  shortedRail,
  type Candidate,
  railsOf,
  type Shape,
  seededRandom,
  type Random,
  elementNamed,
  type Fault,
  type Profile,
  type VirtualCase,
} from '@umbral/core';
import settings from './whole-case.json';

/** What it took to isolate a fault. */
export interface Played {
  minutes: number;
  /** Points that a probe was put on. */
  probes: number;
  /** The element named at the end is the one at fault. */
  right: boolean;
  /** Sure enough to act on, rather than out of tests or out of time. */
  decided: boolean;
  named: string;
  steps: string[];
}

/** How the technician chooses. */
type Way = 'planned' | 'rail-list';

/**
 * Plays one case from the first runs to the element at fault, the way the application goes: every answer is appended to the
 * case and the case believed anew. A virtual technician makes test after test at the opened device, each answered by the unit
 * with its hidden fault, until one element is isolated. Either as planned, or as one does without a plan: the rails in their
 * order for a voltage, then to ground, then a voltage on what is low, then the checks, then part after part, the likeliest
 * first. Both weigh what they find alike and stop by the same rule.
 *
 * @param one a case with a fault that the profile has an element for
 */
export function playWholeCase(
  one: VirtualCase,
  profiles: ReadonlyMap<string, Profile>,
  way: Way,
  seed: number,
): Played {
  const shapes = new Map<string, Shape>();
  for (const run of one.value.runs) {
    const trace = one.traces.get(run.id);
    if (trace) shapes.set(run.id, describe(one.value, run, trace, null));
  }
  const unit = new Unit(one, shapes, seededRandom(seed));
  let value: Case = { ...one.value };
  const played: Played = { minutes: 0, probes: 0, right: false, decided: false, named: '', steps: [] };
  const made = new Set<string>();
  let belief = believe(value, shapes, { profiles });
  for (let step = 0; step < settings.maxSteps && played.minutes < settings.maxMinutes; step++) {
    const grouping = byElements(belief);
    if (isolationOf(belief, grouping).isDecided) break;
    // What a virtual device has no answer to (its looks, say) is not asked.
    const open = (c: Candidate): boolean => !made.has(c.id) && unit.canAnswer(c);
    const test =
      way === 'planned'
        ? rankTests(belief, grouping).find((r: RankedTest) => open(r.candidate))?.candidate
        : nextOnList(belief, grouping, open);
    if (!test) break;
    played.minutes += minutesOf(belief, test, unit.reached);
    played.probes += test.kind === 'reading' ? 1 : 0;
    value = unit.make(value, test, belief);
    played.steps.push(test.id);
    // A part may be replaced a second time: work fails now and then.
    if (!test.id.startsWith('element:')) made.add(test.id);
    else if (made.has(`${test.id}:once`)) made.add(test.id);
    else made.add(`${test.id}:once`);
    belief = believe(value, shapes, { profiles });
  }
  const grouping = byElements(belief);
  const isolation = isolationOf(belief, grouping);
  const named = grouping.groups[isolation.group].id;
  return { ...played, right: one.faults.some((f) => f.at === named), decided: isolation.isDecided, named };
}

/** The next point of the list: voltages, to ground, a voltage on what is low, the checks, then the likeliest part. */
function nextOnList(
  belief: Belief,
  grouping: ReturnType<typeof byElements>,
  open: (c: Candidate) => boolean,
): Candidate | undefined {
  const tests = openTests(belief, grouping).filter(open);
  const elements = (): Candidate | undefined => {
    const p = new Map<string, number>();
    grouping.of.forEach((g, h) =>
      p.set(grouping.groups[g].id, (p.get(grouping.groups[g].id) ?? 0) + belief.posterior[h]),
    );
    const parts = tests.filter((t) => t.id.startsWith('element:'));
    return parts.sort((a, b) => (p.get(b.at?.[0] ?? '') ?? 0) - (p.get(a.at?.[0] ?? '') ?? 0))[0];
  };
  return (
    tests.find((t) => t.kind === 'reading' && t.mode === 'voltage' && t.phase === 'after') ??
    tests.find((t) => t.kind === 'reading' && t.mode !== 'voltage') ??
    tests.find((t) => t.kind === 'injection') ??
    tests.filter((t) => t.kind === 'check').sort((a, b) => a.depth - b.depth || a.minutes - b.minutes)[0] ??
    elements()
  );
}

/** The device on the bench, which answers every test by its hidden fault. */
class Unit {
  reached: number = settings.reached;
  private left: Fault[];
  private off: string[] = [];
  /** The run that is made again after a change: the first that shows that something is wrong. */
  private readonly shown: number;

  constructor(
    private readonly one: VirtualCase,
    private readonly shapes: Map<string, Shape>,
    private readonly random: Random,
  ) {
    this.left = [...one.faults];
    const failing = believe(one.value, shapes, {}).history.seen.findIndex((s) => !isHealthy(s));
    this.shown = Math.max(0, failing);
  }

  canAnswer(test: Candidate): boolean {
    if (test.kind === 'check') return test.check !== null && this.one.outcomeOf(test.check) !== null;
    return test.kind !== 'action' || test.id.startsWith('element:') || test.id.startsWith('unplug:');
  }

  private slips(): boolean {
    return this.random() < settings.slip;
  }

  /** The case with the answer to a test appended. */
  make(value: Case, test: Candidate, belief: Belief): Case {
    this.reached = Math.max(this.reached, test.depth);
    const after = value.actions.at(-1)?.id ?? null;
    if (test.kind === 'check') {
      const id = test.check as CheckId;
      return { ...value, checks: [...value.checks, { ...plainCheck, id, outcome: this.one.outcomeOf(id), after }] };
    }
    if (test.kind === 'reading') return { ...value, readings: [...value.readings, this.reading(test, after)] };
    if (test.kind === 'injection')
      return { ...value, injections: [...value.injections, this.injection(value, test, after)] };
    return this.change(value, test, belief);
  }

  private reading(test: Candidate, after: string | null): Case['readings'][number] {
    const { board } = this.one.trial;
    const rail = board.railIndex.get(test.at?.[0] ?? '') ?? 0;
    const spec = board.profile.rails[rail];
    const predicted = railsOf(this.one.trial);
    const common = {
      ...plainReading,
      where: spec.id,
      circuit: spec.circuit,
      state: spec.state as RailState,
      after,
    };
    if (test.mode === 'voltage') {
      const phase = test.phase ?? 'after';
      const word = predicted?.[phase][rail] ?? 'down';
      const stands = (word === 'up') !== this.slips();
      const swing = word === 'swings' ? { low: 0.1 * spec.nominalV, high: spec.nominalV } : null;
      return {
        ...common,
        mode: 'voltage',
        unit: 'V',
        value: swing ? 0.5 * spec.nominalV : stands ? spec.nominalV : 0.05 * spec.nominalV,
        swing,
        reference: spec.nominalV,
        prompted: phase === 'after',
        feed: phase === 'plugged' ? 'usb-c' : null,
        powered: true,
      };
    }
    const siemens = this.conductance(rail);
    const good = settings.goodOhm;
    const ohm = this.slips() ? (siemens > 0 ? good : 1) : 1 / (siemens + 1 / good);
    return { ...common, mode: 'resistance', unit: 'ohm', value: ohm, reference: good, powered: false };
  }

  /** Siemens to ground on a rail, from what is still shorted on it. */
  private conductance(rail: number): number {
    const { board } = this.one.trial;
    return this.left
      .filter((f) => !this.off.includes(f.at) && shortedRail(board, f) === rail)
      .reduce((sum, f) => sum + 1 / Math.max(f.value ?? 1, 0.01), 0);
  }

  private injection(value: Case, test: Candidate, after: string | null): Case['injections'][number] {
    const { board } = this.one.trial;
    const rail = test.at?.[0] ?? '';
    const index = board.railIndex.get(rail) ?? -1;
    const fault = this.left.find((f) => shortedRail(board, f) === index);
    const seen = fault !== undefined && !this.slips();
    return {
      ...plainInjection,
      id: `i${value.injections.length + 1}`,
      rail,
      circuit: test.circuit,
      setV: settings.injectV,
      heat: seen ? 'one-spot' : 'none',
      hot: seen ? fault.at : null,
      hotCircuit: seen ? (elementNamed(board.profile, fault.at)?.circuit ?? null) : null,
      after,
    };
  }

  /** Work on an element, and the run that showed the fault made once more. */
  private change(value: Case, test: Candidate, { history }: Belief): Case {
    const at = test.at?.[0] ?? '';
    const unplugs = test.id.startsWith('unplug:');
    const id = `a${value.actions.length + 1}`;
    if (unplugs) this.off.push(at);
    else if (this.random() < settings.workSucceeds) this.left = this.left.filter((f) => f.at !== at);
    const action: Action = {
      ...plainAction,
      id,
      kind: unplugs ? 'disconnect' : 'replace',
      circuit: test.circuit,
      target: at,
    };
    const gone = this.left.filter((f) => !this.off.includes(f.at));
    const { run, trace } = this.one.recordAgain(this.shown, `r${value.runs.length + 1}`, gone, this.off);
    const made = { ...run, setup: { ...unknownSetup, ...run.setup, unplugged: [] }, after: id };
    this.shapes.set(made.id, describe(history.value, made, trace, null));
    return { ...value, actions: [...value.actions, action], runs: [...value.runs, made] };
  }
}
