'use server';

import { readInput } from '@umbral/core';
import { action, changed } from '@/features/action';
import { revalidatePath } from 'next/cache';
import { cookies, headers } from 'next/headers';
import * as yup from 'yup';
import { AccessError, ExpectedError, failure, type Result } from '@/server/record/errors';
import { currentSession, resultFor, sessionCookie } from '@/server/work/people/access';
import type { Person, Role } from '@/server/record/actor';
import { demoPerson, isDemo } from '@/server/work/people/demo';
import {
  addPerson,
  bringPersonBack,
  changePerson,
  choosePassword,
  choosePin,
  loadPeople,
  useCode,
  whoHas,
} from '@/server/work/people/people';
import { newSecret } from '@/server/work/people/passwords';
import policy from '@/server/work/people/policy.json';
import { beginSession, endSession, lockSession } from '@/server/work/people/sessions';
import { makeToken, revokeToken, scopes, type Scope } from '@/server/work/people/tokens';
import { knowScreen, type From } from '@/server/work/people/tries';

const text = (label: string, most = 400) =>
  yup.string().max(most, `${label}: expected at most ${most} characters`).required(`${label}: missing`);
const signInInput = yup.object({ name: text('Name'), password: text('Password') });
const codeInput = yup.object({ code: text('Code', 60), name: text('Name'), password: text('Password') });
const switchInput = yup.object({
  personId: yup.number().integer().positive().required(),
  pin: yup.string().max(20).default(''),
});

/** By what a screen is known again at which somebody signed in. */
const screenCookie = 'umbral_screen';

async function keepCookie(name: string, secret: string, days: number): Promise<void> {
  (await cookies()).set(name, secret, {
    httpOnly: true,
    sameSite: 'strict',
    secure: process.env.UMBRAL_HTTPS === 'yes',
    path: '/',
    maxAge: days * 86_400,
  });
}

/** Where whoever asks now tries from. */
async function from(): Promise<From> {
  const address = (await headers()).get('x-umbral-address');
  return { address, screen: (await cookies()).get(screenCookie)?.value ?? null };
}

/** Begins a session in the place of the one before. */
async function enter(person: Person, how: Parameters<typeof beginSession>[1]): Promise<void> {
  const before = (await cookies()).get(sessionCookie)?.value;
  const secret = await beginSession(person, how);
  if (before) await endSession(before);
  await keepCookie(sessionCookie, secret, policy.sessionDays);
  if (how !== 'demo') {
    const screen = (await from()).screen ?? newSecret();
    await knowScreen(person.id, screen);
    await keepCookie(screenCookie, screen, policy.screenDays);
  }
  revalidatePath('/', 'layout');
}

/** For what nobody has to be signed in for. */
async function openTo<T>(work: () => Promise<T>): Promise<Result<T>> {
  try {
    return { ok: true, value: await work() };
  } catch (error) {
    return failure(error);
  }
}

export async function signIn(raw: unknown): Promise<Result<void>> {
  return openTo(async () => {
    const { name, password } = readInput(signInInput, raw);
    await enter(await whoHas(name, password, 'password', await from()), 'password');
  });
}

/** Makes the first lead, or chooses a new password, with a code from the console. */
export async function signInByCode(raw: unknown): Promise<Result<void>> {
  return openTo(async () => {
    const { code, name, password } = readInput(codeInput, raw);
    await enter(await useCode(code, name, password), 'code');
  });
}

/** Somebody else at the same screen, or the same person at a locked one. */
export async function switchPerson(raw: unknown): Promise<Result<void>> {
  return openTo(async () => {
    const { personId, pin } = readInput(switchInput, raw);
    if (!(await currentSession(false)))
      throw new AccessError('signed-out', 'You are signed out. Sign in with your password.');
    const inDemo = await demoPerson(personId);
    if (inDemo) return enter(inDemo, 'demo');
    const known = (await loadPeople()).find((p) => p.id === personId && p.hasPin);
    if (!known) throw new ExpectedError('input', 'This person has no PIN. Sign in with a password.');
    await enter(await whoHas(known.name, pin, 'pin', await from()), 'PIN');
  });
}

export async function lockScreen(): Promise<Result<void>> {
  return openTo(async () => {
    const session = await currentSession(false);
    if (session?.secret) await lockSession(session.secret);
  });
}

export async function signOut(): Promise<Result<void>> {
  return openTo(async () => {
    const before = (await cookies()).get(sessionCookie)?.value;
    if (before) await endSession(before);
    (await cookies()).delete(sessionCookie);
    revalidatePath('/', 'layout');
  });
}

/** Says that somebody is at the screen, so that it stays open while a page is only looked at. */
export async function stay(): Promise<Result<void>> {
  return resultFor('technician', () => undefined);
}

const pinInput = yup.object({ password: text('Password'), pin: text('PIN', 20) });
const passwordInput = yup.object({ old: text('Password'), password: text('New password') });

export const keepPin = action('technician', pinInput, async ({ password, pin }) => {
  const session = await currentSession(false);
  if (session) await choosePin(session.person, password, pin, await from());
});

export const keepPassword = action('technician', passwordInput, async ({ old, password }) => {
  const session = await currentSession(false);
  if (session?.secret) await choosePassword(session.person, old, password, session.secret, await from());
});

const role = yup
  .string()
  .oneOf(['lead', 'technician'], 'Role: lead or technician')
  .required('Role: lead or technician');
const addInput = yup.object({ name: text('Name'), role, password: text('Password') });
const changeInput = yup.object({
  id: yup.number().integer().positive().required(),
  version: yup.number().integer().positive().required(),
  role: yup.string().oneOf(['lead', 'technician']),
  isDisabled: yup.boolean(),
});

function refuseInDemo(): void {
  if (isDemo()) throw new ExpectedError('input', 'The demo has its own accounts. Start with "npm start" to add yours.');
}

export async function keepNewPerson(raw: unknown): Promise<Result<number>> {
  return changed('lead', async () => {
    refuseInDemo();
    const input = readInput(addInput, raw);
    return addPerson(input.name, input.role as Role, input.password);
  });
}

export const keepPerson = action('lead', changeInput, async ({ id, version, role: to, isDisabled }) => {
  await changePerson(id, version, { ...(to ? { role: to as Role } : {}), ...(isDisabled ? { isDisabled } : {}) });
});

/** Takes back that somebody was removed. */
export const returnPerson = action('lead', yup.number().integer().positive().required(), bringPersonBack);

const tokenInput = yup.object({
  name: text('Name', 80),
  scopes: yup.array().of(yup.string().oneOf(scopes).required()).default([]),
});

/** Makes a token; what is returned is shown once. */
export async function keepNewToken(raw: unknown): Promise<Result<string>> {
  return resultFor('lead', async ({ person }) => {
    const input = readInput(tokenInput, raw);
    const token = await makeToken(person.id, input.name, input.scopes as Scope[]);
    revalidatePath('/settings');
    return token;
  });
}

export const takeTokenBack = action('lead', yup.number().integer().positive().required(), revokeToken);
