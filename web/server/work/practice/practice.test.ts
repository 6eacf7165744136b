import { courseLessons, judgeAnswer, optionsOf, questionAgain, type CircuitId } from '@umbral/core';
import { giveTestDatabase } from '../../../testing/database.ts';
import { loadBenchNow, openTasks } from '../day/bench-now.ts';
import { runningWaits } from '../entries/waits.ts';
import { db, transaction } from '../../record/db.ts';
import { failure } from '../../record/errors.ts';
import { closeJob, setStage, setTrashed } from '../entries/job-edits.ts';
import { outcomeInput } from '../../record/input.ts';
import { latestAssessment, loadContent } from '../jobs/jobs.ts';
import { toldCases } from '../../../testing/taught.ts';
import { notebookEntries } from '../library/notebook.ts';
import { saveReading } from '../opened/measure.ts';
import { putOnLeads } from '../../edges/recorder/on-leads.ts';
import { measureInput } from '../opened/measure-input.ts';
import { asActor, type Person } from '../../record/actor.ts';
import { addPerson, changePerson } from '../people/people.ts';
import { repairCounts } from '../shop/policy.ts';
import { saveProfile } from '../shop/profiles.ts';
import { enterChange } from '../entries/repair.ts';
import { actionInput } from '../../record/input.ts';
import { loadTrash } from '../entries/trash.ts';
import {
  feedInput,
  feedUnit,
  saveProbed,
  lookAtUnit,
  powerInput,
  powerUnit,
  probeInput,
  refuseInvented,
  refuseUnread,
  watchUnit,
} from './bench.ts';
import { proofInput, saveProof } from '../entries/proofs.ts';
import { addTypedRun } from '../entries/record.ts';
import { callInput, callUnit, finishUnit, loadReviews, nextTests } from './calls.ts';
import { answerCard, loadCards } from './cards.ts';
import { answerQuestion, lessonUnit, loadCourse, loadLesson } from './course.ts';
import { calledUnits } from './figures.ts';
import { takeNext } from './next.ts';
import { loadLearners, loadTeamUnit, setTeamUnit, takeTeamUnit, unitFromJob, weekOf } from './team.ts';
import { isUncalled } from '../jobs/uncalled.ts';
import { makeUnit, type UnitOrder } from './units.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

let me: Person;
let lead: Person;
beforeAll(async () => {
  const person = async (name: string, role: Person['role']): Promise<Person> => ({
    id: await addPerson(name, role, 'long enough to be one'),
    name,
    role,
  });
  lead = await person('Ada Quill', 'lead');
  me = await person('Ben Ostrow', 'technician');
});

const unit = (over: Partial<UnitOrder> = {}): Promise<number> =>
  transaction((q) => makeUnit(q, me, { source: 'free', profile: 'tallgate-moorcall-2', seed: 5, ...over }));
const power = (jobId: number, over: object = {}) =>
  powerUnit(powerInput.validateSync({ jobId, feed: 'battery', instrument: 'bench-logger', ...over }), me);
const call = (jobId: number, shares: [CircuitId, number][], over: object = {}) =>
  callUnit(
    callInput.validateSync({
      jobId,
      pattern: 'stall-mid',
      shares: shares.map(([circuit, percent]) => ({ circuit, percent })),
      ...over,
    }),
    me,
  );
const row = (jobId: number) => db()('practice_units').where({ job_id: jobId }).first();

