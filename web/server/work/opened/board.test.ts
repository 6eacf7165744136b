import sharp from 'sharp';
import { giveTestDatabase } from '../../../testing/database.ts';
import {
  attachPicture,
  attachmentInput,
  attachmentsOf,
  pictureOf,
  repaint,
  setPictureRemoved,
} from '../entries/attachments.ts';
import { runningWaits } from '../entries/waits.ts';
import { db } from '../../record/db.ts';
import { dumpContent, dumpsOf, judgeDumps, saveDump } from '../entries/dumps.ts';
import { actionInput, jobInput } from '../../record/input.ts';
import { armPlan, armPlanInput } from '../../edges/recorder/arm-plan.ts';
import { heatInput, saveHeat, readWarm, warmInput } from './locate.ts';
import { loadBoardPlan, referencesOf, saveReading } from './measure.ts';
import { measureInput, type MeasureInput } from './measure-input.ts';
import { addTypedRun } from '../entries/record.ts';
import { circuitIds, shippedProfile, type Profile } from '@umbral/core';
import { reassessJob } from '../jobs/jobs.ts';
import { loadPolicy, policyInput, savePolicy } from '../shop/policy.ts';
import { enterChange } from '../entries/repair.ts';
import * as jobEdits from '../entries/job-edits.ts';
import * as entries from '../entries/job-entries.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const newJob = (over: object = {}): Promise<number> =>
  jobEdits.createJob(
    jobInput.validateSync({ label: 'unit', deviceClass: 'phone', model: phone.name, intake: {}, ...over }),
  );
const typed = (jobId: number, over: Partial<MeasureInput>): MeasureInput =>
  measureInput.validateSync({
    jobId,
    where: 'io',
    text: '1.79',
    mode: 'voltage',
    phase: 'after',
    redProbe: 'ground',
    ...over,
  });
async function* bytes(content: Uint8Array | string): AsyncGenerator<Uint8Array> {
  yield await Promise.resolve(typeof content === 'string' ? new TextEncoder().encode(content) : content);
}

describe('readings at the ladder', () => {
  test('are kept with rail, state, reference and what they swing between; the plan follows', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, 'battery 3.85V: 0 | prompt 0.1 0.2 0.2 hold', null);
    expect(await saveReading(typed(jobId, { text: '0.4~1.7' }))).toEqual({ kept: true, asks: [] });
    expect(await saveReading(typed(jobId, { text: 'r 0.9', leadsOhm: 0.4 }))).toMatchObject({ kept: true });
    await saveReading(typed(jobId, { where: 'vbus', text: '5.02', phase: 'plugged' }));
    const rows = await db()('readings').where({ job_id: jobId }).orderBy('id');
    expect(rows[0]).toMatchObject({
      where: 'io',
      state: 'run',
      prompted: true,
      reference: 1.8,
      swing: { low: 0.4, high: 1.7 },
    });
    expect(rows[1]).toMatchObject({ mode: 'resistance', value: 0.5, shown_ohm: 0.9, leads_ohm: 0.4 });
    expect(rows[2]).toMatchObject({ prompted: false, feed: 'usb-c' });
    const { plan } = await loadBoardPlan(db(), jobId);
    const io = plan.rungs.find((r) => r.id === 'io');
    expect(io?.phases.after.seen?.finding).toBe('swinging');
    expect(io?.resistance?.value).toBe(0.5);
    expect(plan.rungs.find((r) => r.id === 'vbus')?.phases.plugged.seen?.finding).toBe('present');
    expect(plan.probes.some((t) => t.mode === 'resistance' && t.at.includes('io'))).toBe(false);
    expect(await db()('openings').where({ job_id: jobId }).first()).toBeDefined();
  });

  test('a point that reads otherwise though nothing was changed is asked about, with both values', async () => {
    const jobId = await newJob();
    await saveReading(typed(jobId, { text: 'r 0.4', confirmed: true }));
    expect(await saveReading(typed(jobId, { text: 'r 0.5', confirmed: false }))).toMatchObject({ kept: true });
    expect((await saveReading(typed(jobId, { text: 'r 12k' }))).asks).toEqual([
      expect.stringMatching(/already read 0\.5.* here, and nothing has been changed since\. Now it is 12/),
    ]);
    expect((await saveReading(typed(jobId, { text: 'r OL' }))).kept).toBe(false);
    // The other probe on ground, another way to measure, another state: no question.
    expect((await saveReading(typed(jobId, { text: 'd 0.41' }))).kept).toBe(true);
    expect((await saveReading(typed(jobId, { text: 'r 12k', redProbe: 'point' }))).kept).toBe(true);
    await enterChange(actionInput.validateSync({ jobId, kind: 'remove', target: 'C12', confirmed: true }));
    expect((await saveReading(typed(jobId, { text: 'r 12k' }))).kept).toBe(true);
  });

  test('what is odd is asked about and kept only when confirmed; what cannot be is refused by name', async () => {
    const jobId = await newJob();
    const asked = await saveReading(typed(jobId, { text: '3.3' }));
    expect(asked.kept).toBe(false);
    expect(asked.asks[0]).toMatch(/rated for 1\.80 V\./);
    expect(await db()('readings').where({ job_id: jobId })).toHaveLength(0);
    expect((await saveReading(typed(jobId, { text: '3.3', confirmed: true }))).kept).toBe(true);
    await expect(saveReading(typed(jobId, { text: '900' }))).rejects.toThrow(/is not possible on this bench/);
    await expect(saveReading(typed(jobId, { text: 'r -2' }))).rejects.toThrow(/still a voltage/);
    await expect(saveReading(typed(jobId, { text: '3 A' }))).rejects.toThrow(/is a current/);
    expect(await db()('readings').where({ job_id: jobId })).toHaveLength(1);
  });

  test('a good board is kept for the model and compared with, by the same probe alone', async () => {
    const [first, second] = [await newJob(), await newJob()];
    await saveReading(typed(first, { text: 'd 0.41', good: true, redProbe: 'point' }));
    expect(await referencesOf(db(), { profile: phone.id, model: '' })).toHaveLength(1);
    await saveReading(typed(second, { text: 'd 0.1', redProbe: 'point' }));
    await saveReading(typed(second, { where: 'memory', text: 'd 0.1', redProbe: 'point' }));
    const [same, other] = await db()('readings').where({ job_id: second }).orderBy('id');
    expect(same.reference).toBe(0.41);
    // The profile's own diode readings are of the other probe: never mixed.
    expect(other.reference).toBeNull();
    const nobody = await newJob({ model: '' });
    await expect(saveReading(typed(nobody, { text: 'd 0.41', good: true }))).rejects.toThrow(/enter it in the intake/);
  });
});

