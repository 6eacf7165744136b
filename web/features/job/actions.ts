'use server';

import { action, question } from '@/features/action';
import { byHand } from '@/features/by-hand';
import * as yup from 'yup';
import { actionKinds, circuitIds, formatPercent, sayOutcome, type CircuitId } from '@umbral/core';
import { reassess } from '@/server/work/entries/reassess';
import { pointInput, setPictureRemoved, setPoint } from '@/server/work/entries/attachments';
import { db } from '@/server/record/db';
import {
  actionInput,
  checkInput,
  confirmed,
  entryInput,
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
  timeInput,
  undoInput,
  version,
  voidInput,
} from '@/server/record/input';
import { takeBackEntry, undoStep } from '@/server/work/entries/corrections';
import { addTypedRun, retypeRun as retype, setMarkers, setRunSetup } from '@/server/work/entries/record';
import { loadContent } from '@/server/work/jobs/jobs';
import { editReading as correctReading, saveReading, saveSweep } from '@/server/work/opened/measure';
import { measureInput, readingEditInput, sweepInput } from '@/server/work/opened/measure-input';
import { actor } from '@/server/record/actor';
import { lookAtUnit, lookInput, refuseUnread } from '@/server/work/practice/bench';
import * as repair from '@/server/work/entries/repair';
import * as jobEdits from '@/server/work/entries/job-edits';
import * as entries from '@/server/work/entries/job-entries';

export const createJob = action('technician', jobInput, jobEdits.createJob);

const editInput = yup.object({ jobId: id, version, job: jobInput.required() });

export const editJob = action('technician', editInput, ({ jobId, version, job }) =>
  jobEdits.editJob(jobId, version, job),
);

export const setStage = action('technician', stageInput, ({ jobId, version, stage }) =>
  jobEdits.setStage(jobId, version, stage),
);

export const openDevice = action('technician', id, jobEdits.openDevice);

export const addCheck = byHand(checkInput, entries.addCheck);

/** A check on the practice unit: what it shows is kept. */
export const tryOnUnit = action('technician', lookInput, (input) =>
  lookAtUnit(input, (actor() as NonNullable<ReturnType<typeof actor>>).person),
);

export const addReading = byHand(measureInput, saveReading);

/** Many points typed in one go. */
export const addSweep = byHand(sweepInput, saveSweep);

/** A voltage that was put on a rail from any supply, with what flowed and what warmed. */
export const addInjection = byHand(injectionInput, entries.addInjection);

/** Names the circuit of a place, for everything that was entered at it. */
export const namePlace = action('technician', placeNameInput, entries.namePlace);

export const editReading = byHand(readingEditInput, correctReading);

export const addAction = action('technician', actionInput, repair.enterChange);

const entryId = { entryId: id };

export const editCheck = byHand(checkInput.shape(entryId), entries.editCheck);

export const editInjection = byHand(injectionInput.shape(entryId), entries.editInjection);

export const editAction = action('technician', actionInput.shape(entryId), repair.editChange);

/** A planned change was done now. */
export const confirmAction = action('technician', yup.object({ jobId: id, ...entryId }), repair.confirmPlanned);

/** Takes an entry back as entered by mistake. */
export const takeBack = action('technician', entryInput, ({ jobId, table, entryId: entry }) =>
  takeBackEntry(jobId, table, entry),
);

/** Undoes a step; the newest of whoever asks where none is named. */
export const undo = action('technician', undoInput, ({ jobId, step }) => undoStep(jobId, step));

export const setVoid = action('technician', voidInput, entries.setVoid);

export const setTime = action('technician', timeInput, entries.setTime);

const predictedChangeInput = yup.object({
  jobId: id,
  kind: yup.string().oneOf(actionKinds).required(),
  target: yup.string().max(200).default(''),
  circuit: orNull(circuitIds, 'Circuit'),
  undoes: yup.string().max(200).nullable().default(null),
});

/** What each suspect expects of the run after a change, before it is made. */
export const predictChangeOf = question('technician', predictedChangeInput, async (input) => {
  const q = db();
  const { kind, target, undoes } = input;
  const circuit = input.circuit as CircuitId | null;
  const told = await repair.predictionsFor(q, await loadContent(q, input.jobId), {
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

const pictureInput = yup.object({ jobId: id, pictureId: id, removed: yup.boolean().required() });

export const removePicture = action('technician', pictureInput, ({ jobId, pictureId, removed }) =>
  setPictureRemoved(jobId, pictureId, removed),
);

/** Marks a place on a picture. */
export const markPicture = action('technician', pointInput, setPoint);

export const closeJob = action('technician', outcomeInput, jobEdits.closeJob);

const jobOnly = yup.object({ jobId: id });

/** Makes a verdict of the present engine, of runs that are described anew where an older one described them. */
export const reassessJob = action('technician', jobOnly, ({ jobId }) => reassess(jobId));

const versioned = yup.object({ jobId: id, version });

export const reopenJob = action('technician', versioned, ({ jobId, version }) => jobEdits.reopenJob(jobId, version));

const typedInput = yup.object({
  jobId: id,
  line: yup.string().max(2000, 'The line is longer than 2,000 characters').required('Type what the display shows'),
  after: yup.string().max(200).nullable().optional(),
  confirmed,
});

export const typeRun = action('technician', typedInput, async ({ jobId, line, after, confirmed: isConfirmed }) => {
  await refuseUnread(jobId, line);
  return addTypedRun(jobId, line, after, isConfirmed);
});

export const saveMarkers = action('technician', markersInput, ({ runId, version, markers }) =>
  setMarkers(runId, version, markers),
);

const setupInput = yup.object({ runId: id, version, setup: runSetupInput.required(), confirmed });

export const saveSetup = action('technician', setupInput, ({ runId, version, setup, confirmed: isConfirmed }) =>
  setRunSetup(runId, version, setup, isConfirmed),
);

/** Corrects the line of a run that was typed. */
export const retypeRun = action('technician', typedInput.shape(entryId), async (input) => {
  await refuseUnread(input.jobId, input.line);
  return retype(input.jobId, input.entryId, input.line, input.confirmed);
});

export const moveEntry = action('technician', moveInput, entries.moveEntry);

export const setRunBefore = action('technician', runBeforeInput, entries.setRunBefore);

const trashInput = yup.object({ jobId: id, trashed: yup.boolean().required() });

export const setTrashed = action('technician', trashInput, ({ jobId, trashed }) => jobEdits.setTrashed(jobId, trashed));
