import {
  closesAt,
  dayOf,
  dueMoment,
  nextWorkday,
  profileForModel,
  caseJson,
  emptyIntake,
  plainCheck,
  plainReading,
  readPackage,
  seededRandom,
  sketchTrace,
  unknownInstrument,
  unknownSetup,
  usualHours,
  writeLog,
  logHeader,
  type Case,
  type PackageFiles,
  type Run,
} from '@umbral/core';
import { json, transaction, type Queries } from '../../record/db.ts';
import { latestAssessment } from '../jobs/jobs.ts';
import { storePackage } from '../exchange/packages.ts';
import { assessBeside, assessFrom, keptAnswers, learnedIn, type Assess } from './answers.ts';
import { openProofsOf } from '../entries/job-edits.ts';
import { fleet } from './fleet.ts';
import type { SampleJob, SampleRun } from './sample-job.ts';
import { models } from './models.ts';
import { loadSampleBoards } from './boards.ts';
import { loadSampleShelf } from './shelf.ts';

const encoder = new TextEncoder();

/** Due until the shop closes on that day, or on the next on which it is open: nobody promises a Sunday. */
function dueOn(moment: Date): Date {
  const day = dayOf(usualHours, moment);
  return dueMoment(usualHours, closesAt(usualHours, moment) ? day : (nextWorkday(usualHours, day) ?? day));
}

/** What the made-up library service takes for its repairs, and what an hour costs it. */
const samplePolicy = {
  hourlyCost: 25,
  name: 'Hillside Library Service, repair bench',
  contact: 'Ask at any branch, or phone extension 41',
  fee: 85,
  fees: { phone: 85, tablet: 90, laptop: 180, handheld: 95, console: 130, ereader: 45 },
};

/** What the engine said before where it was asked the same. */
const usualAsking = (q: Queries): Assess => assessFrom(keptAnswers(), q);

/** Loads the sample fleet into an empty bench; does nothing where there is any job. The same every time but for the dates. */
export async function loadSampleFleet(now: Date, asking: (q: Queries) => Assess = usualAsking): Promise<number> {
  return transaction(async (q) => {
    await q.raw('SELECT pg_advisory_xact_lock(?)', [4712]);
    const any = await q('jobs').where({ is_practice: false }).first('id');
    if (any) return 0;
    await q('shop_policy')
      .insert({ id: 1, version: 1, value: json(samplePolicy) })
      .onConflict('id')
      .ignore();
    await loadSampleShelf(q);
    // What was learned elsewhere has a say too, and no answer that was kept knows it.
    const assess = (await learnedIn(q)) === 0 ? asking(q) : assessBeside(q);
    for (const [k, sample] of fleet.entries()) {
      const files = samplePackage(sample, k + 1);
      const day = 86_400_000;
      const cameIn = new Date(now.getTime() - sample.daysAgo * day);
      const assessedAt = new Date(cameIn.getTime() + 40 * 60_000);
      const jobId = await storePackage(q, await readPackage(files), files, {
        label: sample.label,
        isSample: true,
        at: assessedAt,
        assess,
        closedAt: new Date(cameIn.getTime() + 0.4 * day),
      });
      await q('jobs')
        .where({ id: jobId })
        .update({
          stage: sample.stage,
          technician: sample.technician,
          created_at: cameIn,
          due_at: sample.dueInDays === undefined ? null : dueOn(new Date(now.getTime() + sample.dueInDays * day)),
          recall_at: sample.recallInDays === undefined ? null : new Date(now.getTime() + sample.recallInDays * day),
          ...(sample.outcome
            ? {
                outcome_open: json(openProofsOf((await latestAssessment(q, jobId))?.result ?? null)),
              }
            : {}),
        });
      if (sample.waits)
        await q('waits').insert({
          job_id: jobId,
          kind: sample.waits.kind,
          started_at: new Date(now.getTime() - (sample.waits.sinceHours ?? 1) * 3_600_000),
          until_at: sample.waits.hours === undefined ? null : new Date(now.getTime() + sample.waits.hours * 3_600_000),
        });
      await spreadOverTime(q, jobId, cameIn);
    }
    await loadSampleBoards(q);
    return fleet.length;
  });
}

