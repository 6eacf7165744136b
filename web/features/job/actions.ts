'use server';

import * as yup from 'yup';
import { changed } from '@/features/changed';
import { actionKinds, circuitIds, formatPercent, sayOutcome, type CircuitId } from '@umbral/core';
import { assessAnew as makeAnew } from '@/server/anew';
import { pointInput, setPictureRemoved, setPoint } from '@/server/attachments';
import { db } from '@/server/db';
import type { Result } from '@/server/errors';
import { resultFor } from '@/server/people/access';
import {
  actionInput,
  checkInput,
  id,
  injectionInput,
  jobInput,
  markersInput,
  moveInput,
  orNull,
  outcomeInput,
  placeNameInput,
  runBeforeInput,
  runSetupInput,
  stageInput,
  version,
} from '@/server/input';
import { addTypedRun, setMarkers, setRunSetup } from '@/server/record';
import { loadContent } from '@/server/jobs';
import { editReading as correctReading, takeReading, takeSweep, type SweepTaken, type Taken } from '@/server/measure';
import { measureInput, readingEditInput, sweepInput } from '@/server/measure-input';
import { enterChange, predictionsFor, type Entered } from '@/server/repair';
import * as jobEdits from '@/server/job-edits';
import * as entries from '@/server/job-entries';

export async function createJob(raw: unknown): Promise<Result<number>> {
  return changed('technician', () => jobEdits.createJob(jobInput.validateSync(raw, { abortEarly: false })));
}

const editInput = yup.object({ jobId: id, version, job: jobInput.required() });

export async function editJob(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const input = editInput.validateSync(raw, { abortEarly: false });
    return jobEdits.editJob(input.jobId, input.version, input.job);
  });
}

export async function setStage(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const input = stageInput.validateSync(raw);
    return jobEdits.setStage(input.jobId, input.version, input.stage);
  });
}

export async function openDevice(jobId: unknown): Promise<Result<void>> {
  return changed('technician', () => jobEdits.openDevice(id.validateSync(jobId)));
}

export async function addCheck(raw: unknown): Promise<Result<number>> {
  return changed('technician', () => entries.addCheck(checkInput.validateSync(raw, { abortEarly: false })));
}

export async function addReading(raw: unknown): Promise<Result<Taken>> {
  return changed('technician', () => takeReading(measureInput.validateSync(raw, { abortEarly: false })));
}

/** Many points typed in one go. */
export async function addSweep(raw: unknown): Promise<Result<SweepTaken>> {
  return changed('technician', () => takeSweep(sweepInput.validateSync(raw, { abortEarly: false })));
}

/** A voltage that was put on a rail from any supply, with what flowed and what warmed. */
export async function addInjection(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => entries.addInjection(injectionInput.validateSync(raw, { abortEarly: false })));
}

/** Names the circuit of a place, for everything that was entered at it. */
export async function namePlace(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => entries.namePlace(placeNameInput.validateSync(raw, { abortEarly: false })));
}

export async function editReading(raw: unknown): Promise<Result<Taken>> {
  return changed('technician', () => correctReading(readingEditInput.validateSync(raw, { abortEarly: false })));
}

export async function addAction(raw: unknown): Promise<Result<Entered>> {
  return changed('technician', () => enterChange(actionInput.validateSync(raw, { abortEarly: false })));
}

const predictedChangeInput = yup.object({
  jobId: id,
  kind: yup.string().oneOf(actionKinds).required(),
  target: yup.string().max(200).default(''),
  circuit: orNull(circuitIds, 'Circuit'),
  undoes: yup.string().max(200).nullable().default(null),
});

/** What each suspect expects of the run after a change, before it is made. */
export async function predictChangeOf(raw: unknown): Promise<Result<{ name: string; says: string }[]>> {
  return resultFor('technician', async () => {
    const input = predictedChangeInput.validateSync(raw);
    const q = db();
    const { kind, target, undoes } = input;
    const circuit = input.circuit as CircuitId | null;
    const told = await predictionsFor(q, await loadContent(q, input.jobId), {
      kind,
      target,
      circuit,
      undoes: undoes || null,
    });
    return told.map((t) => ({
      name: t.element.name,
      says: `${sayOutcome(t.moved, 'action')}, ${formatPercent(t.certainty)}`,
    }));
  });
}

const pictureInput = yup.object({ jobId: id, pictureId: id, removed: yup.boolean().required() });

export async function removePicture(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const input = pictureInput.validateSync(raw);
    return setPictureRemoved(input.jobId, input.pictureId, input.removed);
  });
}

/** Marks a place on a picture. */
export async function markPicture(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => setPoint(pointInput.validateSync(raw, { abortEarly: false })));
}

export async function closeJob(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => jobEdits.closeJob(outcomeInput.validateSync(raw, { abortEarly: false })));
}

const jobOnly = yup.object({ jobId: id });

/** Makes a verdict of the present engine, of runs that are described anew where an older one described them. */
export async function assessAnew(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => makeAnew(jobOnly.validateSync(raw).jobId));
}

const versioned = yup.object({ jobId: id, version });

export async function reopenJob(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const input = versioned.validateSync(raw);
    return jobEdits.reopenJob(input.jobId, input.version);
  });
}

const typedInput = yup.object({
  jobId: id,
  line: yup.string().max(2000, 'The line is longer than 2,000 characters').required('Type what the display shows'),
  after: yup.string().max(200).nullable().optional(),
});

export async function typeRun(raw: unknown): Promise<Result<string>> {
  return changed('technician', () => {
    const input = typedInput.validateSync(raw);
    return addTypedRun(input.jobId, input.line, input.after);
  });
}

export async function saveMarkers(raw: unknown): Promise<Result<number>> {
  return changed('technician', () => {
    const input = markersInput.validateSync(raw);
    return setMarkers(input.runId, input.version, input.markers);
  });
}

const setupInput = yup.object({ runId: id, version, setup: runSetupInput.required() });

export async function saveSetup(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const input = setupInput.validateSync(raw, { abortEarly: false });
    return setRunSetup(input.runId, input.version, input.setup);
  });
}

const removeInput = yup.object({
  jobId: id,
  table: yup
    .string()
    .oneOf(['runs', 'checks', 'readings', 'injections'] as const)
    .required(),
  entryId: id,
  removed: yup.boolean().required(),
});

export async function setRemoved(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const input = removeInput.validateSync(raw);
    return entries.setRemoved(input.jobId, input.table, input.entryId, input.removed);
  });
}

export async function moveEntry(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => entries.moveEntry(moveInput.validateSync(raw, { abortEarly: false })));
}

export async function setRunBefore(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => entries.setRunBefore(runBeforeInput.validateSync(raw, { abortEarly: false })));
}

const trashInput = yup.object({ jobId: id, trashed: yup.boolean().required() });

export async function setTrashed(raw: unknown): Promise<Result<void>> {
  return changed('technician', () => {
    const input = trashInput.validateSync(raw);
    return jobEdits.setTrashed(input.jobId, input.trashed);
  });
}
