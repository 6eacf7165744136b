import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { giveTestDatabase } from '../../testing/database';
import { db } from '@/server/record/db';
import { actionInput, jobInput, outcomeInput, voidInput } from '@/server/record/input';
import { saveReading } from '@/server/work/opened/measure';
import { measureInput } from '@/server/work/opened/measure-input';
import { saveProof, proofInput } from '@/server/work/entries/proofs';
import { takeBackEntry } from '@/server/work/entries/corrections';
import { setVoid } from '@/server/work/entries/job-entries';
import { latestAssessment } from '@/server/work/jobs/jobs';
import { loadPolicy, policyInput, savePolicy } from '@/server/work/shop/policy';
import { addTypedRun } from '@/server/work/entries/record';
import { enterChange } from '@/server/work/entries/repair';
import * as jobEdits from '@/server/work/entries/job-edits';
import { loadReport } from './load';
import { reportPdf } from './pdf';
import type { Report } from './content';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('@/server/analysis/pool', () => jest.requireActual<object>('../../testing/in-process-pool.ts'));

giveTestDatabase();

const dead = 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold';
const healthy = 'battery 4V limit 3A: 0 | prompt 0.1 0.5 1.2 0.6 1.1 0.4 0.9 hold';

/** A phone that does not start, with one run. */
async function brought(intake: object = {}): Promise<number> {
  const jobId = await jobEdits.createJob(
    jobInput.validateSync({
      label: 'field phone',
      deviceClass: 'phone',
      model: 'Saltmere Brook 3',
      serial: 'HLS-P-033',
      complaint: 'Never starts, żółw says',
      complaintKind: 'no-start',
      intake,
    }),
  );
  await addTypedRun(jobId, dead, undefined);
  return jobId;
}

/** The same after a shorted coil was found and replaced: it starts. */
async function repaired(intake: object = {}): Promise<number> {
  const jobId = await brought(intake);
  await saveReading(
    measureInput.validateSync({ jobId, where: 'coil 2', mode: 'resistance', circuit: 'rail.run', text: '0.4' }),
  );
  await enterChange(
    actionInput.validateSync({ jobId, confirmed: true, kind: 'replace', circuit: 'rail.run', target: 'coil 2' }),
  );
  await addTypedRun(jobId, healthy, undefined);
  await saveProof(proofInput.validateSync({ jobId, protocol: 'three-cold-starts', step: 'first', result: 'pass' }));
  return jobId;
}

const close = async (jobId: number, over: object): Promise<void> => {
  const { version } = (await db()('jobs').where({ id: jobId }).first('version')) as { version: number };
  await jobEdits.closeJob(outcomeInput.validateSync({ jobId, version, target: '', fix: '', ...over }));
};
const section = (report: Report, title: string): string =>
  report.sections.find((s) => s.title === title)?.lines.join(' ') ?? '';

describe('the report for the customer', () => {
  test('says in plain words what was reported, found, done, tested and not tested', async () => {
    const jobId = await repaired({ liquid: true });
    await close(jobId, { grade: 'measured', circuit: 'rail.run', target: 'coil 2', recallAt: '2027-02-01' });
    const report = await loadReport(jobId, 'customer');
    expect(section(report, 'What you reported')).toContain('It had liquid damage.');
    expect(section(report, 'What was wrong')).toBe('We measured a fault in a supply on the main board, at coil 2.');
    expect(section(report, 'What we did')).toBe('We replaced coil 2.');
    expect(section(report, 'How it is now')).toBe('It works: it starts normally.');
    expect(section(report, 'What we tested')).toContain('First cold start: it starts.');
    expect(section(report, 'What we did not test')).toContain('Function test.');
    expect(section(report, 'What may come back')).toContain('It had liquid damage');
    expect(section(report, 'What you should do')).toContain('1 February 2027');
    // Workmanship is for the record, not for the customer; nor is anything that the job does not need.
    expect(JSON.stringify(report)).not.toContain('Fitted part');
    expect(section(await loadReport(jobId, 'technician'), 'What was not tested')).toContain('Fitted part');
    expect(JSON.stringify(report)).not.toContain('HLS-P-033');
  });

  test.each([
    ['disappeared', '', 'We did not repair it.'],
    ['not-economical', 'core.soc', 'The fault is in the processor. A repair would cost more than it is worth.'],
    ['declined', '', 'It was not repaired.'],
    ['not-found', '', 'We did not find the fault.'],
  ])('closed as %s', async (grade, circuit, says) => {
    const jobId = await repaired();
    await close(jobId, { grade, circuit });
    const report = await loadReport(jobId, 'customer');
    expect(section(report, 'What was wrong')).toContain(says);
    // A device that goes back as it is needs no list of proofs.
    const isDead = ['not-economical', 'declined', 'not-found'].includes(grade);
    expect(report.sections.some((s) => s.title === 'What we did not test')).toBe(!isDead);
    expect(JSON.stringify(report)).not.toMatch(/\brun r\d|failed|\d+ mA/);
  });

  test('of a job that is not finished says so', async () => {
    const report = await loadReport(await repaired(), 'customer');
    expect(section(report, 'What was wrong')).toContain('not finished yet');
  });
});

