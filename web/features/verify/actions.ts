'use server';

import * as yup from 'yup';
import { changed } from '@/features/changed';
import type { Result } from '@/server/errors';
import { id } from '@/server/input';
import { keepProof as keep, proofInput, startTimer as start, takeBackProof, timerInput } from '@/server/proofs';

export async function keepProof(raw: unknown): Promise<Result<{ result: string; reason: string }>> {
  return changed('technician', () => keep(proofInput.validateSync(raw, { abortEarly: false })));
}

export async function startTimer(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => start(timerInput.validateSync(raw, { abortEarly: false })));
}

const stepOnly = yup.object({
  jobId: id,
  protocol: yup.string().max(100).required(),
  step: yup.string().max(100).required(),
});

export async function takeBack(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const { jobId, protocol, step } = stepOnly.validateSync(raw);
    return takeBackProof(jobId, protocol, step);
  });
}
