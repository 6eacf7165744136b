// The cases and repairs of evidence/, through what the command line says of them.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './run.mjs';

const sets = { stories: 'whole repairs', 'stories-entry': 'repairs entered as at a bench' };
const stages = [0, 1, 2];

const open = (core, name) => core.zipFiles(core.bytesAccess(readFileSync(join(root, 'evidence', `${name}.zip`))), name);

/** What there is to assess, each task by itself: a case at a stage, or a repair from its first step to its last. */
export async function evidenceTasks(core) {
  const truths = await core.readTruth(await open(core, 'cases'));
  const cases = truths.flatMap((truth) => stages.map((stage) => ({ truth, stage })));
  const stories = [];
  for (const set of Object.keys(sets))
    for (const { id } of await core.readStories(await open(core, set))) stories.push({ set, id });
  return [...cases, ...stories];
}

/** Does some of the tasks; gives what held. */
export async function assessEvidence(core, tasks) {
  const [{ assessFiles }, { assessmentJson }] = await Promise.all(
    ['assess', 'print'].map((name) => import(join(root, 'cli', 'dist', `${name}.js`))),
  );
  const answerOf = async (files) => assessmentJson((await assessFiles(files)).assessment);
  const opened = new Map();
  for (const name of ['cases', ...Object.keys(sets)]) opened.set(name, await open(core, name));
  const done = [];
  for (const { truth, stage, set, id } of tasks)
    if (truth) {
      const answer = await answerOf(core.caseFiles(opened.get('cases'), truth.id, stage));
      done.push({ case: truth.id, held: core.heldByTruth(truth, stage, answer) });
    } else {
      const story = (await core.readStories(opened.get(set))).find((s) => s.id === id);
      const steps = [];
      let before = null;
      for (let n = 1; n <= story.steps.length; n++) {
        const answer = await answerOf(core.storyFiles(opened.get(set), story, n));
        steps.push(core.heldBy(story.steps[n - 1].expect, answer, before));
        before = answer;
      }
      done.push({ set, story: id, steps });
    }
  return done;
}

/** Counts of everything that held; each is the better the higher. */
export function countEvidence(done) {
  const counts = {};
  const of = (name, list, test) => (counts[name] = { held: list.filter(test).length, of: list.length });
  const cases = done.filter((d) => d.case).map((d) => d.held);
  for (const stage of stages) {
    const list = cases.filter((c) => c.stage === stage && !c.isOdd);
    of(`cases, stage ${stage}: accepted first`, list, (c) => c.accepted);
    of(`cases, stage ${stage}: accepted among three`, list, (c) => c.acceptedOfThree);
    of(`cases, stage ${stage}: the very circuit first`, list, (c) => c.exact);
  }
  of(
    'patterns',
    cases.filter((c) => !c.isOdd).flatMap((c) => c.patterns),
    (held) => held,
  );
  of(
    'odd cases: says that it does not know',
    cases.filter((c) => c.isOdd),
    (c) => c.saysUnknown,
  );
  of('never over 80 % for a wrong circuit', cases, (c) => !c.isFalselyCertain);
  for (const [set, name] of Object.entries(sets)) {
    const stories = done.filter((d) => d.set === set);
    of(
      `${name}: expectations`,
      stories.flatMap((s) => s.steps.flat()),
      (e) => e.holds,
    );
    of(`${name}: whole`, stories, (s) => s.steps.flat().every((e) => e.holds));
  }
  return counts;
}

/** What does not hold, a line each. */
export const missesOf = (done) =>
  done.flatMap(({ story, steps, case: id, held }) =>
    story
      ? steps.flatMap((step, n) => step.filter((e) => !e.holds).map((e) => `${story}, step ${n + 1}: ${e.what}`))
      : held.accepted || held.isOdd
        ? []
        : [`${id}, stage ${held.stage}: the first suspect is not accepted`],
  );
