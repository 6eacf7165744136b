'use server';

import { action } from '@/features/action';
import { circuitIds, type CircuitId, type OutcomeGrade } from '@umbral/core';
import * as yup from 'yup';
import { addAudit } from '@/server/record/audit';
import { transaction } from '@/server/record/db';
import { confirmOtherwise, withdrawCase } from '@/server/work/library/teach';

const jobId = yup.number().integer().positive().required();
const confirmInput = yup.object({
  jobId,
  circuit: yup.string().oneOf(circuitIds, 'Circuit: choose the cause').required('Circuit: choose the cause'),
  target: yup.string().trim().max(120, 'Part: at most 120 characters').default(''),
  grade: yup.string().oneOf(['measured', 'cleared']).required(),
  why: yup.string().trim().max(500, 'Evidence: at most 500 characters').default(''),
});

/** Says what a closed job was, beside whoever closed it. */
export const confirmJobOtherwise = action(
  'technician',
  confirmInput,
  async ({ jobId: id, circuit, target, grade, why }) => {
    await transaction((q) =>
      confirmOtherwise(q, id, { circuit: circuit as CircuitId, target, grade: grade as OutcomeGrade, why }),
    );
  },
);

const withdrawInput = yup.object({ jobId, id: yup.number().integer().positive().required() });

/** Takes a confirmation back, and what it taught with it. */
export const withdrawConfirmation = action('technician', withdrawInput, async ({ jobId: of, id }) => {
  await transaction(async (q) => {
    await withdrawCase(q, of, id);
    await addAudit(q, of, 'confirmation withdrawn', { id });
  });
});