/** Tables of entries, in the order in which they are usually made. */
const entryTables = ['runs', 'checks', 'readings', 'injections', 'proofs'] as const;

/** Lets the entries of a job follow each other by some minutes, each after the change that it follows. */
async function spreadOverTime(q: Queries, jobId: number, from: Date): Promise<void> {
  const actions = await q('actions').where({ job_id: jobId }).orderBy('id').select('id', 'action_key');
  const entries: { table: string; id: number; epoch: number }[] = actions.map(({ id }, k) => ({
    table: 'actions',
    id: id as number,
    epoch: k + 1,
  }));
  for (const table of entryTables)
    for (const row of await q(table).where({ job_id: jobId }).orderBy('id').select('id', 'after_action')) {
      const epoch = actions.findIndex((a) => a.action_key === row.after_action) + 1;
      entries.push({ table, id: row.id as number, epoch });
    }
  // A stable order: changes stand first in the list, so each stays at the head of its state.
  const inOrder = entries.map((e, k) => ({ ...e, k })).sort((a, b) => a.epoch - b.epoch || a.k - b.k);
  for (const [k, { table, id }] of inOrder.entries())
    await q(table)
      .where({ id })
      .update({ created_at: new Date(from.getTime() + (4 + 3 * k) * 60_000) });
}

/** A sample job as the files of a case package, so that it comes in the way an imported one does. */
export function samplePackage(sample: SampleJob, seed: number): PackageFiles {
  const contents = new Map<string, Uint8Array>();
  const random = seededRandom(seed * 7919);
  const runs = sample.runs.map((run, k) => toRun(run, `r${k + 1}`, contents, random));
  const { model } = sample;
  const value: Case = {
    id: sample.serial,
    device: { ...models[model], serial: sample.serial, profile: profileForModel(models[model].model)?.id ?? null },
    complaint: sample.complaint,
    places: [],
    complaintKind: sample.complaintKind,
    intake: { ...emptyIntake, ...sample.intake },
    runs,
    // A job that has only been taken in holds nothing to assess yet; the note stands in for it.
    checks:
      sample.checks ??
      (runs.length === 0 ? [{ ...plainCheck, id: 'visual', outcome: 'swollen', note: 'seen from outside' }] : []),
    readings: (sample.readings ?? []).map((r) => ({
      ...plainReading,
      unit: 'V',
      ...r,
    })),
    injections: sample.injections ?? [],
    actions: sample.actions ?? [],
    proofs: sample.proofs ?? [],
    outcome: sample.outcome ?? null,
  };
  contents.set('case.json', encoder.encode(JSON.stringify(caseJson(value))));
  return {
    remarks: [],
    stat: (name) => Promise.resolve(contents.has(name) ? { size: contents.get(name)!.length, link: false } : null),
    open: async function* (name) {
      yield contents.get(name)!;
    },
  };
}

function toRun(sample: SampleRun, id: string, contents: Map<string, Uint8Array>, random: () => number): Run {
  const base: Run = {
    id,
    file: null,
    typed: sample.typed ?? null,
    feed: sample.feed ?? feedOf(sample.typed ?? ''),
    quantity: sample.quantity ?? 'current',
    instrument: unknownInstrument,
    setup: { ...unknownSetup, unplugged: [], ...sample.setup },
    markers: sample.markers ?? [],
    contract: null,
    after: sample.after ?? null,
  };
  if (!sample.strokes || !sample.instrument) return base;
  const { limitA, setV } = base.setup;
  const trace = sketchTrace(base.feed, sample.strokes, sample.instrument, random, {
    limitA: limitA ?? undefined,
    setV: setV ?? undefined,
  });
  const file = `runs/${id}.csv`;
  contents.set(file, encoder.encode(logHeader + [...writeLog(trace)].join('')));
  return { ...base, file, instrument: trace.instrument };
}

function feedOf(line: string): Run['feed'] {
  return line.startsWith('usb-c') ? 'usb-c' : line.startsWith('dc-in') ? 'dc-in' : 'battery';
}
