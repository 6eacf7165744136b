import { forgetLearner } from '../practice/leave.ts';
import { addAudit } from '../../record/audit.ts';
import { db, transaction, type Queries } from '../../record/db.ts';
import { conflict, ExpectedError, missing } from '../../record/errors.ts';
import type { Person, Role } from '../../record/actor.ts';
import { checkedPassword, checkedPin, digestOf, hashSecret, isSecret } from './passwords.ts';
import type { PersonRow } from '../../record/tables.ts';
import { countTry, forgetTries, fromNowhere, type From } from './tries.ts';

export const personOf = ({ id, name, role }: PersonRow): Person => ({ id, name, role });

/** Said for every way in which a sign-in can fail, so that nobody learns who works here. */
const notSignedIn = 'Wrong name or password.';

function nameOf(text: string): string {
  const name = text.normalize('NFC').replace(/\p{C}/gu, '').trim();
  if (name.length < 1 || name.length > 80) throw new ExpectedError('input', 'Name: expected 1 to 80 characters');
  return name;
}

const byName = (q: Queries, name: string) =>
  q<PersonRow>('people')
    .whereRaw('lower(name) = lower(?)', [name.slice(0, 200)])
    .whereNull('disabled_at');

/**
 * Whoever has this name and this secret. The try is counted before anything is compared ({@link countTry}).
 *
 * @throws {ExpectedError} where they do not belong together, or the next try has to wait
 */
export async function whoHas(
  name: string,
  secret: string,
  kind: 'password' | 'pin',
  from: From = fromNowhere,
): Promise<Person> {
  const wasRight = await countTry(name, from);
  const row = await byName(db(), name).where({ is_demo: false }).first();
  const stored = row ? (kind === 'pin' ? row.pin_hash : row.password_hash) : null;
  if (!(await isSecret(stored, secret)) || !row)
    throw new ExpectedError('input', kind === 'pin' ? 'Wrong PIN.' : notSignedIn);
  await wasRight();
  return personOf(row);
}

/** Whether anybody can sign in at all. */
export async function hasPeople(): Promise<boolean> {
  const known = await db()('people').where({ is_demo: false }).whereNull('disabled_at').first('id');
  return known !== undefined;
}

/** Everybody who works here, in order of names. */
export async function loadPeople(): Promise<
  (Person & { hasPin: boolean; hasPassword: boolean; isDemo: boolean; version: number })[]
> {
  const rows = await db()<PersonRow>('people').whereNull('disabled_at').orderByRaw('lower(name)');
  return rows.map((row) => ({
    ...personOf(row),
    hasPin: row.pin_hash !== null,
    hasPassword: row.password_hash !== null,
    isDemo: row.is_demo,
    version: row.version,
  }));
}

/**
 * Adds somebody, with a first password that they are told.
 *
 * @throws {ExpectedError} for a name that is taken
 */
export async function addPerson(name: string, role: Role, password: string): Promise<number> {
  const called = nameOf(name);
  const password_hash = await hashSecret(checkedPassword(password));
  return transaction(async (q) => {
    const made = (await q('people')
      .insert({ name: called, role, password_hash })
      .onConflict(q.raw('(lower(name))'))
      .ignore()
      .returning('id')) as { id: number }[];
    if (made.length === 0) throw new ExpectedError('input', `Name: "${called}" is already used, or was`);
    await addAudit(q, null, 'person added', { person: made[0].id, role });
    return made[0].id;
  });
}

/**
 * Gives somebody another role, or ends their work here. What they did keeps their name.
 *
 * @throws {ExpectedError} for the last lead, who has to stay one
 */
export async function changePerson(
  id: number,
  version: number,
  change: { role?: Role; isDisabled?: boolean },
): Promise<void> {
  await transaction(async (q) => {
    // One change of leads at a time, so that two of them cannot each remove the other.
    await q.raw('SELECT pg_advisory_xact_lock(471400002)');
    const row = await q<PersonRow>('people').where({ id }).whereNull('disabled_at').first();
    if (!row || row.is_demo) throw missing('This person');
    if (row.version !== version) throw conflict();
    const leads = await q('people').where({ role: 'lead', is_demo: false }).whereNull('disabled_at').pluck('id');
    const staysLead = change.isDisabled !== true && (change.role ?? row.role) === 'lead';
    if (row.role === 'lead' && !staysLead && leads.length === 1)
      throw new ExpectedError('input', `${row.name} is the only lead. Make someone else a lead first.`);
    await q('people')
      .where({ id })
      .update({
        ...(change.role ? { role: change.role } : {}),
        ...(change.isDisabled ? { disabled_at: q.fn.now(), name: `${row.name} (${id}, left)`.slice(0, 80) } : {}),
        version: version + 1,
      });
    await q('sessions').where({ person_id: id }).delete();
    if (change.isDisabled) await forgetLearner(q, id);
    if (change.isDisabled) await q('tokens').where({ person_id: id }).update({ revoked_at: q.fn.now() });
    await addAudit(q, null, change.isDisabled ? 'person removed' : 'role changed', {
      person: id,
      name: row.name,
      ...change,
    });
  });
}