describe('locating', () => {
  test('a step that the plan does not have, or a rail that is missing, arms nothing', async () => {
    const jobId = await newJob();
    const by = 'a-window-of-a-test';
    const asked = (over: object) =>
      armPlanInput.validateSync({
        ...{ jobId, instrument: 'bench-supply', by, rail: 'io', ohm: 0.4, leadsOhm: 0.2, school: 'step', step: 0 },
        ...over,
      });
    await expect(armPlan(asked({ rail: 'nowhere' }))).rejects.toThrow(/no rail "nowhere"/);
    await expect(armPlan(asked({ step: 9 }))).rejects.toThrow(/the plan has \d steps/);
    expect(() => asked({ ohm: -1 })).toThrow(/cannot be negative/);
    expect(() => asked({ leadsOhm: 50 })).toThrow(/at most 5 ohm/);
  });

  test('what warmed is kept with the rail that was fed, and moves the suspects', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, 'battery 3.85V: 0 | prompt 0.3 0.9 0.9 hold', null);
    const before = (await loadBoardPlan(db(), jobId)).plan.elements.find((e) => e.id === 'io')?.p ?? 0;
    const fed = { jobId, outcome: 'one-spot', hot: 'io', rail: 'io' };
    await expect(saveHeat(heatInput.validateSync(fed))).rejects.toThrow(/Volts: enter the voltage on the rail\./);
    await saveHeat(heatInput.validateSync({ ...fed, volts: '0.8 V', amps: '1.2 A' }));
    expect(await db()('injections').where({ job_id: jobId }).first()).toMatchObject({
      rail: 'io',
      circuit: 'rail.run',
      set_v: 0.8,
      amps: 1.2,
      heat: 'one-spot',
      hot: 'io',
      after_action: null,
    });
    const after = (await loadBoardPlan(db(), jobId)).plan.elements.find((e) => e.id === 'io')?.p ?? 0;
    expect(after).toBeGreaterThan(before);
    await expect(saveHeat(heatInput.validateSync({ jobId, outcome: 'one-spot' }))).rejects.toThrow(
      /enter the last warm place/,
    );
    expect(() => heatInput.validateSync({ jobId, outcome: 'glowing' })).toThrow(/what was seen/);
  });
});

