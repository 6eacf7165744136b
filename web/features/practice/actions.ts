'use server';

import * as yup from 'yup';
import { changed } from '@/features/changed';
import { transaction } from '@/server/db';
import type { Result } from '@/server/errors';
import type { CircuitId, FedRail } from '@umbral/core';
import { actor, type Person } from '@/server/people/actor';
import {
  feedInput,
  feedUnit,
  keepProbed,
  lookAtUnit,
  lookInput,
  powerInput,
  powerUnit,
  probeInput,
  watchUnit,
  type WatchedDisplay,
} from '@/server/practice/bench';
import { callInput, callUnit, finishInput, finishUnit } from '@/server/practice/calls';
import { answerCard, cardInput } from '@/server/practice/cards';
import { answerInput, answerQuestion, lessonUnit } from '@/server/practice/course';
import { takeNext } from '@/server/practice/next';
import { setTeamUnit, takeTeamUnit, unitFromJob } from '@/server/practice/team';
import { makeUnit, unitInput } from '@/server/practice/units';

const id = yup.number().integer().positive().required();
const strictly = { abortEarly: false } as const;

/** Whoever asks; an action is never done for nobody. */
const me = (): Person => (actor() as NonNullable<ReturnType<typeof actor>>).person;

export async function takeUnit(raw: unknown): Promise<Result<number>> {
  return changed('technician', () => {
    const input = unitInput.validateSync(raw, strictly);
    return transaction((q) =>
      makeUnit(q, me(), {
        source: 'free',
        profile: input.profile,
        circuit: (input.circuit || null) as CircuitId | null,
        fault: input.fault || null,
        severity: (input.severity || null) as 'slight' | 'hard' | null,
      }),
    );
  });
}

export async function switchOn(raw: unknown): Promise<Result<string>> {
  return changed('technician', () => powerUnit(powerInput.validateSync(raw, strictly), me()));
}

/** What a display shows that does not log; nothing is kept. */
export async function watch(raw: unknown): Promise<Result<WatchedDisplay>> {
  return changed('technician', () => watchUnit(powerInput.validateSync(raw, strictly), me()));
}

export async function lookAt(raw: unknown): Promise<Result<string | null>> {
  return changed('technician', () => lookAtUnit(lookInput.validateSync(raw), me()));
}

/** Probes, and keeps the reading with the job. */
export async function keepProbe(raw: unknown): Promise<Result<{ shows: string }>> {
  return changed('technician', () => keepProbed(probeInput.validateSync(raw), me()));
}

export async function feed(raw: unknown): Promise<Result<FedRail>> {
  return changed('technician', () => feedUnit(feedInput.validateSync(raw, strictly), me()));
}

export async function call(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => callUnit(callInput.validateSync(raw, strictly), me()));
}

export async function finish(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => finishUnit(finishInput.validateSync(raw, strictly), me()));
}

/** The unit that teaches most now. */
export async function takeNextUnit(): Promise<Result<number>> {
  return changed('technician', () => takeNext(me()));
}

export async function takeLessonUnit(lesson: unknown, index: unknown): Promise<Result<number>> {
  const name = yup.string().max(60).required();
  const place = yup.number().integer().min(0).max(20).required();
  return changed('technician', () => lessonUnit(name.validateSync(lesson), place.validateSync(index), me()));
}

export async function answer(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => answerQuestion(answerInput.validateSync(raw), me()));
}

export async function nameCard(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => answerCard(cardInput.validateSync(raw), me()));
}

export async function takeTeam(): Promise<Result<number>> {
  return changed('technician', () => takeTeamUnit(me(), new Date()));
}

/** Sets the unit of the week; for the lead. */
export async function orderTeam(raw: unknown): Promise<Result<void>> {
  return changed('lead', () => {
    const { profile, circuit, severity } = unitInput.validateSync(raw, strictly);
    const order = { profile, circuit: circuit || null, severity: severity || null };
    return setTeamUnit(order as Parameters<typeof setTeamUnit>[0], new Date());
  });
}

/** A unit with the fault of a closed job; for the lead. */
export async function takeFromJob(jobId: unknown): Promise<Result<number>> {
  return changed('lead', () => unitFromJob(id.validateSync(jobId), me()));
}
