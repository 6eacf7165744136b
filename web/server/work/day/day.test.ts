import type { Person } from '../../record/actor.ts';
import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { jobInput, outcomeInput } from '../../record/input.ts';
import * as jobEdits from '../entries/job-edits.ts';
import { dayPolicyInput, dayPolicyOf, usualDay } from '../shop/day-policy.ts';
import { loadPolicy, policyInput, saveDayPolicy, savePolicy } from '../shop/policy.ts';
import { addTypedRun } from '../entries/record.ts';
import { calendarFile, jobsCsv, loadDayEnd } from './day-end.ts';
import { pinJobs, snoozeJob } from './marks.ts';
import { costOfOrder, makeSheet } from './sheet.ts';
import { inHands, putDown, takeJob } from './takes.ts';
import {
  endWaits,
  acknowledgeWait,
  addWait,
  pastWaits,
  runningWaits,
  usualWaits,
  waitInput,
  waitOver,
} from '../entries/waits.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();
beforeEach(async () => {
  await db()('jobs').update({ deleted_at: db().fn.now() });
  await db()('takes').delete();
  await db()('shop_policy').delete();
});

const newJob = (label: string, over: object = {}): Promise<number> =>
  jobEdits.createJob(
    jobInput.validateSync({ label, deviceClass: 'phone', complaintKind: 'no-start', intake: {}, ...over }),
  );
const wait = (jobId: number, over: object): Promise<void> =>
  addWait(waitInput.validateSync({ jobId, kind: 'dry', ...over }));
const person = async (name: string): Promise<Person> => {
  const [row] = await db()('people').insert({ name, role: 'technician' }).returning('id');
  return { id: (row as { id: number }).id, name, role: 'technician' };
};
const ids = (entries: readonly { jobId: number }[]): number[] => entries.map((e) => e.jobId);
const now = (): Date => new Date();
const dayOn = (at: Date): string => at.toISOString().slice(0, 10);

describe('waits', () => {
  test('run, are over, and come back by hand; closing a job ends them', async () => {
    const jobId = await newJob('wet phone');
    await wait(jobId, { minutes: 10 });
    const [running] = await runningWaits(db());
    expect(running).toMatchObject({ jobId, label: 'wet phone', kind: 'dry', heard: false });
    const sheet = await makeSheet(db(), now());
    expect(sheet.entries).toMatchObject([{ jobId, isReady: false }]);
    const later = await makeSheet(db(), new Date(Date.now() + 11 * 60_000));
    expect(later.entries).toMatchObject([{ jobId, isReady: true, why: 'Ready again: dries.' }]);
    await acknowledgeWait(running.id);
    expect((await runningWaits(db()))[0].heard).toBe(true);
    await waitOver(jobId, running.id);
    expect(await runningWaits(db())).toEqual([]);
    await wait(jobId, { kind: 'answer' });
    await jobEdits.closeJob(
      outcomeInput.validateSync({
        jobId,
        version: (await db()('jobs').where({ id: jobId }).first())!.version,
        grade: 'declined',
        fix: '',
      }),
    );
    expect(await db()('waits').where({ job_id: jobId }).whereNull('ended_at')).toEqual([]);
    await expect(wait(jobId, { minutes: 5 })).rejects.toThrow('This job is closed');
  });

  test.each([
    [{ until: new Date('2020-01-01') }, 'that moment has passed'],
    [{ minutes: -5 }, 'expected 1 minute'],
    [{ minutes: 1e9 }, 'to 90 days'],
  ])('%j is none, and nothing of the job changes', async (over, says) => {
    const jobId = await newJob('phone');
    await expect(wait(jobId, over)).rejects.toThrow(says);
    expect(await runningWaits(db())).toEqual([]);
  });

  test('the clock of the server is put back: the wait runs on, and never ends before it began', async () => {
    const jobId = await newJob('phone');
    await wait(jobId, { minutes: 10 });
    const before = await makeSheet(db(), new Date(Date.now() - 3_600_000));
    expect(before.entries).toMatchObject([{ jobId, isReady: false }]);
    await db()('waits')
      .where({ job_id: jobId })
      .update({ started_at: new Date(Date.now() + 600_000), until_at: new Date(Date.now() + 900_000) });
    expect(await endWaits(db(), jobId)).toBe(1);
    const [row] = await db()('waits').where({ job_id: jobId });
    expect(row.ended_at!.getTime()).toBeGreaterThanOrEqual(row.started_at.getTime());
  });

  test('what is usual follows what was met here', async () => {
    const jobId = await newJob('phone');
    const usual = (await usualWaits(db())).overnight;
    for (let k = 0; k < 6; k++)
      await db()('waits').insert({
        job_id: jobId,
        kind: 'overnight',
        started_at: new Date(Date.now() - 3_600_000),
        ended_at: new Date(Date.now() - 1_800_000),
      });
    expect((await pastWaits(db())).filter((w) => w.kind === 'overnight')).toHaveLength(6);
    expect((await usualWaits(db())).overnight).toBeLessThan(usual);
  });
});

