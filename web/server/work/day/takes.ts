import { workKinds, type WorkKind } from '@umbral/core';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import type { Person } from '../../record/actor.ts';
import type { TakeRow } from '../../record/tables.ts';

/** Hours after which a job that nobody put down counts as put down: somebody went home. */
const forgottenHours = 10;

export const takeInput = yup.object({
  jobId: yup.number().integer().positive().required(),
  kind: yup.string().oneOf(workKinds).default('test'),
});

/** Whose hands a job is in. */
export interface InHand {
  jobId: number;
  personId: number;
  name: string;
  since: string;
}

/**
 * Takes a job in hand; whatever was in these hands is put down.
 *
 * @throws {ExpectedError} where it is in somebody else's, with their name: two who take it at once are told apart by the
 *   database
 */
export async function takeJob(jobId: number, person: Person, kind: WorkKind): Promise<void> {
  await transaction(async (q) => {
    const job = await q('jobs')
      .where({ id: jobId, is_practice: false })
      .whereNull('deleted_at')
      .whereNull('closed_at')
      .first('id');
    if (!job) throw missing(`Open job ${jobId}`);
    await putForgottenDown(q);
    await q('takes')
      .where({ person_id: person.id })
      .whereNull('ended_at')
      .whereNot({ job_id: jobId })
      .update({ ended_at: q.fn.now() });
    const made = await q('takes')
      .insert({ job_id: jobId, person_id: person.id, kind })
      .onConflict()
      .ignore()
      .returning('id');
    if (made.length === 0) {
      const [holder] = (await inHands(q)).filter((h) => h.jobId === jobId);
      if (holder?.personId === person.id) return;
      throw new ExpectedError(
        'conflict',
        `${holder?.name ?? 'Someone'} has this job in hand. Ask, or take another one.`,
      );
    }
    await addAudit(q, jobId, 'taken in hand');
  });
}

/** Puts a job down: whoever had it. */
export async function putDown(jobId: number): Promise<void> {
  await transaction(async (q) => {
    const ended = await q('takes')
      .where({ job_id: jobId })
      .whereNull('ended_at')
      .update({ ended_at: q.raw('greatest(now(), started_at)') });
    if (ended > 0) await addAudit(q, jobId, 'put down');
  });
}

/** Jobs that nobody put down before they went home are put down where their time ends. */
async function putForgottenDown(q: Queries): Promise<void> {
  await q('takes')
    .whereNull('ended_at')
    .where('started_at', '<', q.raw('now() - make_interval(hours => ?)', [forgottenHours]))
    .update({ ended_at: q.raw('started_at + make_interval(hours => 1)') });
}

/** Everything that is in somebody's hands. */
export async function inHands(q: Queries): Promise<InHand[]> {
  const rows = (await q('takes')
    .join('people', 'people.id', 'takes.person_id')
    .whereNull('takes.ended_at')
    .where('takes.started_at', '>', q.raw('now() - make_interval(hours => ?)', [forgottenHours]))
    .select('takes.*', 'people.name')) as (TakeRow & { name: string })[];
  return rows.map((r) => ({ jobId: r.job_id, personId: r.person_id, name: r.name, since: r.started_at.toISOString() }));
}
