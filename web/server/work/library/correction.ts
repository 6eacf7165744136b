import type { PackedCalls } from '@umbral/core';
import * as engine from '../../analysis/engine.ts';
import { handOver } from '../../record/queue.ts';
import { db, json, type Queries } from '../../record/db.ts';
import { log } from '../../record/errors.ts';
import type { CallRow } from '../../record/tables.ts';

/** Up to so many calls the correction of percentages follows every one of them. */
const followsUpTo = 1000;
/** Of more calls it is made again when a hundredth of them is new: one in a hundred moves it by less than its own error. */
const newShare = 0.01;
/** The newest calls are enough: with so many the error of the correction is under a hundredth. */
const atMost = 20_000;
/** Calls that are read at once. */
const atOnce = 500;

/** How many calls can be scored, and how many changed since the correction was made. */
async function standOf(q: Queries): Promise<{ scored: number; unfitted: number }> {
  const sum = await q('call_sums').where({ by: 'all', key: '', what: 'scored' }).first('n');
  const state = await q('library_state').where({ id: 1 }).first('unfitted');
  return { scored: Number(sum?.n ?? 0), unfitted: state?.unfitted ?? 0 };
}

/** Makes the correction of percentages anew where enough calls changed; behind everything where there are many. Never rejects. */
export async function correctIfDue(): Promise<void> {
  try {
    const { scored, unfitted } = await standOf(db());
    const isSmall = scored <= followsUpTo;
    if (unfitted === 0 || (!isSmall && unfitted < newShare * scored)) return;
    if (isSmall) await correct(engine.fitCorrection);
    else await handOver('correct', {}, correctBehind);
  } catch (error) {
    // The one before stays in force, and the next close tries again.
    log.warn({ problem: String(error) }, 'the percentages were not adjusted');
  }
}

/** Makes it on a thread of its own, which nobody's verdict waits for. */
export function correctBehind(): Promise<void> {
  return engine.withOwnEngine((own) => correct((calls) => own.fitCorrection(calls)));
}

async function correct(fit: typeof engine.fitCorrection): Promise<void> {
  const q = db();
  const { unfitted } = await standOf(q);
  const recalibration = await fit(await scoredCalls(q));
  await q('library_state')
    .where({ id: 1 })
    .update({
      recalibration: recalibration && json(recalibration),
      fits: q.raw('fits + 1'),
      unfitted: q.raw('unfitted - ?', [unfitted]),
    } as never);
}

/** The newest calls whose cause is confirmed, with what the engine said itself, the oldest of them first. */
async function scoredCalls(q: Queries): Promise<PackedCalls> {
  const found: Pick<CallRow, 'job_id' | 'closed_at' | 'circuit' | 'circuits'>[] = [];
  while (found.length < atMost) {
    const last = found.at(-1);
    const list = q('calls')
      .whereRaw("counts \\? 'scored'")
      .orderBy([
        { column: 'closed_at', order: 'desc' },
        { column: 'job_id', order: 'desc' },
      ])
      .limit(atOnce)
      .select('job_id', 'closed_at', 'circuit', 'circuits');
    if (last) void list.whereRaw('(closed_at, job_id) < (?, ?)', [last.closed_at, last.job_id]);
    const rows = (await list) as typeof found;
    found.push(...rows);
    if (rows.length < atOnce) break;
  }
  found.reverse();
  const p = found.flatMap(({ circuits }) => circuits.map((c) => c.uncorrected));
  return {
    p: Float64Array.from(p),
    lengths: Uint16Array.from(found, ({ circuits }) => circuits.length),
    was: Int16Array.from(found, ({ circuits, circuit }) => circuits.findIndex((c) => c.id === circuit)),
  };
}
