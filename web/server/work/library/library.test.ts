import { createHash, generateKeyPairSync, sign } from 'node:crypto';
import { fitRecalibration, notebookLines, sayEvidence } from '@umbral/core';
import { giveTestDatabase } from '../../../testing/database.ts';
import { toldCases } from '../../../testing/taught.ts';
import { engineAnswers } from '../../analysis/engine-answers.ts';
import { db, transaction } from '../../record/db.ts';
import * as jobEdits from '../entries/job-edits.ts';
import { jobInput, outcomeInput } from '../../record/input.ts';
import { latestAssessment } from '../jobs/jobs.ts';
import { addTypedRun } from '../entries/record.ts';
import type { LibraryCaseRow } from '../../record/tables.ts';
import { signedText, type Header } from '../../analysis/exchange-format.ts';
import {
  exportLibrary,
  fingerprintOfShop,
  importLibrary,
  listLibraries,
  putLibraryBack,
  removeLibrary,
} from '../exchange/exchange.ts';
import { callsCounted, countCalls, countMissing, sumsOfAll } from './calls.ts';
import { correctIfDue } from './correction.ts';
import { loadLibrary } from '../../analysis/known-library.ts';
import { keepNote, notebookEntries, noteInput, renameModel, setNoteTaken } from './notebook.ts';
import { beginReplay, cancelReplay, lastReplay, runReplay } from './replay.ts';
import { confirmOtherwise, standingConfirmations, withdrawCase } from './teach.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));
giveTestDatabase();

const stall = 'battery 4V limit 2A: 0 | prompt 0.1 0.25 0.35 hold';

async function newJob(model: string, line = stall): Promise<number> {
  const jobId = await jobEdits.createJob(
    jobInput.validateSync({ label: model, model, deviceClass: 'phone', intake: {} }),
  );
  await addTypedRun(jobId, line, undefined);
  return jobId;
}
const versionOf = async (id: number): Promise<number> => (await db()('jobs').where({ id }).first('version'))!.version;
async function close(jobId: number, over: object = {}): Promise<void> {
  const version = await versionOf(jobId);
  const said = { jobId, version, grade: 'measured', circuit: 'pmic', target: 'second coil', fix: 'replaced', ...over };
  await jobEdits.closeJob(outcomeInput.validateSync(said));
}
const loadNotebook = async () => notebookLines((await notebookEntries(db())).entries);
const taught = (jobId: number): Promise<LibraryCaseRow | undefined> =>
  db()('library_cases').where({ job_id: jobId }).first();
async function* bytes(text: string): AsyncGenerator<Uint8Array> {
  yield new TextEncoder().encode(text);
}

