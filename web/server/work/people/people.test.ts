import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { asActor } from '../../record/actor.ts';
import { digestOf } from './passwords.ts';
import {
  addPerson,
  bringPersonBack,
  changePerson,
  choosePassword,
  choosePin,
  hasPeople,
  loadPeople,
  useCode,
  whoHas,
} from './people.ts';
import { beginSession, endSession, forgetFound, lockSession, sessionOf } from './sessions.ts';
import { makeToken, revokeToken, tokenOf } from './tokens.ts';
import { knowScreen, waitAfter, type From } from './tries.ts';

giveTestDatabase();
beforeEach(async () => {
  forgetFound();
  for (const table of ['tokens', 'sessions', 'sign_in_codes', 'sign_in_tries', 'known_screens'])
    await db()(table).delete();
  // What they did keeps their names: they leave, as people do.
  await db()('people').update({ disabled_at: db().fn.now(), name: db().raw("'gone ' || id") });
});

const password = 'a long enough one';

async function code(personId: number | null, minutes = 60): Promise<string> {
  const made = `abcd-efgh-${Math.random().toString(36).slice(2, 8)}`;
  await db()('sign_in_codes').insert({
    hash: digestOf(made.replaceAll('-', '')),
    person_id: personId,
    expires_at: db().raw('now() + make_interval(mins => ?)', [minutes]),
  });
  return made;
}

