import { checkIds, checkTypes, isCheck, namedChecks } from '../catalogue/index.ts';
import { plainCheck, type Check } from '../case/index.ts';
import type { WhyLeftOut } from '../reasons/index.ts';
import { triedIn, type Assembly } from './assembly.ts';
import { checkApplies } from './check-applies.ts';
import { checkQuestion } from './check-table.ts';
import { plainCandidate, reasonOfCheck } from './check-words.ts';
import type { Candidate, Entry, History, ObservationKind } from './kind.ts';
import { populationOf } from './population.ts';
import { movedQuestion } from './moved.ts';
import { faultStates, likelihoodsOf, type Over, type Question } from './question.ts';
import unplugSteps from './unplug-steps.json';
import { recoversWith, runShowsLife, showsItWorks } from './works.ts';
import rules from './checks.json';
import { onOneDevice } from './one-device.ts';
import { startingAlike } from './starting.ts';
import { besideRun, shownByRun } from './shown-by-run.ts';

/** What a check says of the change just before it that undoes or swaps something; null for any other. */
function asChange(history: History, check: Check): string | null {
  const rule = isCheck(check.id) ? checkTypes[check.id].afterChange : undefined;
  if (!rule || check.after === null || check.outcome === null) return null;
  const action = history.value.actions.find((a) => a.id === check.after);
  return action?.circuit && rule.circuits.includes(action.circuit) ? (rule.outcomes[check.outcome] ?? null) : null;
}

/** Everything that is answered with one of a few words, outside or with the cover off. */
export const checkKind: ObservationKind = {
  id: 'check',
  entries: (history) =>
    history.value.checks.flatMap((check, k): Entry[] => {
      const { id, outcome } = check;
      const reason = reasonOfCheck(check);
      const common = { kind: 'check', source: `check:${k}`, reason, epoch: history.epochOf(check.after) };
      const notUsed = (why: WhyLeftOut): Entry[] => [{ ...common, why }];
      if (!isCheck(id)) return notUsed({ id: 'unknown-check', values: {} });
      const { readBy } = checkTypes[id];
      if (readBy === 'ladder') return notUsed({ id: 'by-its-readings', values: {} });
      if (readBy !== undefined || check.half !== null) return [];
      if (outcome === null) return notUsed({ id: 'no-result', values: {} });
      const later = laterLook(history, check, k);
      if (later) return notUsed({ id: 'seen-later', values: { outcome: later.outcome ?? '' } });
      const moved = asChange(history, check);
      if (moved !== null) {
        const question = movedQuestion(history.space, common.epoch);
        return [{ ...common, answer: { question, word: moved }, likelihood: null }];
      }
      if (comparedByRuns(history, check)) return notUsed({ id: 'by-its-runs', values: {} });
      const assembly = assemblyWhen(history, check);
      const tried = id === namedChecks.peripherals ? triedIn(check) : [];
      const question = tried.length > 0 ? triedQuestion(history, tried) : askedOf(history, check);
      if (!question || !Object.hasOwn(question.outcomes, outcome)) return notUsed({ id: 'no-likelihoods', values: {} });
      return [
        {
          ...common,
          answer: { question, word: outcome },
          likelihood: null,
          assembly,
        },
      ];
    }),
  candidates: (history) =>
    checkIds.flatMap((id): Candidate[] => {
      if (checkTypes[id].readBy !== undefined || !checkApplies(history, id)) return [];
      const after = history.value.actions.at(-1)?.id ?? null;
      const question = askedOf(history, { ...plainCheck, id, outcome: null, after });
      if (!question) return [];
      const { name, minutes, depth } = checkTypes[id];
      return [plainCandidate({ id: `check:${id}`, check: id, name, minutes, depth, question })];
    }),
};

/** The question of a check. After a change, what the device failed at before it is asked for what the change did. */
function askedOf(history: History, check: Check): Question | null {
  if (!isCheck(check.id)) return null;
  const { space, over, value } = history;
  const question = checkQuestion(space, check.id, value.complaintKind);
  const recovered = checkTypes[check.id].outcomes.filter((outcome) => recoversWith(history, { ...check, outcome }));
  if (!question) return null;
  const asked =
    recovered.length > 0
      ? recoveryQuestion(question, recovered, movedQuestion(space, history.epochOf(check.after)), over)
      : question;
  const certainty = rules.startsAlike[space.closeness];
  const view = recovered.length > 0 ? null : populationOf(history);
  const { dead } = checkTypes[check.id];
  const expected = view
    ? onOneDevice(asked, check.id, { space, over, view, certainty })
    : dead
      ? startingAlike(asked, dead, certainty, over)
      : asked;
  const epoch = history.epochOf(check.after);
  const shown = shownByRun(
    history,
    history.seen.filter((s) => history.epochOf(s.run.after) === epoch),
  );
  // A recovery is asked for what the change did, which the run that shows it has said.
  return shown?.starts && recovered.length > 0 ? expected : besideRun(expected, check.id, shown, { space, over });
}