test('what is warm is read on the power tree, and all of it is kept', async () => {
  const jobId = await newJob();
  const feeder = phone.converters.find((c) => c.to.includes('io'))?.id ?? '';
  const warm = [feeder, 'io'];
  const read = await readWarm(warmInput.validateSync({ jobId, warm, outcome: 'one-spot' }));
  expect(read.last).toBe('io');
  expect(read.says).toMatch(/only carries/);
  await saveHeat(heatInput.validateSync({ jobId, outcome: 'one-spot', hot: 'io', warm }));
  const [row] = await db()('checks').where({ job_id: jobId });
  expect(row).toMatchObject({ check_id: 'heat-view', where: 'io', circuit: 'rail.run', extra: { warm } });
  expect(row.note).toMatch(/also warm: I\/O converter/);
});

describe('changes', () => {
  const change = (jobId: number, over: object) => actionInput.validateSync({ jobId, kind: 'replace', ...over });
  const named = { part: 'memory, suffix B', orientation: 'dot to the edge' };

  test('ask for what is missing, and say what each suspect expects before', async () => {
    const jobId = await newJob();
    const none = await enterChange(change(jobId, { target: 'storage-chip', ...named }));
    expect(none.asks.join(' ')).toMatch(/Nothing was recorded before this change/);
    await addTypedRun(jobId, 'battery 3.85V: 0 | prompt 0.1 0.2 0.2 hold', null);
    expect((await enterChange(change(jobId, { target: 'storage-chip' }))).asks.join(' ')).toMatch(/part number/);
    expect(await enterChange(change(jobId, { target: 'storage-chip', confounders: ['donor'], ...named }))).toEqual({
      kept: true,
      asks: [],
    });
    const [row] = await db()('actions').where({ job_id: jobId });
    expect(row.run_before).toBe('r1');
    expect(row.extra).toMatchObject({ confounders: ['donor'], part: 'memory, suffix B' });
    expect((row.extra as { predicts: unknown[] }).predicts.length).toBeGreaterThan(0);
    const next = await enterChange(change(jobId, { kind: 'clean', target: 'port1' }));
    expect(next.asks.join(' ')).toMatch(/Nothing was recorded after the last change/);
    await addTypedRun(jobId, 'battery 3.85V: 0 | prompt 0.1 0.2 0.2 hold', 'a1');
    expect(
      (await enterChange(change(jobId, { kind: 'clean', target: 'port1', waitKind: 'dry', waitMinutes: 240 }))).kept,
    ).toBe(true);
    expect((await runningWaits(db())).filter((w) => w.jobId === jobId)).toMatchObject([{ kind: 'dry', heard: false }]);
  });

  test('a chip is overwritten after two dumps alike, or knowingly', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, 'battery 3.85V: 0 | prompt 0.1 0.2 0.2 hold', null);
    const reload = (over = {}) => enterChange(change(jobId, { kind: 'reload-firmware', target: 'boot-data', ...over }));
    expect((await reload()).asks[0]).toMatch(/Dump the chip twice/);
    await saveDump(jobId, 'one.bin', bytes('same'));
    expect((await reload()).asks[0]).toMatch(/second time/);
    await saveDump(jobId, 'two.bin', bytes('other'));
    expect((await reload()).asks[0]).toMatch(/length/);
    const third = await saveDump(jobId, 'three.bin', bytes('same'));
    expect((await dumpContent(jobId, third.id)).content.toString()).toBe('same');
    expect(judgeDumps(await dumpsOf(db(), jobId)).isSafe).toBe(true);
    expect(await reload()).toEqual({ kept: true, asks: [] });
    await expect(dumpContent(jobId + 1, third.id)).rejects.toThrow(/no longer/);
    await expect(saveDump(jobId, 'none.bin', bytes(''))).rejects.toThrow(/empty/);
  });
});