describe('what no customer reads', () => {
  test('a trial is no repair, and what was put back, void or only planned is not told', async () => {
    const jobId = await repaired();
    const enter = (over: object) =>
      enterChange(actionInput.validateSync({ jobId, confirmed: true, circuit: '', target: '', ...over }));
    await enter({ kind: 'trial', unit: 'pack', with: 'good' });
    await enter({ kind: 'refit', unit: 'pack', with: 'own' });
    await enter({ kind: 'replace', target: 'charger chip', planned: true });
    await enter({ kind: 'clean', target: 'wrong socket' });
    const { id } = (await db()('actions').where({ job_id: jobId, target: 'wrong socket' }).first('id'))!;
    await takeBackEntry(jobId, 'actions', id);
    await addTypedRun(jobId, healthy, undefined);
    const { id: run } = (await db()('runs').where({ job_id: jobId }).orderBy('id', 'desc').first('id'))!;
    await setVoid(voidInput.validateSync({ jobId, table: 'runs', entryId: run, why: 'bad plug' }));
    const customer = await loadReport(jobId, 'customer');
    expect(section(customer, 'What we did')).toBe('We replaced coil 2.');
    expect(JSON.stringify(customer)).not.toMatch(/charger chip|wrong socket|bad plug|void|planned/i);
    const technician = await loadReport(jobId, 'technician');
    expect(section(technician, 'Changes, in order')).toContain('Planned, not done: Charger chip replaced');
    expect(section(technician, 'Changes, in order')).not.toContain('wrong socket');
    expect(technician.runs.at(-1)).toMatchObject({ state: 'void: bad plug' });
  });

  test('the shop says who it is; nothing is said of a shop that did not', async () => {
    const jobId = await repaired();
    expect((await loadReport(jobId, 'customer')).facts[0][0]).toBe('Device');
    const policy = await loadPolicy(db());
    await savePolicy(
      policyInput.validateSync({ ...policy, success: 80, name: 'Bench of the library', contact: 'Extension 41' }),
    );
    expect((await loadReport(jobId, 'customer')).facts.slice(0, 2)).toEqual([
      ['From', 'Bench of the library'],
      ['Contact', 'Extension 41'],
    ]);
    await savePolicy(policyInput.validateSync({ ...(await loadPolicy(db())), success: 80, name: '', contact: '' }));
  });
});

