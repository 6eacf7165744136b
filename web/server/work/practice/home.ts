import {
  circuitNames,
  circuitsOf,
  isDue,
  practicableCircuits,
  practiceFigures,
  type CircuitId,
  type PracticeFigures,
} from '@umbral/core';
import { db } from '../../record/db.ts';
import type { Person } from '../../record/actor.ts';
import { listProfiles } from '../shop/profiles.ts';
import { loadReviews } from './calls.ts';
import { loadCourse, type LessonListed } from './course.ts';
import { calledUnits } from './figures.ts';
import { loadTeamUnit, type TeamUnitView } from './team.ts';

/** Two circuits that somebody mixes up. */
interface MixedUp {
  circuits: string[];
  wrong: number;
  /** ISO 8601; null for never. */
  lastRight: string | null;
  isDue: boolean;
}

/** What can be asked for by hand. */
export interface UnitChoice {
  profiles: { id: string; name: string; isGeneric: boolean; circuits: { id: CircuitId; name: string }[] }[];
}

export interface PracticeHome {
  course: LessonListed[];
  /** Units on the bench that are not finished. */
  open: { jobId: number; label: string; isCalled: boolean; lesson: string | null }[];
  figures: PracticeFigures;
  /** Points of the last calls, the oldest first, with the engine's. */
  lastCalls: { points: number; engine: number }[];
  mixedUp: MixedUp[];
  cardsDue: number;
  choice: UnitChoice;
  team: TeamUnitView | null;
}

const shownCalls = 40;

/** Everything that the page of practice shows of one person. */
export async function loadPracticeHome(person: Person, now: Date): Promise<PracticeHome> {
  const q = db();
  const calls = await calledUnits(q, person.id);
  const open = (await q('practice_units as u')
    .join('jobs as j', 'j.id', 'u.job_id')
    .leftJoin('practice_calls as c', 'c.job_id', 'u.job_id')
    .where('u.person_id', person.id)
    .whereNull('u.finished_at')
    .whereNull('j.deleted_at')
    .orderBy('u.job_id', 'desc')
    .limit(12)
    .select('u.job_id', 'j.label', 'u.lesson', { called: 'c.job_id' })) as {
    job_id: number;
    label: string;
    lesson: string | null;
    called: number | null;
  }[];
  const pairs = await loadReviews(q, person.id, 'pair');
  const cards = await q('practice_reviews')
    .where({ person_id: person.id, kind: 'silhouette' })
    .where('due_at', '<=', now)
    .count({ n: '*' })
    .first();
  return {
    course: await loadCourse(q, person.id),
    open: open.map(({ job_id, label, lesson, called }) => ({
      jobId: job_id,
      label,
      lesson,
      isCalled: called !== null,
    })),
    figures: practiceFigures(calls),
    lastCalls: calls.slice(-shownCalls).map((c) => ({ points: c.points, engine: c.enginePoints })),
    mixedUp: pairs
      .map((r) => ({
        circuits: circuitsOf(r.key).map((id) => circuitNames[id]),
        wrong: r.wrong,
        lastRight: r.lastRight?.toISOString() ?? null,
        isDue: isDue(r, now),
      }))
      .sort((a, b) => Number(b.isDue) - Number(a.isDue) || b.wrong - a.wrong),
    cardsDue: Number(cards?.n ?? 0),
    choice: await loadChoice(),
    team: await loadTeamUnit(q, person.id, now),
  };
}

/** Devices that units can be made of, with what they can have. */
export async function loadChoice(): Promise<UnitChoice> {
  const profiles = await listProfiles(db());
  return {
    profiles: profiles
      .map(({ profile }) => ({
        id: profile.id,
        name: profile.generic ? `any ${profile.name.replace(' (generic)', '')}` : profile.name,
        isGeneric: profile.generic,
        circuits: practicableCircuits(profile).map((id) => ({ id, name: circuitNames[id] })),
      }))
      .sort((a, b) => Number(a.isGeneric) - Number(b.isGeneric) || a.name.localeCompare(b.name)),
  };
}
