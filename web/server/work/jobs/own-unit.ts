import { AccessError } from '../../record/errors.ts';
import type { Queries } from '../../record/db.ts';
import type { Person } from '../../record/actor.ts';

/**
 * Refuses a technician who looks into the practice unit of somebody else: its owner and leads may.
 *
 * @throws {AccessError} in words
 */
export async function refuseOthersUnit(q: Queries, jobId: number, person: Person): Promise<void> {
  if (person.role === 'lead') return;
  const unit = await q('practice_units').where({ job_id: jobId }).first('person_id');
  if (unit && unit.person_id !== person.id)
    throw new AccessError('forbidden', 'This practice unit belongs to someone else.');
}