describe('signing in', () => {
  test('the first lead is made with the code from the console, once', async () => {
    expect(await hasPeople()).toBe(false);
    const given = await code(null);
    const lead = await useCode(` ${given.toUpperCase()} `, '  Ottilie Fenn ', password);
    expect(lead).toMatchObject({ name: 'Ottilie Fenn', role: 'lead' });
    expect(await hasPeople()).toBe(true);
    await expect(useCode(given, 'Somebody Else', password)).rejects.toThrow('This code is wrong, already used');
    await expect(useCode(await code(null, -1), 'Somebody Else', password)).rejects.toThrow('wrong, already');
    expect(await whoHas('ottilie fenn', password, 'password')).toEqual(lead);
  });

  test('whoever forgot a password chooses another with a code for them, and for nobody else; old sessions end', async () => {
    const id = await addPerson('Bram Sorley', 'technician', password);
    await addPerson('Ottilie Fenn', 'lead', password);
    const old = await beginSession({ id, name: 'Bram Sorley', role: 'technician' }, 'password');
    await expect(useCode(await code(id), 'Ottilie Fenn', 'another long one')).rejects.toThrow('wrong, already');
    expect((await useCode(await code(id), 'Bram Sorley', 'another long one')).id).toBe(id);
    expect((await whoHas('Bram Sorley', 'another long one', 'password')).id).toBe(id);
    await expect(whoHas('Bram Sorley', password, 'password')).rejects.toThrow();
    forgetFound();
    expect(await sessionOf(old, true)).toBeNull();
  });

  test.each([
    ['a wrong one', 'not this one at all'],
    ['an empty one', ''],
    ['one of 10 kB', 'x'.repeat(10_000)],
    ['the right one and more', `${password} `],
    ['one with zero characters', `${password}\0`],
  ])('with %s is refused, in the same words as for a name that nobody has', async (_, given) => {
    await addPerson('Bram Sorley', 'technician', password);
    const said = 'Wrong name or password.';
    await expect(whoHas('Bram Sorley', given, 'password')).rejects.toThrow(said);
    await expect(whoHas('Nobody At All', given, 'password')).rejects.toThrow(said);
  });

  test('after five wrong ones waits, longer each time, also with the right one', async () => {
    await addPerson('Bram Sorley', 'technician', password);
    for (let n = 0; n < 5; n++) await expect(whoHas('Bram Sorley', 'wrong wrong', 'password')).rejects.toThrow();
    await expect(whoHas('Bram Sorley', password, 'password')).rejects.toThrow(/Too many wrong attempts.* in [12] s/);
    // The clock of the database was set back by an hour.
    await db()('sign_in_tries').update({ locked_until: db().raw("now() + interval '1 hour'") });
    expect((await whoHas('Bram Sorley', password, 'password')).name).toBe('Bram Sorley');
    expect(await db()('sign_in_tries')).toEqual([]);
    expect([0, 4, 5, 6, 10, 50].map((n) => waitAfter(n))).toEqual([0, 0, 2, 4, 64, 900]);
  });

  test('of 120 tries at once no more are compared than one after the other', async () => {
    const id = await addPerson('Bram Sorley', 'technician', password);
    const person = { id, name: 'Bram Sorley', role: 'technician' as const };
    await choosePin(person, password, '4711');
    const pins = Array.from({ length: 120 }, (_, n) => String(4650 + n));
    const said = await Promise.all(
      pins.map((pin) =>
        whoHas('Bram Sorley', pin, 'pin').then(
          () => 'in',
          (error: Error) => error.message,
        ),
      ),
    );
    // The right one is among them, behind more than five wrong ones.
    expect(said.filter((s) => s === 'in').length).toBeLessThanOrEqual(1);
    expect(said.filter((s) => s.startsWith('Wrong PIN')).length).toBeLessThanOrEqual(5);
    expect(said.filter((s) => s.startsWith('Too many wrong attempts')).length).toBeGreaterThanOrEqual(114);
  });

  test('a name that nobody has waits in the same words, and an address that tries many names waits as a whole', async () => {
    const said = async (name: string, from?: From) =>
      whoHas(name, 'wrong wrong', 'password', from).catch((error: Error) => error.message.replace(/\d+ s/, 'N s'));
    await addPerson('Bram Sorley', 'technician', password);
    const known = [];
    const unknown = [];
    for (let n = 0; n < 7; n++) {
      known.push(await said('Bram Sorley'));
      unknown.push(await said('Nobody At All'));
    }
    expect(unknown).toEqual(known);
    const from = { address: '10.0.0.7', screen: null };
    const many = [];
    for (let n = 0; n < 30; n++) many.push(await said(`name ${n}`, from));
    expect(many.filter((s) => String(s).startsWith('Too many'))).toHaveLength(10);
  });

  test('nobody elsewhere makes a person wait at the screen where they signed in before', async () => {
    const id = await addPerson('Ottilie Fenn', 'lead', password);
    await knowScreen(id, 'her own screen');
    const hers = { address: '10.0.0.5', screen: 'her own screen' };
    for (let n = 0; n < 9; n++)
      await whoHas('Ottilie Fenn', 'wrong wrong', 'password', { address: '10.0.0.9', screen: 'another' }).catch(
        () => null,
      );
    await expect(whoHas('Ottilie Fenn', password, 'password')).rejects.toThrow('Too many');
    expect((await whoHas('Ottilie Fenn', password, 'password', hers)).id).toBe(id);
    // Her screen has a count of its own, and a code from the console ends the waiting elsewhere.
    for (let n = 0; n < 5; n++) await whoHas('Ottilie Fenn', 'wrong wrong', 'password', hers).catch(() => null);
    await expect(whoHas('Ottilie Fenn', password, 'password', hers)).rejects.toThrow('Too many');
    await useCode(await code(id), 'Ottilie Fenn', 'another long one');
    expect((await whoHas('Ottilie Fenn', 'another long one', 'password')).id).toBe(id);
  });

  test('a password and a PIN have to be worth something', async () => {
    await expect(addPerson('A', 'technician', 'short')).rejects.toThrow('Password: expected at least 10 characters');
    await expect(addPerson('A', 'technician', 'x'.repeat(201))).rejects.toThrow('at most 200 characters');
    await expect(addPerson('  ', 'technician', password)).rejects.toThrow('Name: expected 1 to 80');
    const id = await addPerson('A', 'technician', password);
    const person = { id, name: 'A', role: 'technician' as const };
    for (const pin of ['', '12', '1234', '4321', '0000', '12a4', '123456789'])
      await expect(choosePin(person, password, pin)).rejects.toThrow(/^PIN: /);
    await expect(choosePin(person, 'not the password', '4711')).rejects.toThrow('Wrong name or password.');
    await choosePin(person, password, '4711');
    expect(await whoHas('A', '4711', 'pin')).toEqual(person);
    await expect(whoHas('A', '4712', 'pin')).rejects.toThrow('Wrong PIN.');
    await expect(whoHas('A', '4711', 'password')).rejects.toThrow();
  });
});

describe('people', () => {
  test('are there once, change roles, and the last lead stays', async () => {
    const lead = await addPerson('Ottilie Fenn', 'lead', password);
    await expect(addPerson('ottilie FENN', 'technician', password)).rejects.toThrow('FENN" is already');
    await expect(changePerson(lead, 1, { role: 'technician' })).rejects.toThrow('Ottilie Fenn is the only lead');
    await expect(changePerson(lead, 1, { isDisabled: true })).rejects.toThrow('the only lead');
    const other = await addPerson('Bram Sorley', 'technician', password);
    await expect(changePerson(other, 7, { role: 'lead' })).rejects.toThrow('Someone else saved');
    await changePerson(other, 1, { role: 'lead' });
    await changePerson(lead, 1, { isDisabled: true });
    expect((await loadPeople()).map((p) => p.name)).toEqual(['Bram Sorley']);
    await expect(whoHas('Ottilie Fenn', password, 'password')).rejects.toThrow();
    await bringPersonBack(lead);
    expect((await loadPeople()).map((p) => p.name)).toEqual(['Bram Sorley', 'Ottilie Fenn']);
    expect(await whoHas('Ottilie Fenn', password, 'password')).toMatchObject({ id: lead });
    await expect(bringPersonBack(lead)).rejects.toThrow('This person');
  });

  test('of two leads who remove each other at once one stays', async () => {
    const [a, b] = [await addPerson('A', 'lead', password), await addPerson('B', 'lead', password)];
    const done = await Promise.allSettled([
      changePerson(a, 1, { isDisabled: true }),
      changePerson(b, 1, { isDisabled: true }),
    ]);
    expect(done.map((d) => d.status).sort()).toEqual(['fulfilled', 'rejected']);
    expect(await loadPeople()).toHaveLength(1);
  });

  test('what is written in their name carries it', async () => {
    const id = await addPerson('Bram Sorley', 'technician', password);
    const actor = { person: { id, name: 'Bram Sorley', role: 'technician' as const }, token: null, tokenId: null };
    await asActor(actor, () => addPerson('Newcomer', 'technician', password));
    expect(await db()('audit').where({ what: 'person added', person_id: id })).toHaveLength(1);
  });
});

