'use server';

import { action } from '@/features/action';
import * as yup from 'yup';
import { id } from '@/server/record/input';
import {
  passProtocol,
  saveProof as keep,
  proofInput,
  protocolInput,
  startTimer as start,
  undoProof,
  timerInput,
} from '@/server/work/entries/proofs';

export const keepProof = action('technician', proofInput, keep);

export const startTimer = action('technician', timerInput, start);

/** Everything of a proof that looking is enough for. */
export const passAll = action('technician', protocolInput, passProtocol);

const stepOnly = yup.object({
  jobId: id,
  protocol: yup.string().max(100).required(),
  step: yup.string().max(100).required(),
});

export const takeBack = action('technician', stepOnly, ({ jobId, protocol, step }) => undoProof(jobId, protocol, step));