describe('the run sheet', () => {
  test('every open job stands once, with a reason; what waits for somebody, and what is put off, stands aside', async () => {
    const [first, second, third] = [await newJob('first'), await newJob('second'), await newJob('third')];
    await addTypedRun(first, 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold', undefined);
    await wait(second, { kind: 'answer' });
    await snoozeJob(third, new Date(Date.now() + 3_600_000));
    const sheet = await makeSheet(db(), now());
    expect(ids(sheet.entries)).toEqual([first]);
    expect(sheet.entries[0].why).not.toBe('');
    expect(sheet.entries[0].next.minutes).toBeGreaterThan(0);
    expect(ids(sheet.snoozed)).toEqual([third]);
    expect(ids(sheet.waits)).toEqual([second]);
    await expect(snoozeJob(third, new Date('2020-01-01'))).rejects.toThrow('has passed');
    await snoozeJob(third, null);
    expect(ids((await makeSheet(db(), now())).entries).sort()).toEqual([first, third].sort());
  });

  test('a hazard first; what is due soon before what is due late; overdue says so', async () => {
    const day = 86_400_000;
    const late = await newJob('late', { dueOn: dayOn(new Date(Date.now() + 9 * day)) });
    const soon = await newJob('soon', { dueOn: dayOn(new Date(Date.now() + 0.1 * day)) });
    const swollen = await newJob('swollen', {
      intake: { batterySwollen: true },
      dueOn: dayOn(new Date(Date.now() + 30 * day)),
    });
    await db()('jobs')
      .where({ id: soon })
      .update({ due_at: new Date(Date.now() + 0.1 * day) });
    const sheet = await makeSheet(db(), now());
    expect(ids(sheet.entries)).toEqual([swollen, soon, late]);
    expect(sheet.entries[0].why).toMatch(/^Swollen battery/);
    await db()('jobs')
      .where({ id: late })
      .update({ due_at: new Date(Date.now() - 2 * day) });
    expect((await makeSheet(db(), now())).entries.find((e) => e.jobId === late)?.why).toMatch(/^Overdue by 2 days;/);
  });

  test('what is put first stands first, what that costs is said, and it can be taken back', async () => {
    const [a, b, c] = [
      await newJob('a'),
      await newJob('b'),
      await newJob('c', { dueOn: dayOn(new Date(Date.now() + 3_600_000)) }),
    ];
    const price = await costOfOrder(db(), now(), [b]);
    expect(price.says).toMatch(/^This costs/);
    await pinJobs([b, a]);
    const sheet = await makeSheet(db(), now());
    expect(ids(sheet.entries).slice(0, 2)).toEqual([b, a]);
    expect(sheet.entries[0]).toMatchObject({ isPinned: true, why: 'Moved here by hand.' });
    expect(ids(sheet.entries)).toContain(c);
    await pinJobs([]);
    expect((await makeSheet(db(), now())).entries.every((e) => !e.isPinned)).toBe(true);
    await expect(pinJobs([999_999])).rejects.toThrow('no longer exists');
  });

  test('what is in hand stands on top, whatever was put first', async () => {
    const [a, b, c] = [await newJob('a'), await newJob('b'), await newJob('c')];
    await pinJobs([a]);
    await takeJob(c, await person('Dot Reed'), 'test');
    expect(ids((await makeSheet(db(), now())).entries)).toEqual([c, a, b]);
  });

  test('what this bench lacks is said with the job, and everything else is ordered', async () => {
    const [a, b] = [await newJob('a'), await newJob('b')];
    await addTypedRun(a, 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold', undefined);
    await saveDayPolicy(0, { ...usualDay, equipment: { ...usualDay.equipment, 'hot-air': 0, meter: 0, supply: 0 } });
    const sheet = await makeSheet(db(), now());
    expect([...ids(sheet.entries), ...ids(sheet.lacking)].sort()).toEqual([a, b].sort());
    expect(sheet.lacking.map((l) => l.says).join(' ')).toMatch(/Needs the .*, which this bench does not have/);
  });

  test('a closed shop says when it opens; 500 jobs are ordered all the same', async () => {
    await saveDayPolicy(0, {
      ...usualDay,
      hours: { zone: 'UTC', week: [[['08:00', '12:00']], [], [], [], [], [], []], closed: [] },
    });
    const one = await newJob('one');
    const sheet = await makeSheet(db(), new Date('2026-11-28T10:00:00Z'));
    expect(sheet.opensAt).toBe('2026-11-30T08:00:00.000Z');
    const { version: _, id: __, ...row } = (await db()('jobs').where({ id: one }).first())!;
    await db()('jobs').insert(
      Array.from({ length: 499 }, (___, k) => ({
        ...row,
        label: `job ${k}`,
        case_id: `c${k}`,
        intake: JSON.stringify(row.intake),
        expect: JSON.stringify(row.expect),
        extra: JSON.stringify(row.extra),
        outcome_open: '[]',
      })),
    );
    const many = await makeSheet(db(), now());
    expect(new Set(ids(many.entries)).size).toBe(500);
  });
});

describe('whose hands', () => {
  test('two who take one job at once: one has it, the other hears who', async () => {
    const jobId = await newJob('wanted');
    const [ada, ben] = [await person('Ada Quill'), await person('Ben Ostrow')];
    const tries = await Promise.allSettled([takeJob(jobId, ada, 'test'), takeJob(jobId, ben, 'test')]);
    expect(tries.filter((t) => t.status === 'fulfilled')).toHaveLength(1);
    const [hand] = await inHands(db());
    const refusal = tries.find((t) => t.status === 'rejected') as PromiseRejectedResult;
    expect(String(refusal.reason)).toContain(`${hand.name} has this job in hand`);
    // Taking it again is no second taking.
    await takeJob(jobId, hand.personId === ada.id ? ada : ben, 'test');
    expect(await inHands(db())).toHaveLength(1);
    const sheet = await makeSheet(db(), now());
    expect(sheet.entries[0]).toMatchObject({ holder: { name: hand.name }, why: `${hand.name} is working on it.` });
  });

  test('somebody has one job at a time; what waits is in nobody’s hands; what was forgotten is put down', async () => {
    const [a, b] = [await newJob('a'), await newJob('b')];
    const cleo = await person('Cleo Marsh');
    await takeJob(a, cleo, 'test');
    await takeJob(b, cleo, 'repair');
    expect(ids(await inHands(db()))).toEqual([b]);
    await wait(b, { minutes: 5 });
    expect(await inHands(db())).toEqual([]);
    await takeJob(a, cleo, 'test');
    await putDown(a);
    expect(await inHands(db())).toEqual([]);
    await db()('takes').insert({
      job_id: a,
      person_id: cleo.id,
      kind: 'test',
      started_at: new Date(Date.now() - 20 * 3_600_000),
    });
    expect(await inHands(db())).toEqual([]);
    const dora = await person('Dora Finch');
    await takeJob(a, dora, 'test');
    expect((await inHands(db())).map((h) => h.name)).toEqual(['Dora Finch']);
  });
});

describe('the policy of the day', () => {
  const input = (over: object = {}) => ({
    version: 0,
    ...usualDay,
    approval: 70,
    delayShare: 20,
    fees: { laptop: 150, phone: '' },
    ...over,
  });

  test('is kept beside the rest of the policy, and neither takes the other away', async () => {
    const version = await saveDayPolicy(0, dayPolicyOf(dayPolicyInput.validateSync(input())));
    await savePolicy(
      policyInput.validateSync({ version, fee: 90, dataFee: 50, hourlyCost: 30, success: 70, injection: 'step' }),
    );
    expect(await loadPolicy(db())).toMatchObject({ fee: 90, fees: { laptop: 150 }, approval: 0.7, delayShare: 0.2 });
  });

  test.each([
    [{ equipment: { ...usualDay.equipment, bath: -1 } }, 'ultrasonic bath: cannot be negative'],
    [{ hours: { ...usualDay.hours, zone: 'Nowhere' } }, 'Time zone: "Nowhere" is not'],
    [{ lateOnce: 'much' }, 'Late job: expected a number'],
    [{ approval: 140 }, 'Customers who agree to a quote: expected at most 100'],
    [{ hours: 'always' }, 'Hours: expected'],
  ])('%j is refused with its place', (over, says) => {
    expect(() => dayPolicyInput.validateSync(input(over))).toThrow(says);
  });
});

describe('the end of a day', () => {
  test('what was closed, whose minutes, what is promised for the next day of work', async () => {
    const [done, tomorrow] = [await newJob('done'), await newJob('for tomorrow')];
    const eve = await person('Eve Larch');
    await takeJob(done, eve, 'repair');
    await db()('takes').update({ started_at: new Date(Date.now() - 1_800_000) });
    await putDown(done);
    await jobEdits.closeJob(
      outcomeInput.validateSync({
        jobId: done,
        version: (await db()('jobs').where({ id: done }).first())!.version,
        grade: 'declined',
        fix: '',
      }),
    );
    await db()('jobs')
      .where({ id: tomorrow })
      .update({ promised_at: new Date(Date.now() + 3_600_000) });
    const end = await loadDayEnd();
    expect(end.closed).toMatchObject([{ jobId: done, says: 'declined' }]);
    expect(end.minutes).toMatchObject([{ kind: 'Repair', by: [{ who: 'Eve Larch' }] }]);
    expect(end.minutes[0].minutes).toBeGreaterThan(0);
    expect(end.outcomes).toEqual([{ says: 'declined', count: 1 }]);
    // Declined: no fee but that of the diagnosis, which is none, and half an hour of work.
    const { fees, parts, work, left } = end.money;
    expect([fees, parts]).toEqual([0, 0]);
    expect(work).toBeGreaterThan(0);
    expect(left).toBeCloseTo(-work, 6);
    expect(end.promised).toMatchObject([{ jobId: tomorrow, isPromise: true }]);
    await expect(loadDayEnd('2026-13-01')).rejects.toThrow('"2026-13-01" is not a date; expected one such as');
    expect((await loadDayEnd('2020-01-06')).closed).toEqual([]);
  });

  test('a bath that is over is followed by drying, and until then nothing is powered', async () => {
    const jobId = await newJob('wet tablet');
    await wait(jobId, { kind: 'bath', minutes: 20 });
    const step = async (): Promise<string | undefined> =>
      (await makeSheet(db(), new Date(Date.now() + 3_600_000))).entries.find((e) => e.jobId === jobId)?.next.name;
    expect(await step()).toBe('Rinse it and dry it');
    await waitOver(jobId);
    const [running] = await runningWaits(db()).then((all) => all.filter((w) => w.jobId === jobId));
    expect(running).toMatchObject({ kind: 'dry' });
    expect(running.until).not.toBeNull();
    await db()('waits').where({ id: running.id }).update({ until_at: new Date() });
    expect(await step()).toBe('Inspect it after drying');
    await waitOver(jobId);
    expect(await step()).not.toBe('Inspect it after drying');
  });

  test('a calendar file of promises and waits, and a table that no spreadsheet takes for formulas', async () => {
    const jobId = await newJob('=cmd tablet; with, commas');
    await wait(jobId, { minutes: 60 });
    await db()('jobs')
      .where({ id: jobId })
      .update({ promised_at: new Date('2031-01-06T09:00:00Z') });
    const ics = (await calendarFile()).replace(/\r\n[ \t]/g, '');
    expect(ics).toMatch(/^BEGIN:VCALENDAR/);
    expect(ics).toMatch(/END:VCALENDAR\r\n$/);
    expect(ics).toMatch(/UID:wait-\d+@\w{8,}\.umbral/);
    expect(ics.match(/BEGIN:VALARM/g)).toHaveLength(1);
    expect(ics).toContain('SUMMARY:=cmd tablet\\; with\\, commas: dries');
    let csv = '';
    for await (const part of jobsCsv()) csv += part;
    expect(csv).toContain(`"'=cmd tablet; with, commas"`);
    expect(csv.split('\r\n')[0]).toContain('promised');
  });
});