test('from the bench to the truth: recorded, called, probed, fed, changed, finished', async () => {
  const id = await unit({ circuit: 'core.memory' });
  await expect(call(id, [['core.memory', 100]])).rejects.toThrow('There is no run yet');
  expect(await power(id)).toBe('r1');
  expect(await isUncalled(db(), id)).toBe(true);
  expect(await lookAtUnit({ jobId: id, check: 'screen' }, me)).toBe('dark');
  await call(id, [
    ['core.storage', 70],
    ['core.memory', 30],
  ]);
  expect(await isUncalled(db(), id)).toBe(false);
  const { shows } = await saveProbed(probeInput.validateSync({ jobId: id, rail: 'memory', mode: 'voltage' }), me);
  expect(shows).toMatch(/ V$/);
  const fed = await feedUnit(feedInput.validateSync({ jobId: id, rail: 'memory', setV: 5, limitA: 1 }), me);
  expect(fed.heat.outcome).toBe('none');
  const change = actionInput.validateSync({ jobId: id, kind: 'replace', target: 'memory-chip', confirmed: true });
  await enterChange(change);
  expect(await power(id)).toBe('r2');
  const last = await db()('assessments').where({ job_id: id }).orderBy('id', 'desc').first();
  expect(last?.result.runs.at(-1)?.pattern[0].id).toBe('normal-start');
  const shares = [{ circuit: 'core.memory' as const, percent: 90 }];
  await expect(finishUnit({ jobId: id, shares }, me)).rejects.toThrow('they sum to 90');
  const closed = { grade: 'cleared', fix: 'New memory.' };
  await finishUnit({ jobId: id, shares: [...shares, { circuit: 'core.storage', percent: 10 }], ...closed }, me);
  const done = await row(id);
  expect(done?.closing).toMatchObject({ isRight: true, circuit: 'core.memory', ...closed });
  // The shop has no job more that is closed.
  expect(await db()('jobs').where({ id }).first()).toMatchObject({ outcome_grade: null, closed_at: null });
  expect(done?.tally).toMatchObject({ probes: 1, changes: 1, wasted: 0, risks: [{ id: 'above-the-rail' }] });
  await expect(power(id)).rejects.toThrow('This unit is finished');
  await expect(finishUnit({ jobId: id, shares: null }, me)).rejects.toThrow('This unit is finished');
  const [called] = await calledUnits(db(), me.id);
  expect(called).toMatchObject({ circuit: 'core.memory', said: 'core.storage', sure: 0.7, depth: 4 });
  // It was changed and it works: the engine knows, and so does who changed it.
  expect(called.final?.points).toBeGreaterThan(95);
  expect(called.final?.engine).toBeGreaterThan(90);
  expect((await loadReviews(db(), me.id, 'pair'))[0]).toMatchObject({ key: 'core.memory | core.storage', wrong: 1 });
});

test('nobody but its owner works on a unit, whichever way the job is changed', async () => {
  const id = await unit({ circuit: 'core.memory' });
  await power(id);
  const as = <T>(person: Person, work: () => Promise<T>): Promise<T> =>
    asActor({ person, token: null, tokenId: null }, work);
  const change = actionInput.validateSync({ jobId: id, kind: 'replace', target: 'memory-chip', confirmed: true });
  const reading = measureInput.validateSync({
    jobId: id,
    where: 'io',
    text: '0.4',
    mode: 'resistance',
    phase: 'before',
  });
  const { version } = (await loadContent(db(), id)).job;
  const works: (() => Promise<unknown>)[] = [
    () => enterChange(change),
    () => saveReading(reading),
    () => addTypedRun(id, 'battery 3.85V limit 3A: 0 | prompt 0.1 hold', undefined),
    () => setTrashed(id, true),
    () => setStage(id, version, 'measure'),
  ];
  for (const work of works) await expect(as(lead, work)).rejects.toMatchObject({ code: 'UM001' });
  expect(failure(Object.assign(new Error('x'), { code: 'UM001' }))).toMatchObject({ kind: 'forbidden' });
  expect(await as(me, () => addTypedRun(id, 'battery 3.85V limit 3A: 0 | prompt 0.1 hold', undefined))).toBe('r2');
});

