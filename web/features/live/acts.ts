import {
  circuitNames,
  patternNames,
  type CircuitId,
  type Feed,
  type PatternId,
  type PredictedStretch,
} from '@umbral/core';
import * as yup from 'yup';
import { db } from '@/server/db';
import { ExpectedError } from '@/server/errors';
import { id, quantityOrNull, runSetupInput } from '@/server/input';
import { loadContent } from '@/server/jobs';
import { findProfile } from '@/server/profiles';
import { deviceOf, setupOf } from '@/server/record';
import { armPlan, armPlanInput } from '@/server/locate';
import { ask } from '@/server/recorder';
import { boundsOf, callOfRecording, keepRecording, type CallSoFar } from '@/server/recordings';

/** The call as it forms while a recording goes on. */
export interface FormingCall {
  pattern: { id: PatternId; name: string; p: number } | null;
  /** `draws`: what it would draw in this setup, where its twin can tell. */
  suspects: { id: CircuitId; name: string; p: number; target: string | null; draws: PredictedStretch[] }[];
}

const instrument = yup.string().max(120).required('Choose an instrument');
const by = yup.string().min(8).max(80).required();
const armInput = yup.object({ jobId: id, instrument, setup: runSetupInput.required(), by });
const loneArmInput = yup.object({ instrument, setV: yup.string().required(), limitA: yup.string().required(), by });
const recordInput = yup.object({
  jobId: id,
  instrument,
  setup: runSetupInput.required(),
  stopAfterS: yup.number().positive().max(86_400).nullable().default(null),
});
const recordingInput = yup.object({ recording: id });

async function arm(body: unknown): Promise<unknown> {
  const input = armInput.validateSync(body, { abortEarly: false });
  const volts = quantityOrNull(input.setup.setV, 'voltage', 'Set voltage');
  const limitA = quantityOrNull(input.setup.limitA, 'current', 'Limit');
  if (volts === null || limitA === null)
    throw new ExpectedError('input', 'Set voltage and limit: both are needed before the output can be armed.');
  const content = await loadContent(db(), input.jobId);
  const { job } = content;
  const known = job.profile ? await findProfile(db(), job.profile, job.profile_version) : null;
  const bounds = boundsOf(deviceOf(content), input.setup.feed as Feed, known?.profile ?? null);
  return ask('recorder', '/arm', { instrument: input.instrument, volts, limitA, bounds, by: input.by });
}

/** Arms a supply that nothing but a meter is connected to: the bounds of the bench alone hold. */
async function armAlone(body: unknown): Promise<unknown> {
  const input = loneArmInput.validateSync(body, { abortEarly: false });
  const volts = quantityOrNull(input.setV, 'voltage', 'Set voltage');
  const limitA = quantityOrNull(input.limitA, 'current', 'Limit');
  const bounds = { mostV: 1000, mostA: 1000, why: 'nothing is connected but a meter' };
  return ask('recorder', '/arm', { instrument: input.instrument, volts, limitA, bounds, by: input.by });
}

async function record(body: unknown): Promise<unknown> {
  const input = recordInput.validateSync(body, { abortEarly: false });
  await loadContent(db(), input.jobId);
  const { setup, instrument: settings } = setupOf(input.setup);
  return ask('recorder', '/record', {
    instrument: input.instrument,
    jobId: input.jobId,
    feed: input.setup.feed,
    setup,
    instrumentSettings: settings,
    after: input.setup.after ?? null,
    stopAfterS: input.stopAfterS,
  });
}

function forming(call: CallSoFar | null): FormingCall {
  const top = call?.assessment.runs.find((r) => r.id === 'now')?.pattern[0];
  return {
    pattern: top ? { id: top.id, name: patternNames[top.id], p: top.p } : null,
    suspects: (call?.assessment.circuits ?? []).slice(0, 4).map(({ id: of, p, target }) => ({
      id: of,
      name: circuitNames[of],
      p,
      target,
      draws: call?.draws.find((d) => d.id === of)?.stretches ?? [],
    })),
  };
}

const acts: Record<string, (body: unknown) => Promise<unknown>> = {
  arm,
  'arm-alone': armAlone,
  'arm-plan': (body) => armPlan(armPlanInput.validateSync(body, { abortEarly: false })),
  average: (body) => ask('recorder', '/average', body),
  record,
  output: (body) => ask('recorder', '/output', body),
  alive: (body) => ask('recorder', '/alive', body),
  mark: (body) => ask('recorder', '/mark', body),
  stop: (body) => ask('recorder', '/stop', body),
  call: async (body) => forming(await callOfRecording(recordingInput.validateSync(body).recording)),
  keep: (body) => keepRecording(recordingInput.validateSync(body).recording),
  hand: (body) => ask('hands', '/hand', body),
  lay: (body) => ask('hands', '/lay', body),
  look: (body) => ask('hands', '/look', body),
  probe: (body) => ask('hands', '/probe', body),
  hold: (body) => ask('hands', '/hold', body),
  heat: (body) => ask('hands', '/heat', body),
  mend: (body) => ask('hands', '/mend', body),
  bench: () => ask('hands', '/state'),
};

/**
 * Does what a person asked for.
 *
 * @throws {ExpectedError} for what is not there, or what the recorder refuses
 */
export function act(name: string, body: unknown): Promise<unknown> {
  if (!Object.hasOwn(acts, name))
    throw new ExpectedError('missing', `There is nothing called "${name.slice(0, 40)}" here.`);
  return acts[name](body);
}
