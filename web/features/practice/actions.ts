'use server';

import { action, changed } from '@/features/action';
import * as yup from 'yup';
import { transaction } from '@/server/record/db';
import type { Result } from '@/server/record/errors';
import type { CircuitId } from '@umbral/core';
import { actor, type Person } from '@/server/record/actor';
import {
  feedInput,
  feedUnit,
  saveProbed,
  lookAtUnit,
  lookInput,
  powerInput,
  powerUnit,
  probeInput,
  watchUnit,
} from '@/server/work/practice/bench';
import { callInput, callUnit, finishInput, finishUnit } from '@/server/work/practice/calls';
import { answerCard, cardInput } from '@/server/work/practice/cards';
import { answerInput, answerQuestion, lessonUnit } from '@/server/work/practice/course';
import { takeNext } from '@/server/work/practice/next';
import { setTeamUnit, takeTeamUnit, unitFromJob } from '@/server/work/practice/team';
import { makeUnit, unitInput } from '@/server/work/practice/units';

const id = yup.number().integer().positive().required();

/** Whoever asks; an action is never done for nobody. */
const me = (): Person => (actor() as NonNullable<ReturnType<typeof actor>>).person;

export const takeUnit = action('technician', unitInput, (input) =>
  transaction((q) =>
    makeUnit(q, me(), {
      source: 'free',
      profile: input.profile,
      circuit: (input.circuit || null) as CircuitId | null,
      fault: input.fault || null,
      severity: (input.severity || null) as 'slight' | 'hard' | null,
    }),
  ),
);

export const switchOn = action('technician', powerInput, (input) => powerUnit(input, me()));

/** What a display shows that does not log; nothing is kept. */
export const watch = action('technician', powerInput, (input) => watchUnit(input, me()));

export const lookAt = action('technician', lookInput, (input) => lookAtUnit(input, me()));

/** Probes, and keeps the reading with the job. */
export const keepProbe = action('technician', probeInput, (input) => saveProbed(input, me()));

export const feed = action('technician', feedInput, (input) => feedUnit(input, me()));

export const call = action('technician', callInput, (input) => callUnit(input, me()));

export const finish = action('technician', finishInput, (input) => finishUnit(input, me()));

/** The unit that teaches most now. */
export async function takeNextUnit(): Promise<Result<number>> {
  return changed('technician', () => takeNext(me()));
}

export async function takeLessonUnit(lesson: unknown, index: unknown): Promise<Result<number>> {
  const name = yup.string().max(60).required();
  const place = yup.number().integer().min(0).max(20).required();
  return changed('technician', () => lessonUnit(name.validateSync(lesson), place.validateSync(index), me()));
}

export const answer = action('technician', answerInput, (input) => answerQuestion(input, me()));

export const nameCard = action('technician', cardInput, (input) => answerCard(input, me()));

export async function takeTeam(): Promise<Result<number>> {
  return changed('technician', () => takeTeamUnit(me(), new Date()));
}

/** Sets the unit of the week; for the lead. */
export const orderTeam = action('lead', unitInput, ({ profile, circuit, severity }) => {
  const order = { profile, circuit: circuit || null, severity: severity || null };
  return setTeamUnit(order as Parameters<typeof setTeamUnit>[0], new Date());
});

/** A unit with the fault of a closed job; for the lead. */
export const takeFromJob = action('lead', id, (input) => unitFromJob(input, me()));
