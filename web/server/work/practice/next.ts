import {
  attainablePoints,
  beginner,
  chooseNext,
  practicableCircuits,
  seededRandom,
  type CircuitId,
  type NextUnit,
} from '@umbral/core';
import { transaction, type Queries } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import type { Person } from '../../record/actor.ts';
import { listProfiles, type KnownProfile } from '../shop/profiles.ts';
import { loadReviews } from './calls.ts';
import { makeUnit, newSeed } from './units.ts';

const recentUnits = 5;

async function choose(q: Queries, personId: number, seed: number): Promise<{ next: NextUnit; from: KnownProfile[] }> {
  const ability = (await q('practice_learners').where({ person_id: personId }).first())?.ability ?? beginner;
  const recent = (await q('practice_units')
    .where({ person_id: personId })
    .orderBy('job_id', 'desc')
    .limit(recentUnits)
    .pluck('circuit')) as CircuitId[];
  const profiles = (await listProfiles(q)).filter((p) => !p.profile.generic);
  const has = new Map<CircuitId, KnownProfile[]>();
  for (const p of profiles) for (const c of practicableCircuits(p.profile)) has.set(c, [...(has.get(c) ?? []), p]);
  const learner = { ability, pairs: await loadReviews(q, personId, 'pair'), recent: recent.reverse() };
  const next = chooseNext(learner, [...has.keys()], attainablePoints, new Date(), seededRandom(seed));
  return { next, from: has.get(next.circuit) ?? [] };
}

/**
 * Lays the unit that teaches most now on the person's bench. One that lies there uncalled is gone on with.
 *
 * @returns number of the job
 */
export async function takeNext(person: Person): Promise<number> {
  return transaction(async (q) => {
    await q.raw('SELECT pg_advisory_xact_lock(?, ?)', [4714, person.id]);
    const open = (await q('practice_units as u')
      .join('jobs as j', 'j.id', 'u.job_id')
      .leftJoin('practice_calls as c', 'c.job_id', 'u.job_id')
      .where('u.person_id', person.id)
      .where('u.source', 'next')
      .whereNull('u.finished_at')
      .whereNull('c.job_id')
      .whereNull('j.deleted_at')
      .orderBy('u.job_id', 'desc')
      .first('u.job_id')) as { job_id: number } | undefined;
    if (open) return open.job_id;
    const seed = newSeed();
    const { next, from } = await choose(q, person.id, seed);
    const known = from[seed % from.length];
    if (!known) throw new ExpectedError('input', 'There is no model to practise on.');
    const { profile, version } = known;
    return makeUnit(q, person, { source: 'next', profile: profile.id, version, circuit: next.circuit, seed });
  });
}