describe('pictures', () => {
  const photo = (over: object = {}) =>
    sharp({ create: { width: 2400, height: 1200, channels: 3, background: '#335577' }, ...over })
      .withExif({ IFD0: { Copyright: 'where it was taken' } })
      .jpeg()
      .toBuffer();

  test('are painted anew: bounded, without what they carried', async () => {
    const sent = await photo();
    expect((await sharp(sent).metadata()).exif).toBeDefined();
    const { image, thumb, width, height } = await repaint(sent);
    expect([width, height]).toEqual([1600, 800]);
    expect((await sharp(image).metadata()).exif).toBeUndefined();
    expect(image.includes('where it was taken')).toBe(false);
    expect((await sharp(thumb).metadata()).width).toBe(160);
  });

  test.each([
    ['a drawing with script', '<svg xmlns="http://www.w3.org/2000/svg"><script>alert(1)</script></svg>'],
    ['a page', '<html></html>'],
    ['noise', 'not a picture at all'],
  ])('%s is refused', async (_, text) => {
    await expect(repaint(Buffer.from(text))).rejects.toThrow(/picture cannot be read/);
  });

  test('a broken file is refused, and nothing is stored', async () => {
    const jobId = await newJob();
    const half = (await photo()).subarray(0, 900);
    await expect(attachPicture(attachmentInput.validateSync({ jobId }), bytes(half))).rejects.toThrow(/picture/);
    await expect(attachPicture(attachmentInput.validateSync({ jobId }), bytes(''))).rejects.toThrow(/empty/);
    expect(await attachmentsOf(db(), jobId)).toEqual([]);
  });

  test('belong to an entry of their own job, and are taken out with a way back', async () => {
    const [jobId, other] = [await newJob(), await newJob()];
    const id = await attachPicture(
      attachmentInput.validateSync({ jobId, caption: 'board, upper side' }),
      bytes(await photo()),
    );
    expect((await pictureOf(id, true)).length).toBeLessThan((await pictureOf(id, false)).length);
    const [{ id: checkId }] = await db()('checks')
      .insert({ job_id: other, check_id: 'visual', outcome: 'clean', note: '' })
      .returning('id');
    const foreign = attachmentInput.validateSync({ jobId, of: `check:${checkId}` });
    await expect(attachPicture(foreign, bytes(await photo()))).rejects.toThrow(/belongs to/);
    expect(() => attachmentInput.validateSync({ jobId, of: 'jobs; drop' })).toThrow(/expected "job"/);
    await setPictureRemoved(jobId, id, true);
    expect(await attachmentsOf(db(), jobId)).toEqual([]);
    await expect(pictureOf(id, true)).rejects.toThrow(/no longer/);
    await setPictureRemoved(jobId, id, false);
    expect(await attachmentsOf(db(), jobId)).toHaveLength(1);
    await expect(setPictureRemoved(other, id, true)).rejects.toThrow(/no longer/);
  });
});

describe('shop policy', () => {
  const stated = {
    fee: 90,
    dataFee: 40,
    hourlyCost: 35,
    success: 75,
    notDoneHere: ['core.storage'],
    injection: 'rated',
  };

  test('is the usual until somebody states one, and two editors do not overwrite each other', async () => {
    expect(await loadPolicy(db())).toMatchObject({ version: 0, injection: 'step' });
    expect(await savePolicy(policyInput.validateSync({ ...stated, version: 0 }))).toBe(1);
    await expect(savePolicy(policyInput.validateSync({ ...stated, version: 0 }))).rejects.toThrow(/in the meantime/);
    expect(await loadPolicy(db())).toMatchObject({ version: 1, success: 0.75, notDoneHere: ['core.storage'] });
    await expect(savePolicy(policyInput.validateSync({ ...stated, version: 7 }))).rejects.toThrow(/in the meantime/);
    expect(() => policyInput.validateSync({ ...stated, version: 1, fee: -1 })).toThrow(/cannot be negative/);
    expect(() => policyInput.validateSync({ ...stated, version: 1, success: 130 })).toThrow(/1 to 100 %/);
    expect(() => policyInput.validateSync({ ...stated, version: 1, notDoneHere: ['magic'] })).toThrow();
  });

  test('decides when a call says stop', async () => {
    const jobId = await newJob();
    await addTypedRun(jobId, 'battery 3.85V: 0 | prompt 0.1 0.2 0.2 hold', null);
    await enterChange(actionInput.validateSync({ jobId, kind: 'other', target: 'storage-chip', confirmed: true }));
    await entries.addCheck({ jobId, check: 'screen', outcome: 'dark', note: '' });
    const stopsFor = async (notDoneHere: string[]): Promise<boolean> => {
      const { version } = await loadPolicy(db());
      await savePolicy(policyInput.validateSync({ ...stated, hourlyCost: 1, notDoneHere, version }));
      const { next } = await reassessJob(db(), jobId, 'policy');
      return next.some((s) => s.kind === 'stop' && /not economical/.test(s.why));
    };
    // What is worth nothing where nothing is repaired is worth something where everything is, an hour costing little.
    const all = circuitIds.filter((c) => c !== 'none' && c !== 'unmodelled');
    const { fee } = await loadPolicy(db());
    expect(fee).toBe(stated.fee);
    expect([await stopsFor([]), await stopsFor(all)]).toEqual([false, true]);
  });
});
