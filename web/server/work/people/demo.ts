import { db } from '../../record/db.ts';
import type { Person } from '../../record/actor.ts';
import { personOf } from './people.ts';
import type { PersonRow } from '../../record/tables.ts';

/** The made-up people of the demo: nobody can sign in as one of them anywhere else. */
const demoPeople = [
  { name: 'Ottilie Fenn', role: 'lead' },
  { name: 'Bram Sorley', role: 'technician' },
] as const;

export const isDemo = (): boolean => process.env.UMBRAL_DEMO === 'yes';

const loopback = /^(127\.\d+\.\d+\.\d+|::1)$/;

const loopbackName = /^(localhost|127\.0\.0\.1|\[::1\])(:\d{1,5})?$/i;

/** Whether a request may be signed in by itself: the demo, asked from this computer, by a name of this computer. */
export function signsInAutomatically(address: string | null, host: string | null): boolean {
  return isDemo() && loopback.test(address ?? '') && loopbackName.test(host ?? '');
}

/**
 * Makes the people of the demo where they are missing, and returns its lead.
 *
 * @throws {Error} where the demo accounts could not be created
 */
export async function demoLead(): Promise<Person> {
  const known = await db()<PersonRow>('people').where({ is_demo: true, name: demoPeople[0].name }).first();
  if (known) return personOf(known);
  await db()('people')
    .insert(demoPeople.map((p) => ({ ...p, is_demo: true })))
    .onConflict(db().raw('(lower(name))'))
    .ignore();
  const made = await db()<PersonRow>('people').where({ name: demoPeople[0].name }).first();
  if (!made) throw new Error('the demo accounts could not be created');
  return personOf(made);
}

/** Somebody of the demo, to be switched to without a secret; null for anybody else. */
export async function demoPerson(id: number): Promise<Person | null> {
  const row = isDemo() ? await db()<PersonRow>('people').where({ id, is_demo: true }).first() : undefined;
  return row ? personOf(row) : null;
}