/**
 * Lets somebody work here again who was removed: under their name, with their password, PIN and the tokens that ended with it.
 * What they showed in practice is gone.
 *
 * @throws {ExpectedError} where their name is another person's by now
 */
export async function bringPersonBack(id: number): Promise<void> {
  await transaction(async (q) => {
    const row = await q<PersonRow>('people').where({ id }).whereNotNull('disabled_at').first();
    if (!row || row.is_demo) throw missing('This person');
    const name = row.name.replace(/ \(\d+, left\)$/, '');
    if (await q('people').whereRaw('lower(name) = lower(?)', [name]).whereNot({ id }).first('id'))
      throw new ExpectedError('conflict', `Name: "${name}" is already used.`);
    // Those that ended with it: what was revoked before stays so.
    await q('tokens')
      .where({ person_id: id })
      .whereRaw('revoked_at = (SELECT disabled_at FROM people WHERE id = ?)', [id])
      .update({ revoked_at: null });
    await q('people')
      .where({ id })
      .update({ name, disabled_at: null, version: row.version + 1 });
    await addAudit(q, null, 'person brought back', { person: id, name });
  });
}

/** Chooses a PIN for the shared bench. Asks for the password, so that nobody does it at a screen that was left open. */
export async function choosePin(person: Person, password: string, pin: string, from = fromNowhere): Promise<void> {
  checkedPin(pin);
  await whoHas(person.name, password, 'password', from);
  const pin_hash = await hashSecret(pin);
  await transaction(async (q) => {
    await q('people').where({ id: person.id }).update({ pin_hash });
    await addAudit(q, null, 'PIN chosen', { person: person.id });
  });
}

/** Chooses another password; every other session of this person ends. */
export async function choosePassword(
  person: Person,
  old: string,
  password: string,
  keep: string,
  from = fromNowhere,
): Promise<void> {
  checkedPassword(password);
  await whoHas(person.name, old, 'password', from);
  const password_hash = await hashSecret(password);
  await transaction(async (q) => {
    await q('people').where({ id: person.id }).update({ password_hash });
    await q('sessions')
      .where({ person_id: person.id })
      .whereNot({ hash: digestOf(keep) })
      .delete();
    await addAudit(q, null, 'password changed', { person: person.id });
  });
}

const codeProblem = () =>
  new ExpectedError('input', 'This code is wrong, already used or expired. Get a new one from the console.');

/**
 * Uses a code from the console: makes the first lead, or gives a new password to whom it was made for.
 *
 * @throws {ExpectedError} for a code that is not valid
 */
export async function useCode(code: string, name: string, password: string): Promise<Person> {
  const called = nameOf(name);
  checkedPassword(password);
  const hash = digestOf(code.toLowerCase().replace(/[^a-z0-9]/g, ''));
  return transaction(async (q) => {
    const [used] = (await q('sign_in_codes')
      .where({ hash })
      .whereNull('used_at')
      .where('expires_at', '>', q.fn.now())
      .update({ used_at: q.fn.now() })
      .returning('person_id')) as { person_id: number | null }[];
    if (!used) throw codeProblem();
    const password_hash = await hashSecret(password);
    if (used.person_id !== null) {
      const row = await byName(q, called).where({ id: used.person_id }).first();
      if (!row) throw codeProblem();
      await q('people').where({ id: row.id }).update({ password_hash });
      await forgetTries(row.name);
      await q('sessions').where({ person_id: row.id }).delete();
      await addAudit(q, null, 'password renewed by a code', { person: row.id });
      return personOf(row);
    }
    const taken = await byName(q, called).first('id');
    if (taken) throw new ExpectedError('input', `Name: "${called}" is already used`);
    const [row] = (await q('people')
      .insert({ name: called, role: 'lead', password_hash })
      .returning('*')) as PersonRow[];
    await addAudit(q, null, 'first lead created', { person: row.id });
    return personOf(row);
  });
}