test('a unit is asked and never believed: what is seen, read, changed and verified comes from it', async () => {
  const id = await unit({ circuit: 'core.storage', fault: 'mute:storage-chip' });
  await power(id);
  await call(id, [['core.storage', 100]]);
  await expect(refuseInvented(id)).rejects.toThrow('Look, probe and inject on its own bench');
  const change = (target: string) =>
    asActor({ person: me, token: null, tokenId: null }, () =>
      enterChange(actionInput.validateSync({ jobId: id, kind: 'replace', target, confirmed: true })),
    );
  await expect(change('U7')).rejects.toThrow('this practice unit has no part called “U7”');
  const prove = () =>
    asActor({ person: me, token: null, tokenId: null }, () =>
      saveProof(proofInput.validateSync({ jobId: id, protocol: 'three-cold-starts', step: 'first', result: 'pass' })),
    );
  await change('memory');
  expect(await prove()).toMatchObject({ result: 'fail' });
  // The right part under another of its names.
  await change('flash chip');
  expect(await prove()).toMatchObject({ result: 'pass', reason: 'tried on the simulated unit' });
});

test('a display that is watched keeps nothing; what is read off it is typed as on any job', async () => {
  const id = await unit({ circuit: 'core.memory' });
  const on = powerInput.validateSync({ jobId: id, feed: 'battery', instrument: 'display' });
  const watched = await watchUnit(on, me);
  expect(watched.line).toBe('battery 3.85V limit 3A: ');
  expect(watched.t.length).toBe(watched.amps.length);
  expect(watched.promptAt).toBeGreaterThan(0);
  expect(await db()('runs').where({ job_id: id })).toEqual([]);
  await expect(refuseUnread(id, `${watched.line}0 | prompt 3.9 hold`)).rejects.toThrow(
    'The display never showed 3.90 A. Watch it again.',
  );
  const other = await unit({ circuit: 'core.memory' });
  await expect(refuseUnread(other, `${watched.line}0`)).rejects.toThrow('watch it first');
  const atEnd = Math.max(...watched.amps.slice(-10));
  await refuseUnread(id, `${watched.line}0 | prompt ${atEnd.toFixed(2)} hold`);
  expect(await addTypedRun(id, `${watched.line}0 | prompt ${atEnd.toFixed(2)} hold`, undefined)).toBe('r1');
  await call(id, [['core.memory', 100]]);
  expect(await isUncalled(db(), id)).toBe(false);
});

test('the test that is named next has its points, and what is expected of it is held against the engine', async () => {
  const id = await unit({ fault: 'short:io=0.4', circuit: null });
  await power(id);
  const { next } = (await latestAssessment(db(), id))?.result ?? { next: [] };
  const named = await nextTests(db(), await loadContent(db(), id));
  const first = named.find((t) => t.name === next[0].name);
  const wild = { test: 'Lick the battery' };
  await expect(call(id, [['pmic', 100]], wild)).rejects.toThrow('"Lick the battery" is not possible now.');
  const odd = { test: first?.name, expects: 'a smell' };
  await expect(call(id, [['pmic', 100]], odd)).rejects.toThrow(/expected one of .*; got "a smell"/);
  const [outcome] = first?.outcomes ?? [];
  await call(id, [['pmic', 100]], { test: first?.name, expects: outcome.says });
  const kept = await db()('practice_calls').where({ job_id: id }).first();
  expect(kept).toMatchObject({ test_points: 100, expects: outcome.says });
  expect(kept?.expects_p).toBeCloseTo(outcome.p, 9);
  const last = (await calledUnits(db(), me.id)).find((c) => c.jobId === id);
  expect(last?.testPoints).toBe(100);
});

test('volts and amperes that are no numbers are said to be none', () => {
  const on = { jobId: 1, feed: 'battery', instrument: 'bench-logger' };
  expect(() => powerInput.validateSync({ ...on, setV: Number.NaN })).toThrow('Volts: expected a number, such as 3.85');
  expect(() => powerInput.validateSync({ ...on, limitA: 'three' })).toThrow('Limit: expected a number of amperes');
  expect(() => feedInput.validateSync({ jobId: 1, rail: 'io', setV: Number.NaN, limitA: 1 })).toThrow(
    'Volts: expected',
  );
});