describe('what a closed job teaches', () => {
  test('its signatures, its answers, and what it was', async () => {
    const jobId = await newJob('Teaching');
    await close(jobId);
    expect(await taught(jobId)).toMatchObject({
      circuit: 'pmic',
      element: 'second coil',
      weight: 1,
      model: 'Teaching',
    });
    const cases = await toldCases();
    expect(cases.find((c) => c.model === 'Teaching')?.signatures).toHaveLength(1);
  });
  test('the next unit like it meets it, as one observation, and never itself', async () => {
    const first = await newJob('Repeating');
    await close(first);
    const second = await newJob('Repeating');
    const { result } = (await latestAssessment(db(), second))!;
    expect(result.near?.[0]).toMatchObject({ circuit: 'pmic', element: 'second coil', isOtherModel: false });
    const pmic = result.circuits.find((c) => c.id === 'pmic');
    expect(pmic?.evidence.filter((e) => sayEvidence(e).includes(`job ${first}`))).toHaveLength(1);
    await close(second);
    await jobEdits.reopenJob(second, await versionOf(second));
    await addTypedRun(second, 'usb-c port 1: 5V 0.3 hold', undefined);
    const again = (await latestAssessment(db(), second))!.result;
    expect(again.near?.some((n) => n.says.includes(`job ${second}`))).toBe(false);
  });
  test('nothing where it went away, was not found, or was not confirmed', async () => {
    for (const grade of ['disappeared', 'not-found', 'declined']) {
      const jobId = await newJob(`Ended ${grade}`);
      await close(jobId, { grade, circuit: grade === 'declined' ? 'pmic' : null, target: '' });
      expect(await taught(jobId)).toBeUndefined();
    }
  });
  test('is gone when it is opened again, or put in the trash, and comes back with it', async () => {
    const jobId = await newJob('Withdrawn');
    await close(jobId);
    await jobEdits.setTrashed(jobId, true);
    expect(await taught(jobId)).toBeUndefined();
    await jobEdits.setTrashed(jobId, false);
    expect(await taught(jobId)).toBeDefined();
    await jobEdits.reopenJob(jobId, await versionOf(jobId));
    expect(await taught(jobId)).toBeUndefined();
    expect(await standingConfirmations(db(), jobId)).toEqual([]);
  });
  test('confirmed as two things by two people it teaches nothing, until one of them is withdrawn', async () => {
    const jobId = await newJob('Disputed');
    await close(jobId);
    const other = {
      grade: 'measured' as const,
      circuit: 'display' as const,
      target: 'flex',
      why: 'works with another',
    };
    await transaction((q) => confirmOtherwise(q, jobId, other));
    expect(await taught(jobId)).toBeUndefined();
    const call = (await db()('calls').where({ job_id: jobId }).first())!;
    expect(call.circuit).toBeNull();
    expect(call.counts).not.toHaveProperty('scored');
    const [first, second] = await standingConfirmations(db(), jobId);
    expect([first.circuit, second.circuit]).toEqual(['pmic', 'display']);
    await transaction((q) => withdrawCase(q, jobId, first.id));
    expect(await taught(jobId)).toMatchObject({ circuit: 'display', element: 'flex' });
    await expect(transaction((q) => withdrawCase(q, jobId, first.id))).rejects.toThrow('no longer');
  });
  test('what is corrected afterwards is corrected in the library as well', async () => {
    const jobId = await newJob('Misspelt');
    await close(jobId);
    const input = jobInput.validateSync({ label: 'corrected', model: 'Spelt well', deviceClass: 'tablet', intake: {} });
    await jobEdits.editJob(jobId, await versionOf(jobId), input);
    expect(await taught(jobId)).toMatchObject({ model: 'Spelt well', device_class: 'tablet' });
  });
  test('a job that is open cannot be confirmed', async () => {
    const jobId = await newJob('Open');
    const said = { grade: 'measured' as const, circuit: 'display' as const, target: '' };
    await expect(transaction((q) => confirmOtherwise(q, jobId, said))).rejects.toThrow('Only a closed job');
  });
});

describe('the notebook', () => {
  const note = (over: object = {}) =>
    noteInput.validateSync(
      {
        model: 'Noted',
        deviceClass: 'laptop',
        amps: '0.18 A',
        volts: '18 V',
        feed: 'dc-in',
        setup: 'all but one run rail up',
        circuit: 'seq.power-good',
        hits: 4,
        of: 5,
        ...over,
      },
      { abortEarly: false },
    );
  test('a line that somebody types stands beside what the jobs write', async () => {
    const id = await keepNote(note());
    const jobId = await newJob('Noted');
    await close(jobId, { circuit: 'display' });
    const lines = (await loadNotebook()).filter((l) => l.model === 'Noted');
    expect(lines.map((l) => l.causes[0])).toEqual(
      expect.arrayContaining([
        expect.objectContaining({ circuit: 'seq.power-good', hits: 4 }),
        expect.objectContaining({ circuit: 'display', hits: 1 }),
      ]),
    );
    await keepNote(note({ id, hits: 5 }));
    expect((await loadNotebook()).find((l) => l.setup.startsWith('all but'))?.causes[0].hits).toBe(5);
    await setNoteTaken(id, true);
    expect((await loadNotebook()).some((l) => l.setup.startsWith('all but'))).toBe(false);
    await setNoteTaken(id, false);
  });
  test('what cannot be is refused with its field', async () => {
    expect(() => note({ amps: '12 V' })).toThrow('Level: "12 V" is not a current;');
    expect(() => note({ hits: 6 })).toThrow('Times seen: cannot be less');
    expect(() => note({ circuit: '' })).toThrow('Circuit: choose one');
    await expect(keepNote(note({ amps: '', setup: '' }))).rejects.toThrow('Level: enter the current');
  });
  test('a model that is called something else is renamed everywhere, and joins one of that name', async () => {
    const jobId = await newJob('Old Name');
    await close(jobId);
    await keepNote(note({ model: 'old  name' }));
    expect(await renameModel('Old Name', 'New Name')).toBe(1);
    expect(await taught(jobId)).toMatchObject({ model: 'New Name' });
    expect((await loadNotebook()).some((l) => /old/i.test(l.model))).toBe(false);
    await expect(renameModel('Old Name', 'x')).rejects.toThrow('no longer');
    await expect(renameModel('New Name', '  ')).rejects.toThrow('empty');
  });
});