describe('the report for the next technician', () => {
  test('has both values of each place side by side, and the state in the words of every screen', async () => {
    const jobId = await repaired();
    await saveReading(
      measureInput.validateSync({ jobId, where: 'coil 2', mode: 'resistance', circuit: 'rail.run', text: '4.7k' }),
    );
    const { state } = (await latestAssessment(db(), jobId))!.result;
    for (const audience of ['technician', 'customer'] as const)
      expect(section(await loadReport(jobId, audience), 'How it is now')).toBe(state?.sentence);
    const report = await loadReport(jobId, 'technician');
    expect(report.tables.find((t) => t.title === 'Before and after')?.rows).toEqual([
      { what: 'coil 2', seen: '0.40 ohm before, 4.70 kohm after', state: 'after change 1' },
    ]);
    await close(jobId, { grade: 'measured', circuit: 'rail.run', target: 'coil 2' });
    expect((await loadReport(jobId, 'technician')).sections.some((s) => s.title.startsWith('Why Run-state rail'))).toBe(
      true,
    );
  });

  test('has everything, with the state that it belongs to', async () => {
    const jobId = await repaired();
    const report = await loadReport(jobId, 'technician');
    expect(report.facts).toContainEqual(['Serial', 'HLS-P-033']);
    expect(report.runs.map((r) => [r.key, r.state])).toEqual([
      ['r1', 'before any change'],
      ['r2', 'after change 1'],
    ]);
    expect(report.runs[0].levels.length).toBeGreaterThan(0);
    const table = (title: string) => report.tables.find((t) => t.title === title)?.rows;
    expect(table('Readings')).toEqual([{ what: 'coil 2', seen: 'resistance 0.40 ohm', state: 'before any change' }]);
    expect(table('Proofs')?.[0]).toMatchObject({ state: 'after change 1' });
    expect(section(report, 'Outcome')).toMatch(/Verdict when opened: .*Current verdict: Run-state rail/);
  });

  test('becomes a PDF of several pages, letters of any alphabet and two hundred entries included', async () => {
    const jobId = await repaired();
    await db()('checks').insert(
      Array.from({ length: 200 }, (_, k) => ({
        job_id: jobId,
        check_id: 'screen',
        outcome: 'dark',
        note: `нажато ${k} раз, żółw ${'long '.repeat(k % 7)}`,
      })),
    );
    const pdf = await reportPdf(await loadReport(jobId, 'technician'));
    expect(pdf.subarray(0, 5).toString()).toBe('%PDF-');
    expect(pdf.toString('latin1').match(/\/Type \/Page\b/g)!.length).toBeGreaterThan(4);
  });
});

describe('the five reports that a customer may get, as docs/reports.md shows them', () => {
  /** A report as text, without the days on which the test runs. */
  const asText = ({ facts, sections }: Report): string =>
    [
      facts
        .filter(([name]) => name === 'Device')
        .map(([name, value]) => `${name}: ${value}`)
        .join('\n'),
      ...sections.map(({ title, lines }) => `### ${title}\n\n${lines.map((l) => `- ${l}`).join('\n')}`),
    ].join('\n\n');
  const samples: [title: string, make: () => Promise<number>][] = [
    [
      'Repaired',
      async () => {
        const jobId = await repaired();
        for (const [protocol, step] of [
          ['three-cold-starts', 'second'],
          ['three-cold-starts', 'third'],
        ])
          await saveProof(proofInput.validateSync({ jobId, protocol, step, result: 'pass' }));
        await close(jobId, { grade: 'measured', circuit: 'rail.run', target: 'coil 2' });
        return jobId;
      },
    ],
    [
      'Repaired, but something is left',
      async () => {
        const jobId = await repaired({ liquid: true });
        await close(jobId, { grade: 'cleared', circuit: 'rail.run', recallAt: '2027-02-01' });
        return jobId;
      },
    ],
    [
      'Not repaired',
      async () => {
        const jobId = await brought();
        await close(jobId, { grade: 'not-economical', circuit: 'core.soc' });
        return jobId;
      },
    ],
    [
      'Not found',
      async () => {
        const jobId = await brought();
        await close(jobId, { grade: 'not-found', circuit: '' });
        return jobId;
      },
    ],
    [
      'Only the data was needed',
      async () => {
        const jobId = await brought({ dataWanted: true });
        await db()('jobs').where({ id: jobId }).update({ data_only: true });
        await close(jobId, { grade: 'declined', circuit: 'rail.run' });
        return jobId;
      },
    ],
  ];

  test('they stand there as they are made, each on one page', async () => {
    const shown: string[] = [];
    for (const [title, make] of samples) {
      const report = await loadReport(await make(), 'customer');
      shown.push(`## ${title}\n\n${asText(report)}\n`);
      const pdf = await reportPdf(report);
      expect([title, pdf.toString('latin1').match(/\/Type \/Page\b/g)!.length]).toEqual([title, 1]);
      expect(JSON.stringify(report)).not.toMatch(/ %|\brun r\d|\bohm\b|\d+ mA/);
    }
    const head =
      '# Reports for customers\n\nWhat a customer reads, in the five ways in which a job can end. `web/features/report/report.test.ts` makes them.\n\n';
    const file = join(__dirname, '..', '..', '..', 'docs', 'reports.md');
    const text = `${head}${shown.join('\n')}`;
    if (process.env.UMBRAL_KEEP_ANSWERS) writeFileSync(file, text);
    expect(readFileSync(file, 'utf8')).toBe(text);
  });
});
