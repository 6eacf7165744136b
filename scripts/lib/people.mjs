import { createHash, randomInt } from 'node:crypto';
import { say } from './run.mjs';

const validMinutes = 60;
/** Without signs that are mistaken for each other. */
const letters = 'abcdefghjkmnpqrstuvwxyz23456789';

const hashOf = (code) => createHash('sha256').update(code).digest('hex');

/**
 * Makes a code that is typed once into the sign-in page.
 *
 * @param db Knex
 * @param personId whose password it is for; null to make the first lead
 */
export async function makeCode(db, personId) {
  const code = Array.from(
    { length: 16 },
    (_, k) => (k % 4 === 0 && k > 0 ? '-' : '') + letters[randomInt(letters.length)],
  ).join('');
  await db('sign_in_codes').insert({
    hash: hashOf(code.replaceAll('-', '')),
    person_id: personId,
    expires_at: db.raw(`now() + interval '${validMinutes} minutes'`),
  });
  return code;
}

/** On the first start: a code to make the account of the lead with. */
export async function firstLead(ownerUrl, webUrl) {
  const { default: knex } = await import('knex');
  const db = knex({ client: 'pg', connection: ownerUrl, pool: { min: 0, max: 1 } });
  try {
    const known = await db('people').where({ is_demo: false, role: 'lead' }).whereNull('disabled_at').first('id');
    if (known) return;
    const code = await makeCode(db, null);
    say(
      `  No accounts yet. Create the lead's account at ${webUrl}/sign-in\n  with this code (${validMinutes} minutes, once): ${code}\n`,
    );
  } finally {
    await db.destroy();
  }
}