test('the fact that decides is kept with the call, and speaks for what the unit has', async () => {
  const id = await unit({ circuit: null, fault: 'mute:button' });
  await power(id, { battery: false });
  await call(id, [['input.protection', 100]]);
  const kept = await db()('practice_calls').where({ job_id: id }).first();
  expect(kept?.decided).toMatchObject({
    circuit: 'button',
    run: 'r1',
    says: expect.stringContaining('before power-on'),
  });
  for (const fact of kept?.missed ?? []) expect(['button', null]).toContain(fact.circuit);
});

test('what is said at the end needs a call before it', async () => {
  const id = await unit();
  await power(id);
  const shares = [{ circuit: 'pmic' as const, percent: 100 }];
  await expect(finishUnit({ jobId: id, shares }, me)).rejects.toThrow('call before');
  await expect(finishUnit({ jobId: id, shares: null, grade: 'cleared' }, me)).rejects.toThrow('Make your call before');
  expect((await row(id))?.finished_at).toBeNull();
});

describe('bad input', () => {
  test('percentages that do not sum, a circuit twice, a pattern that is none', async () => {
    const id = await unit();
    await power(id);
    await expect(call(id, [['pmic', 60]])).rejects.toThrow('they sum to 60; expected 100');
    await expect(
      call(id, [
        ['pmic', 60],
        ['pmic', 40],
      ]),
    ).rejects.toThrow('entered twice.');
    expect(() => callInput.validateSync({ jobId: id, pattern: 'wobbly', shares: [] })).toThrow('Pattern');
    expect(await db()('practice_calls').where({ job_id: id })).toEqual([]);
  });

  test('an answer that is given twice counts once, also at the same moment', async () => {
    const id = await unit();
    await power(id);
    const tries = await Promise.allSettled([call(id, [['pmic', 100]]), call(id, [['none', 100]])]);
    expect(tries.filter((t) => t.status === 'fulfilled')).toHaveLength(1);
    await expect(call(id, [['button', 100]])).rejects.toThrow('The first call counts.');
  });

  test('what a device does not have, and someone else’s unit', async () => {
    const id = await unit();
    await expect(power(id, { feed: 'dc-in', instrument: 'display' })).rejects.toThrow('no DC input');
    await expect(
      powerUnit(powerInput.validateSync({ jobId: id, feed: 'battery', instrument: 'display' }), lead),
    ).rejects.toThrow('someone else’s');
    await expect(unit({ circuit: 'mgmt' })).rejects.toThrow('no part of "mgmt"');
    await expect(unit({ fault: 'short' })).rejects.toThrow('expected "none" or "kind:element"');
    await expect(unit({ profile: 'nowhere' })).rejects.toThrow('Profile nowhere');
    expect(() => feedInput.validateSync({ jobId: id, rail: 'io', setV: -1, limitA: 1 })).toThrow('more than 0');
  });

  test('a profile that changes under a unit changes nothing of it', async () => {
    const id = await unit({ circuit: 'core.memory', profile: 'fenmoor-dovetale-6' });
    const before = await row(id);
    const text = JSON.stringify({
      ...before?.device,
      id: 'fenmoor-dovetale-6',
      name: 'Fenmoor Dovetale 6',
      generic: false,
    });
    await transaction((q) => saveProfile(q, text, { fileName: 'x.json', note: 'changed', basedOn: null }));
    await power(id);
    const job = await db()('jobs').where({ id }).first();
    expect(job?.profile_version).toBe(0);
    expect((await row(id))?.device).toEqual(before?.device);
  });
});