describe('frozen calls made again', () => {
  test('with their own inputs, beside what was said then; nothing in force changes', async () => {
    const before = await latestAssessment(db(), (await db()('calls').orderBy('closed_at').first())!.job_id);
    const id = await beginReplay();
    await expect(beginReplay()).rejects.toThrow('already');
    await runReplay(id);
    const row = (await lastReplay(db()))!;
    expect(row).toMatchObject({ state: 'done', problem: null });
    expect(row.results.length).toBe(row.total);
    expect(row.total).toBeGreaterThan(2);
    // The first job of all met nothing that was withdrawn since: the same engine says the same of the same inputs.
    const [first] = row.results;
    expect(first.logAfter).toBeCloseTo(first.logBefore, 6);
    expect(await latestAssessment(db(), before!.job_id)).toEqual(before);
  });
  test('one that was cancelled ends, and is not gone on with', async () => {
    const id = await beginReplay();
    await cancelReplay(id);
    await runReplay(id);
    expect(await lastReplay(db())).toMatchObject({ state: 'cancelled', done: 0 });
  });
});

describe('libraries between shops', () => {
  let file = '';
  const take = (text: string, trusted = '') => importLibrary(bytes(text), 'other.ndjson', trusted);
  /** As if it came from another shop: this one has forgotten it, and its own cases. */
  async function asAnotherShop(): Promise<string> {
    file = await exportLibrary('Hill bench', 'for your own bench');
    const fingerprint = await fingerprintOfShop();
    await db()('library_cases').delete();
    return fingerprint;
  }
  test('no label, serial number, complaint or name of a person goes out', async () => {
    const jobId = await newJob('Shared');
    await db()('jobs')
      .where({ id: jobId })
      .update({ label: 'red sticker', serial: 'SN-77', complaint: 'fell in the pond', technician: 'Orla' });
    await close(jobId, { fix: 'called Mr. Tern' });
    file = await exportLibrary('Hill bench', 'for your own bench');
    expect(file).toContain('"Shared"');
    for (const secret of ['red sticker', 'SN-77', 'pond', 'Orla', 'Tern']) expect(file).not.toContain(secret);
  });
  test('one of a key that nobody knows is asked about, then taken in with less weight', async () => {
    const fingerprint = await asAnotherShop();
    expect(await take(file)).toEqual({
      state: 'unknown',
      shop: 'Hill bench',
      licence: 'for your own bench',
      fingerprint,
      cases: expect.any(Number),
      notes: expect.any(Number),
      known: 0,
    });
    expect(await listLibraries(db())).toEqual([]);
    expect(await take(file, 'some other key')).toMatchObject({ state: 'unknown' });
    const taken = await take(file, fingerprint);
    expect(taken).toMatchObject({ state: 'taken' });
    const cases = await toldCases();
    expect(cases.length).toBeGreaterThan(3);
    for (const c of cases) expect(c).toMatchObject({ origin: 'Hill bench' });
    expect(Math.max(...cases.map((c) => c.weight))).toBe(0.5);
    await expect(take(file)).rejects.toThrow('was already');
    const [listed] = await listLibraries(db());
    expect(listed).toMatchObject({ shop: 'Hill bench', cases: cases.length });
    const everything = async () => [
      await toldCases(),
      // Its revision moves on, so that whoever keeps a copy hears of it.
      (await db()('library_cases').orderBy('id')).map((row) => ({ ...row, revision: null })),
      await db()('library_runs').orderBy('id'),
      await db()('notes').orderBy('id'),
    ];
    const before = await everything();
    await removeLibrary(listed.id);
    expect(await toldCases()).toEqual([]);
    await putLibraryBack(listed.id);
    expect(await everything()).toEqual(before);
    expect(await listLibraries(db())).toEqual([listed]);
    await expect(putLibraryBack(listed.id)).rejects.toThrow('too long ago');
    await removeLibrary(listed.id);
  });
  test('own cases under another key are refused before anybody is asked to trust it', async () => {
    const own = await newJob('Resigned');
    await close(own);
    const lines = (await exportLibrary('Hill bench', 'own')).split('\n');
    const signed = (body: string[]): string => {
      const pair = generateKeyPairSync('ed25519');
      const text = body.map((line) => `${line}\n`).join('');
      const header = { ...(JSON.parse(lines[0]) as Header), shop: 'Vale bench' };
      const sha256 = createHash('sha256').update(text).digest('hex');
      const owner = { ...header, madeAt: new Date(header.madeAt), sha256 };
      const signature = sign(null, Buffer.from(signedText(owner)), pair.privateKey).toString('base64');
      const publicKey = pair.publicKey.export({ type: 'spki', format: 'pem' });
      return `${JSON.stringify({ ...header, publicKey, sha256, signature })}\n${text}`;
    };
    const cases = lines.filter((line) => line.startsWith('{"case"'));
    const renamed = cases.map((line, k) =>
      line.replace(/"id":"[^"]*"/, `"id":"another ${k}"`).replace('"pmic"', '"display"'),
    );
    await expect(take(signed(renamed))).rejects.toThrow('made of runs that are here already, signed with another key');
    const other = renamed.map((line, k) => (k === 0 ? line.replace(/"month":"[^"]*"/, '"month":"2019-02"') : line));
    expect(await take(signed(other))).toMatchObject({ state: 'unknown', cases: 1, known: cases.length - 1 });
    // What is wrong with a file is said before anybody is asked whose it is.
    await expect(take(signed([...other, '{"case":{}}']))).rejects.toThrow(`line ${other.length + 2}:`);
    await jobEdits.reopenJob(own, await versionOf(own));
  });
  test('one that was changed, is damaged, of another version, or none at all is refused, and nothing is stored', async () => {
    const lines = file.split('\n');
    const at = lines.findIndex((l, k) => k > 0 && l.includes('"case"'));
    const swapped = [...lines];
    swapped[at] = swapped[at].replace('"pmic"', '"display"').replace('"measured"', '"cleared"');
    await expect(take(swapped.join('\n'))).rejects.toThrow('its lines do not match');
    const cut = [...lines];
    cut[at] = cut[at].replace(/"data":"[^"]{20}/, '"data":"');
    await expect(take(cut.join('\n'))).rejects.toThrow(`line ${at + 1}: a signature is`);
    const header = JSON.parse(lines[0]) as object;
    const withHeader = (over: object): string => [JSON.stringify({ ...header, ...over }), ...lines.slice(1)].join('\n');
    await expect(take(withHeader({ shop: 'Vale bench' }))).rejects.toThrow('does not match');
    await expect(take(withHeader({ format: 'umbral-library/99' }))).rejects.toThrow(
      'has another version (umbral-library/99)',
    );
    await expect(take(withHeader({ publicKey: 'x' }))).rejects.toThrow('publicKey');
    await expect(take('{"a":1}\n')).rejects.toThrow('is not a library');
    await expect(take('t_s,voltage_V\n')).rejects.toThrow('is not a library');
    await expect(take('')).rejects.toThrow('is not a library');
    expect(await listLibraries(db())).toEqual([]);
    expect(await toldCases()).toEqual([]);
  });
  test('a case that was already stays as it is here, and what differs is said', async () => {
    const fingerprint = await fingerprintOfShop();
    await take(file, fingerprint);
    const [listed] = await listLibraries(db());
    const count = (await toldCases()).length;
    await db()('libraries')
      .where({ id: listed.id })
      .update({ sha256: '0'.repeat(64) });
    expect(await take(file)).toMatchObject({ state: 'taken', cases: 0, known: count, otherwise: [] });
  });
});

describe('the key that this shop signs with', () => {
  afterEach(() => delete process.env.UMBRAL_PASSPHRASE);
  const kept = async () => (await db()('shop_keys').where({ id: 1 }).first<{ private_key: string }>()).private_key;

  test('is sealed in the database once there is a passphrase, signs with it, and with no other', async () => {
    const before = JSON.parse((await exportLibrary('Hill bench', 'own')).split('\n')[0]) as { publicKey: string };
    expect(await kept()).toContain('BEGIN PRIVATE KEY');
    process.env.UMBRAL_PASSPHRASE = 'four words of ours';
    const sealed = JSON.parse((await exportLibrary('Hill bench', 'own')).split('\n')[0]) as { publicKey: string };
    expect(sealed.publicKey).toBe(before.publicKey);
    expect(await kept()).toContain('BEGIN ENCRYPTED PRIVATE KEY');
    for (const other of ['three words of theirs', undefined]) {
      if (other === undefined) delete process.env.UMBRAL_PASSPHRASE;
      else process.env.UMBRAL_PASSPHRASE = other;
      await expect(exportLibrary('Hill bench', 'own')).rejects.toThrow(
        'signing key is encrypted. Start Umbral with the UMBRAL_PASSPHRASE',
      );
    }
  });
});

describe('what is kept of closed jobs', () => {
  test('calls add up to what the database keeps, after all that was withdrawn, renamed, opened again and thrown away', async () => {
    const calls = await db()('calls').select();
    expect(calls.length).toBeGreaterThan(5);
    const expected: Record<string, { n: number; sum: number }> = {};
    for (const { counts, ...call } of calls) {
      const groups = { all: '', class: call.device_class, model: call.model, month: call.month, engine: call.engine };
      for (const [by, key] of Object.entries({
        ...groups,
        pattern: call.pattern ?? '',
        technician: call.technician,
      }))
        for (const [what, x] of Object.entries(counts)) {
          const known = (expected[`${by}|${key}|${what}`] ??= { n: 0, sum: 0 });
          known.n++;
          known.sum += x;
        }
    }
    const rows = await db()('call_sums').where('n', '<>', 0).select();
    const kept = Object.fromEntries(rows.map((r) => [`${r.by}|${r.key}|${r.what}`, { n: Number(r.n), sum: r.sum }]));
    expect(Object.keys(kept).sort()).toEqual(Object.keys(expected).sort());
    for (const [key, { n, sum }] of Object.entries(expected)) {
      expect(kept[key].n).toBe(n);
      expect(kept[key].sum).toBeCloseTo(sum, 9);
    }
  });
  test('is counted for a record from before calls were counted', async () => {
    // Other tests took cases away without a word.
    await countCalls(db(), await db()('calls').pluck('job_id'));
    const before = await db()('calls').orderBy('job_id');
    await db()('calls').delete();
    expect((await sumsOfAll(db())).size).toBe(0);
    expect(await countMissing(db())).toBe(before.length);
    expect(await db()('calls').orderBy('job_id')).toEqual(before);
  });
  test('cases from before versions were counted are told as well', async () => {
    const before = await toldCases();
    await db().raw('ALTER TABLE library_cases DISABLE TRIGGER USER');
    await db()('library_cases').update({ revision: '0' });
    await db().raw('ALTER TABLE library_cases ENABLE TRIGGER USER');
    const byId = (a: { id: string }, b: { id: string }) => a.id.localeCompare(b.id);
    expect((await toldCases()).sort(byId)).toEqual(before.sort(byId));
  });
  test('jobs that are closed at once, with a cause and without, do not wait for each other for ever', async () => {
    const jobs = [];
    for (let k = 0; k < 8; k++) jobs.push(await newJob('At once'));
    const found = (k: number) => (k % 2 === 0 ? {} : { grade: 'not-found', circuit: null, target: '' });
    await Promise.all(jobs.map((jobId, k) => close(jobId, found(k))));
    expect(await db()('calls').whereIn('job_id', jobs).pluck('job_id')).toHaveLength(jobs.length);
  });
  test('is told to the engine once: after a close one case, after a withdrawal that it is gone', async () => {
    await newJob('Told');
    const learn = jest.spyOn(engineAnswers, 'learn');
    const told = () => learn.mock.calls.map(([change]) => [change.gone.length, change.cases.length]);
    const jobId = await newJob('Told');
    await close(jobId);
    await newJob('Told');
    expect(told()).toEqual([
      [0, 1],
      [0, 0],
    ]);
    learn.mockClear();
    await jobEdits.reopenJob(jobId, await versionOf(jobId));
    await newJob('Told');
    expect(told()).toEqual([
      [1, 0],
      [0, 0],
    ]);
    learn.mockRestore();
  });
  test('the calls behind a figure come some at a time, the newest first, and by what they are told apart by', async () => {
    const all = await callsCounted(db(), { counted: 'closed', group: null, after: null }, 100);
    const first = await callsCounted(db(), { counted: 'closed', group: null, after: null }, 3);
    const rest = await callsCounted(db(), { counted: 'closed', group: null, after: first[2].job }, 100);
    expect([...first, ...rest].map((c) => c.job)).toEqual(all.map((c) => c.job));
    const { model } = all[0];
    const own = await callsCounted(db(), { counted: 'closed', group: { by: 'model', key: model }, after: null }, 100);
    expect(own.map((c) => c.job)).toEqual(all.filter((c) => c.model === model).map((c) => c.job));
  });
});

describe('the adjustment of percentages', () => {
  const state = () => db()('library_state').where({ id: 1 }).first();
  test('follows every close of a small shop, and its number is part of what a verdict depends on', async () => {
    const before = await state();
    await close(await newJob('Corrected'));
    const after = await state();
    expect(after!.fits).toBe(before!.fits + 1);
    expect(after!.unfitted).toBe(0);
    expect((await loadLibrary(db())).version).toContain(`corrected ${after!.fits}`);
  });
  test('is what the core makes of the calls, oldest first', async () => {
    const circuits = (p: number) => [
      { id: 'pmic', p, element: null, uncorrected: p },
      { id: 'display', p: 1 - p, element: null, uncorrected: 1 - p },
    ];
    // Calls that say too much: 95 % were said, six in ten were right.
    const jobs = await db()('calls').orderBy('closed_at').select('job_id');
    await db()('calls').update({
      circuits: JSON.stringify(circuits(0.95)),
      circuit: 'pmic',
      counts: JSON.stringify({ closed: 0, scored: 0.95 }),
    } as never);
    for (const [k, { job_id }] of jobs.entries())
      if (k % 5 < 2) await db()('calls').where({ job_id }).update({ circuit: 'display' });
    await db()('library_state').update({ unfitted: 1 });
    await correctIfDue();
    const calls = jobs.map((_, k) =>
      circuits(0.95).map(({ id, p }) => ({ p, wasIt: (id === 'display') === k % 5 < 2 })),
    );
    expect((await state())!.recalibration).toEqual(fitRecalibration(calls));
  });
  test('a failure keeps the one before, and the next close tries again', async () => {
    await db()('library_state').update({ unfitted: 1 });
    const fails = jest.spyOn(engineAnswers, 'fitCorrection').mockImplementation(() => {
      throw new Error('no');
    });
    const before = await state();
    await correctIfDue();
    expect(await state()).toEqual(before);
    fails.mockRestore();
    await correctIfDue();
    expect((await state())!.unfitted).toBe(0);
  });
});
