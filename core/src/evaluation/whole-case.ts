import { checkIds, isCheck } from '../case/index.ts';
import { believe, describe, movedByWork, railsOf, shortedRail, type Believed, type Trial } from '../diagnosis/index.ts';
import {
  afterOutcome,
  boardTests,
  elementsOf,
  leadingElement,
  minutesOf,
  nextTests,
  type BenchNow,
  type BoardTest,
} from '../measure/index.ts';
import { seededRandom, type Random } from '../trace/index.ts';
import type { Profile } from '../twin/index.ts';
import settings from './whole-case.json';
import type { VirtualCase } from './virtual-case.ts';

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
export type Way = 'planned' | 'rail-list';

/**
 * Plays one case from the first runs to the element at fault: a virtual technician makes test after test at the opened
 * device, each answered by the unit with its hidden fault, until one element is sure enough. Either as planned, or as one
 * does without a plan: the rails in their order for a voltage, then for their resistance, then injection where one is low,
 * then the checks, then part after part, the likeliest first. Both weigh what they find alike and stop by the same rule.
 *
 * @param one a case with a fault that the profile has an element for
 */
export function playWholeCase(
  one: VirtualCase,
  profiles: ReadonlyMap<string, Profile>,
  way: Way,
  seed: number,
): Played {
  const shapes = new Map(
    one.value.runs.flatMap((run) => {
      const trace = one.traces.get(run.id);
      return trace ? [[run.id, describe(one.value, run, trace, null)] as const] : [];
    }),
  );
  const believed = believe(one.value, shapes, { profiles });
  const { twin } = believed;
  const unit = new Unit(one, seededRandom(seed));
  let { posterior } = believed;
  // What a virtual device has no answer to (its looks, say) is not asked.
  const mute = checkIds.filter((id) => one.outcomeOf(id) === null).map((id) => `check:${id}`);
  let now: BenchNow = { reached: settings.reached, last: null, found: new Map(mute.map((id) => [id, ''])) };
  const played: Played = { minutes: 0, probes: 0, right: false, decided: false, named: '', steps: [] };
  for (let step = 0; step < settings.mostSteps && played.minutes < settings.mostMinutes; step++) {
    if (leadingElement(twin, posterior, now.found).isDecided) break;
    const test =
      way === 'planned'
        ? nextTests(twin, posterior, now, { most: 1, checks: believed.outcomes })[0]
        : nextOnList(believed, posterior, now);
    if (!test) break;
    const outcome = unit.answer(test);
    const shown = outcome in test.outcomes ? outcome : 'otherwise';
    posterior = afterOutcome(posterior, test, shown);
    played.minutes += minutesOf(test, now);
    played.probes += test.kind === 'voltage' || test.kind === 'resistance' ? test.at.length : 0;
    played.steps.push(`${test.id}: ${outcome}`);
    now = {
      reached: Math.max(now.reached, test.depth),
      last: test.kind,
      found: new Map([...now.found, [test.id, shown]]),
    };
  }
  const { element, isDecided } = leadingElement(twin, posterior, now.found);
  const right = one.faults.some((f) => f.at === element.id);
  return { ...played, right, decided: isDecided, named: element.id };
}

/** The next point of the list: voltages, resistances, injection where it was low, then the likeliest part. */
function nextOnList(believed: Believed, posterior: readonly number[], now: BenchNow): BoardTest | undefined {
  const { twin, outcomes: checks } = believed;
  const open = boardTests({ twin, elements: elementsOf(twin), posterior, done: new Set(now.found.keys()), checks });
  const single = open.filter((t) => t.at.length === 1);
  return (
    single.find((t) => t.kind === 'voltage' && t.phase === 'after') ??
    single.find((t) => t.kind === 'resistance') ??
    single.find((t) => t.kind === 'inject') ??
    open.filter((t) => t.kind === 'check').sort((a, b) => a.depth - b.depth || a.minutes - b.minutes)[0] ??
    single.find((t) => t.kind === 'replace')
  );
}

/** The device on the bench, which answers every test by its hidden fault. */
class Unit {
  private readonly trial: Trial;

  constructor(
    private readonly one: VirtualCase,
    private readonly random: Random,
  ) {
    this.trial = one.trial;
  }

  answer(test: BoardTest): string {
    const told = this.told(test);
    if (this.random() >= settings.slip) return told;
    const others = Object.keys(test.outcomes).filter((word) => word !== told);
    return others[Math.floor(this.random() * others.length)] ?? told;
  }

  private told(test: BoardTest): string {
    const { board, faults } = this.trial;
    const rails = railsOf(this.trial);
    const indices = test.at.map((id) => board.railIndex.get(id) ?? -1);
    switch (test.kind) {
      case 'voltage':
        return indices.map((r) => rails?.[test.phase ?? 'after'][r] ?? 'down').join('+');
      case 'resistance':
        return indices.map((r) => (rails?.low[r] ? 'low' : 'sound')).join('+');
      case 'inject':
        return faults.find((f) => shortedRail(board, f) === indices[0])?.at ?? 'nothing';
      case 'check':
        return (isCheck(test.at[0]) ? this.one.outcomeOf(test.at[0]) : null) ?? 'otherwise';
      case 'unplug':
      case 'replace': {
        const succeeds = this.random() < settings.workSucceeds;
        const left = succeeds ? faults.filter((f) => f.at !== test.at[0]) : faults;
        return movedByWork(this.trial, test.kind === 'unplug' ? 'disconnect' : 'replace', test.at[0], left) ?? 'same';
      }
    }
  }
}