describe('a session', () => {
  const somebody = async () => {
    const id = await addPerson('Bram Sorley', 'technician', password);
    return { id, name: 'Bram Sorley', role: 'technician' as const };
  };

  test('is known by what its cookie holds and by nothing else', async () => {
    const person = await somebody();
    const secret = await beginSession(person, 'password');
    expect(await sessionOf(secret, true)).toMatchObject({ person, isLocked: false });
    for (const stolen of ['', 'x', `${secret}x`, secret.slice(1), digestOf(secret), 'x'.repeat(5000)])
      expect(await sessionOf(stolen, true)).toBeNull();
    expect(JSON.stringify(await db()('sessions'))).not.toContain(secret);
    await endSession(secret);
    expect(await sessionOf(secret, true)).toBeNull();
  });

  test('is over when its time is, and with another password', async () => {
    const person = await somebody();
    const [old, mine] = [await beginSession(person, 'password'), await beginSession(person, 'password')];
    await choosePassword(person, password, 'another long one', mine);
    forgetFound();
    expect(await sessionOf(old, true)).toBeNull();
    expect(await sessionOf(mine, true)).not.toBeNull();
    await db()('sessions').update({ expires_at: db().raw("now() - interval '1 second'") });
    forgetFound();
    expect(await sessionOf(mine, true)).toBeNull();
  });

  test('locks by hand, and when nobody touched the screen for a while', async () => {
    const secret = await beginSession(await somebody(), 'password');
    await lockSession(secret);
    expect(await sessionOf(secret, true)).toMatchObject({ isLocked: true });
    const other = await beginSession((await sessionOf(secret, false))!.person, 'PIN');
    await db()('sessions')
      .where({ hash: digestOf(other) })
      .update({ seen_at: db().raw("now() - interval '1 day'") });
    expect(await sessionOf(other, true)).toMatchObject({ isLocked: true });
  });

  test('of somebody who left is over at once', async () => {
    const person = await somebody();
    const secret = await beginSession(person, 'password');
    await changePerson(person.id, 1, { isDisabled: true });
    forgetFound();
    expect(await sessionOf(secret, true)).toBeNull();
  });

  test('that was there a moment ago still is while the database is not available', async () => {
    const secret = await beginSession(await somebody(), 'password');
    await sessionOf(secret, true);
    const real = globalThis.umbralDb;
    const away = Object.assign(
      () => {
        throw Object.assign(new Error('connect ECONNREFUSED'), { code: 'ECONNREFUSED' });
      },
      { raw: () => '', fn: { now: () => '' } },
    );
    globalThis.umbralDb = away as unknown as typeof real;
    try {
      expect(await sessionOf(secret, true)).toMatchObject({ isLocked: false });
      await expect(sessionOf('another', true)).rejects.toThrow('ECONNREFUSED');
    } finally {
      globalThis.umbralDb = real;
    }
  });
});

describe('a token', () => {
  test('stands for whoever made it, with its scopes, until it is revoked', async () => {
    const id = await addPerson('Ottilie Fenn', 'lead', password);
    const token = await makeToken(id, 'laptop of the shop', ['packages:read']);
    const known = await tokenOf(token);
    expect(known).toMatchObject({ scopes: ['packages:read'], actor: { token: 'laptop of the shop', person: { id } } });
    expect(JSON.stringify(await db()('tokens'))).not.toContain(token);
    for (const wrong of ['', 'umbral_', `${token}x`, token.slice(7), 'x'.repeat(5000)])
      expect(await tokenOf(wrong)).toBeNull();
    await revokeToken(known!.id);
    expect(await tokenOf(token)).toBeNull();
    await expect(revokeToken(known!.id)).rejects.toThrow('no longer');
    await expect(makeToken(id, ' ', ['bench'])).rejects.toThrow('Name: expected');
    await expect(makeToken(id, 'x', [])).rejects.toThrow('choose at least one');
  });
});