test('nothing of practice enters what the shop has', async () => {
  const everything = async () => ({
    bench: openTasks(await loadBenchNow(db(), new Date())).open.length,
    waits: (await runningWaits(db())).length,
    library: (await toldCases()).length,
    notebook: (await notebookEntries(db())).entries.length,
    calls: await db()('calls').count({ n: '*' }).first(),
    repairs: await repairCounts(db()),
    trash: (await loadTrash()).length,
    confirmations: await db()('confirmations').count({ n: '*' }).first(),
    references: await db()('reference_readings').count({ n: '*' }).first(),
  });
  const before = await everything();
  const id = await unit({ circuit: 'core.memory' });
  await power(id);
  await call(id, [['core.memory', 100]]);
  await enterChange(
    actionInput.validateSync({
      jobId: id,
      kind: 'clean',
      target: 'board',
      confirmed: true,
      waitKind: 'dry',
      waitMinutes: 60,
    }),
  );
  const good = { jobId: id, where: 'io', text: '0.41', mode: 'diode', good: true };
  await expect(saveReading(measureInput.validateSync(good))).rejects.toThrow('practice unit');
  const close = outcomeInput.validateSync({ jobId: id, version: 1, grade: 'cleared', circuit: 'core.memory' });
  await expect(closeJob(close)).rejects.toThrow('unit on its own page.');
  await finishUnit({ jobId: id, shares: null }, me);
  await db()('jobs').where({ id }).update({ deleted_at: new Date() });
  expect(await everything()).toEqual(before);
  expect(id).toBeGreaterThan(900_000_000);
});

test('no real supply is armed for a unit to practise on', async () => {
  const id = await unit();
  await expect(putOnLeads('a-real-supply', id)).rejects.toThrow('Only a simulated supply can be armed for it.');
  expect(await db()('on_leads').where({ job_id: id })).toEqual([]);
});

describe('the course', () => {
  const [first] = courseLessons;

  test('a wrong answer can be given again, a right one stays, and a lesson is done with its units', async () => {
    const say = (question: number, given: string) => answerQuestion({ lesson: first.id, question, given }, me);
    await expect(say(0, 'many')).rejects.toThrow('expected a number in mA');
    await expect(say(2, '9')).rejects.toThrow('expected one of the options');
    await expect(say(77, '1')).rejects.toThrow('Question 78');
    await expect(answerQuestion({ lesson: 'none', question: 0, given: '1' }, me)).rejects.toThrow('Lesson "none"');
    await say(0, '2 mA');
    await say(0, '900 mA');
    const view = await loadLesson(db(), first.id, me.id);
    expect(view.questions[0].answer).toMatchObject({ given: '2 mA', isRight: true });
    expect(view.questions[1].answer).toBeNull();
    await say(1, '5');
    expect((await loadLesson(db(), first.id, me.id)).questions[1].answer).toMatchObject({ isRight: false });
    const [asked, again] = [0, 1].map((times) => questionAgain(first.questions[1], times));
    const rightAt = (q: typeof asked): string => judgeAnswer(q, '1')?.right ?? '';
    const shown = (await loadLesson(db(), first.id, me.id)).questions[1];
    expect(shown.again?.picture).not.toEqual(shown.picture);
    expect(rightAt(again)).not.toBe(rightAt(asked));
    for (const [k, question] of first.questions.map((q, at) => (at === 1 ? again : q)).entries()) {
      const options = optionsOf(question);
      const right = judgeAnswer(question, options.length > 0 ? '0' : '1')?.right ?? '';
      await say(k, options.length > 0 ? String(options.indexOf(right)) : right);
    }
    expect((await loadLesson(db(), first.id, me.id)).questions[1].answer).toMatchObject({ isRight: true });
    expect((await loadLesson(db(), first.id, me.id)).isDone).toBe(false);
    const job = await lessonUnit(first.id, 0, me);
    expect(await lessonUnit(first.id, 0, me)).toBe(job);
    await power(job);
    await call(job, [['button', 100]]);
    expect((await loadLesson(db(), first.id, me.id)).isDone).toBe(true);
    expect((await loadCourse(db(), me.id))[0]).toMatchObject({ isDone: true, number: 1 });
  });
});