/**
 * A question whose answer may be a recovery: that comes as often as a healthy run does after the change, whatever circuit it was;
 * where it does not come, the answer is one of the others, in their own proportions.
 *
 * @param recovered outcomes that are a recovery
 * @param moved what a change is expected to do
 */
function recoveryQuestion(question: Question, recovered: readonly string[], moved: Question, over: Over): Question {
  const given = likelihoodsOf(question, over);
  const recovers = likelihoodsOf(moved, over).recovers;
  const words = Object.keys(question.outcomes);
  const tables = words.map((word) => {
    const among = recovered.includes(word) ? recovered : words.filter((w) => !recovered.includes(w));
    const table = faultStates.map((_, s) =>
      Array.from(given[word][s], (p, h) => {
        const mass = among.reduce((sum, w) => sum + given[w][s][h], 0);
        const share = mass > 0 ? p / mass : 1 / among.length;
        return share * (recovered.includes(word) ? recovers[s][h] : 1 - recovers[s][h]);
      }),
    );
    return [word, table] as const;
  });
  return {
    ...question,
    saysUnmodelled: true,
    outcomes: Object.fromEntries(tables.map(([word, table]) => [word, table[0]])),
    byState: Object.fromEntries(
      tables.map(([word, table]) => [word, Object.fromEntries(faultStates.slice(1).map((s, k) => [s, table[k + 1]]))]),
    ),
  };
}

/**
 * The later look at the same thing in the same state that takes the place of one that was on the way to it: a logo and then a
 * picture is a picture, a fan that twitched and then spins is one that spins.
 */
function laterLook({ value, epochOf }: History, check: Check, k: number): Check | undefined {
  const type = isCheck(check.id) ? checkTypes[check.id] : undefined;
  if (!type?.shows?.onTheWay?.includes(check.outcome ?? '')) return undefined;
  const isLater = (c: Check): boolean =>
    c.id === check.id && c.half === check.half && c.outcome !== null && c.outcome !== check.outcome;
  return value.checks.slice(k + 1).findLast((c) => isLater(c) && epochOf(c.after) === epochOf(check.after));
}

/** Whether two runs of one state of the device say what a check of a unit asks. */
function comparedByRuns({ value, epochOf }: History, check: Check): boolean {
  const compares = isCheck(check.id) ? checkTypes[check.id].compares : undefined;
  if (!compares) return false;
  const runs = value.runs.filter((r) => epochOf(r.after) === epochOf(check.after));
  const isTried = (r: (typeof runs)[number]): boolean => compares.tried.includes(r.setup[compares.part]);
  return runs.some(isTried) && runs.some((r) => !isTried(r));
}

/** How the device was put together when it was looked at: what lives where a run lives is what was run. */
function assemblyWhen({ assemblies, seen, epochOf }: History, check: Check): Assembly {
  const said = assemblies.ofCheck(check);
  if (check.setup !== undefined || check.unplugged.length > 0 || !showsItWorks(check)) return said;
  const last = seen.findLast((s) => epochOf(s.run.after) === epochOf(check.after));
  return last && runShowsLife(last) ? assemblies.ofRun(last.run) : said;
}

/** What is expected with parts unplugged one at a time: the reading stays as it is, unless the fault is in them. */
function triedQuestion({ space }: History, parts: readonly string[]): Question {
  const { stays, leaves } = unplugSteps;
  const flat = (p: number): number[] => space.hypotheses.map(() => p);
  return {
    key: `unplugged:${parts
      .map((p) => p.toLowerCase())
      .sort()
      .join('+')}`,
    repeats: unplugSteps.repeats,
    saysUnmodelled: true,
    outcomes: Object.fromEntries(Object.entries(stays).map(([word, p]) => [word, flat(p)])),
    byState: Object.fromEntries(
      Object.entries(leaves).map(([word, p]) => [
        word,
        { works: flat(p), other: flat(stays[word as keyof typeof stays]) },
      ]),
    ),
  };
}