describe('what comes next', () => {
  test('a unit that lies there uncalled is gone on with; then another', async () => {
    const id = await takeNext(me);
    expect(await takeNext(me)).toBe(id);
    await power(id, (await row(id))?.device.battery ? {} : { feed: 'dc-in', instrument: 'display' });
    await call(id, [['none', 100]]);
    expect(await takeNext(me)).not.toBe(id);
  });

  test('silhouettes: what was missed is asked before what was known', async () => {
    const random = (): number => 0.4;
    const cards = await loadCards(db(), me.id, 20, random);
    expect(cards.length).toBeGreaterThan(3);
    for (const c of cards) expect(c.options.map((o) => o.id)).toContain(c.pattern);
    await answerCard({ pattern: cards[0].pattern, said: cards[0].pattern }, me);
    const again = await loadCards(db(), me.id, 20, random);
    expect(again.at(-1)?.pattern).toBe(cards[0].pattern);
    await expect(answerCard({ pattern: 'wobbly', said: null }, me)).rejects.toThrow('"wobbly" is unknown.');
  });
});

describe('for the lead', () => {
  const now = new Date('2026-11-27T10:00:00Z');

  test('the unit of the week is the same for all, and stays once somebody has begun it', async () => {
    expect(weekOf(now)).toBe('2026-11-23');
    expect(await loadTeamUnit(db(), me.id, now)).toBeNull();
    await expect(takeTeamUnit(me, now)).rejects.toThrow('The unit of this week');
    const order = { profile: 'fenmoor-larkslate-10', circuit: 'pmic' as const, severity: null };
    await setTeamUnit(order, now);
    const [mine, theirs] = [await takeTeamUnit(me, now), await takeTeamUnit(lead, now)];
    expect(await takeTeamUnit(me, now)).toBe(mine);
    expect((await row(mine))?.faults).toEqual((await row(theirs))?.faults);
    expect((await row(mine))?.device).toEqual((await row(theirs))?.device);
    await expect(setTeamUnit(order, now)).rejects.toThrow('Someone has');
    expect((await loadTeamUnit(db(), me.id, now))?.results).toEqual([]);
    await power(mine);
    await call(mine, [['pmic', 100]]);
    expect((await loadTeamUnit(db(), me.id, now))?.results).toEqual([{ name: 'Ben Ostrow', points: 100, right: true }]);
  });

  test('a unit is made from a closed job: the same circuit, other numbers', async () => {
    const [{ id }] = await db()('jobs')
      .insert({
        label: 'phone',
        device_class: 'phone',
        model: 'Tallgate Moorcall 2',
        profile: 'tallgate-moorcall-2',
        outcome_grade: 'cleared',
        outcome_circuit: 'core.memory',
        outcome_target: 'memory-chip',
        closed_at: new Date(),
      })
      .returning('id');
    const made = await unitFromJob(id, lead);
    expect(await row(made)).toMatchObject({ circuit: 'core.memory', faults: [{ at: 'memory-chip' }], source: 'job' });
    await db()('jobs').where({ id }).delete();
    await expect(unitFromJob(id, lead)).rejects.toThrow(`Job ${id}`);
  });

  test('who is ready for what stands on calls; whoever leaves takes their figures along, and nothing else', async () => {
    const [learner] = (await loadLearners()).filter((l) => l.id === me.id);
    expect(learner.byClass.find((c) => c.name === 'phone')?.ready.isReady).toBe(false);
    expect(learner.last.length).toBeGreaterThan(0);
    const audits = await db()('audit').count({ n: '*' }).first();
    const { version } = (await db()('people').where({ id: me.id }).first('version')) as { version: number };
    await changePerson(me.id, version, { isDisabled: true });
    expect((await loadLearners()).filter((l) => l.id === me.id)).toEqual([]);
    expect(await calledUnits(db(), me.id)).toEqual([]);
    for (const table of ['practice_reviews', 'practice_lessons', 'practice_learners'] as const)
      expect(await db()(table).where({ person_id: me.id })).toEqual([]);
    expect(Number((await db()('audit').count({ n: '*' }).first())?.n)).toBeGreaterThan(Number(audits?.n));
    expect((await loadTeamUnit(db(), lead.id, now))?.jobId).not.toBeNull();
  });
});
