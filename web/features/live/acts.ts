import {
  circuitNames,
  patternNames,
  stateAfter,
  type CircuitId,
  type Feed,
  type PatternId,
  type PredictedStretch,
  type Marker,
  type UnplugStep,
  readInput,
} from '@umbral/core';
import * as yup from 'yup';
import { db } from '@/server/record/db';
import { ExpectedError } from '@/server/record/errors';
import { confirmed, id, quantityOrNull, runSetupInput, type RunSetupInput } from '@/server/record/input';
import { followedAction, loadContent } from '@/server/work/jobs/jobs';
import { boundsAlone, boundsOfJob, freeLeads, onLeads, putOnLeads } from '@/server/edges/recorder/on-leads';
import { forActor, type Needs } from '@/server/work/people/access';
import { actor } from '@/server/record/actor';
import { unitAtWork } from '@/server/work/practice/bench';
import { actionOf } from '@/server/record/rows';
import { setupOf } from '@/server/work/entries/run-setup';
import { armPlan, armPlanInput } from '@/server/edges/recorder/arm-plan';
import { ask, sayAlive } from '@/server/edges/recorder/recorder';
import {
  callOfRecording,
  jobOfRecording,
  saveRecording,
  type CallSoFar,
  type SaidOfRecording,
} from '@/server/work/entries/recordings';

/** The call as it forms while a recording goes on. */
export interface FormingCall {
  pattern: { id: PatternId; name: string; p: number } | null;
  /** Where the setup and what was measured so far disagree. */
  odd: string[];
  /** Up to when the recording was looked at, seconds. */
  untilS: number;
  /** What was marked, as it is read. */
  markers: Marker[];
  /** What the draw did when something was unplugged or put back meanwhile. */
  pulled: UnplugStep[];
  /** `draws`: what it would draw in this setup, where its twin can tell. */
  suspects: { id: CircuitId; name: string; p: number; target: string | null; draws: PredictedStretch[] }[];
}

const instrument = yup.string().max(120).required('Choose an instrument');
const armInput = yup.object({ jobId: id, instrument, setup: runSetupInput.required() });
const loneArmInput = yup.object({ instrument, setV: yup.string().required(), limitA: yup.string().required() });
const recordInput = yup.object({
  jobId: id,
  instrument,
  setup: runSetupInput.required(),
  stopAfterS: yup.number().positive().max(86_400).nullable().default(null),
});
const leadsInput = yup.object({ instrument });
const unitInput = yup.object({ jobId: id });
const recordingInput = yup.object({ recording: id, setup: runSetupInput.nullable().default(null), confirmed });

async function arm(body: unknown): Promise<unknown> {
  const input = readInput(armInput, body);
  const volts = quantityOrNull(input.setup.setV, 'voltage', 'Set voltage');
  const limitA = quantityOrNull(input.setup.limitA, 'current', 'Limit');
  if (volts === null || limitA === null)
    throw new ExpectedError('input', 'Set voltage and limit: both are needed before the output can be armed.');
  const { jobId, instrument } = input;
  const bounds = await boundsOfJob(jobId, input.setup.feed as Feed);
  await putOnLeads(instrument, jobId);
  return ask('recorder', '/arm', { instrument, volts, limitA, bounds, jobId, person: me() });
}

/** Arms a supply for no job, as for calibrating: the bounds of the device on its leads hold, or of the bench alone. */
async function armAlone(body: unknown): Promise<unknown> {
  const input = readInput(loneArmInput, body);
  const volts = quantityOrNull(input.setV, 'voltage', 'Set voltage');
  const limitA = quantityOrNull(input.limitA, 'current', 'Limit');
  const { instrument } = input;
  const bounds = await boundsAlone(instrument);
  return ask('recorder', '/arm', { instrument, volts, limitA, bounds, person: me() });
}

const me = (): number | null => actor()?.person.id ?? null;

/** With who does it, for a recording that somebody else began. */
const byMe = (body: unknown): object => ({ ...(body as object), person: me(), who: actor()?.person.name ?? '' });

async function record(body: unknown): Promise<unknown> {
  const input = readInput(recordInput, body);
  const content = await loadContent(db(), input.jobId);
  const { setup, instrument: settings } = setupOf(input.setup);
  return ask('recorder', '/record', {
    instrument: input.instrument,
    jobId: input.jobId,
    feed: input.setup.feed,
    setup,
    instrumentSettings: settings,
    after: followedAction(content, input.setup.after),
    stopAfterS: input.stopAfterS,
    person: me(),
  });
}

/** Lays the person's own practice unit on the simulated bench, as it is after the changes made so far. */
async function layUnit(body: unknown): Promise<unknown> {
  const { jobId } = readInput(unitInput, body);
  const { unit, content } = await unitAtWork(db(), jobId, (actor() as NonNullable<ReturnType<typeof actor>>).person);
  const { faults } = stateAfter(unit.device, unit.faults, content.actions.map(actionOf));
  return ask('operator', '/lay-unit', { device: unit.device, faults, seed: unit.seed });
}

/** The setup on the screen, as it belongs to a recording; null where none was sent. */
async function saidOf(recording: number, setup: RunSetupInput | null): Promise<SaidOfRecording | null> {
  if (setup === null) return null;
  const content = await loadContent(db(), await jobOfRecording(recording));
  return { feed: setup.feed as Feed, setup: setupOf(setup).setup, after: followedAction(content, setup.after) };
}

function forming(call: CallSoFar | null): FormingCall {
  const top = call?.assessment?.runs.find((r) => r.id === 'now')?.pattern[0];
  return {
    pattern: top ? { id: top.id, name: patternNames[top.id], p: top.p } : null,
    odd: call?.odd ?? [],
    untilS: call?.untilS ?? 0,
    markers: call?.markers ?? [],
    pulled: call?.pulled ?? [],
    suspects: (call?.assessment?.circuits ?? []).slice(0, 4).map(({ id: of, p, target }) => ({
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
  leads: (body) => onLeads(readInput(leadsInput, body).instrument),
  'free-leads': (body) => freeLeads(readInput(leadsInput, body).instrument),
  'arm-plan': (body) => armPlan(readInput(armPlanInput, body)),
  average: (body) => ask('recorder', '/average', body),
  record,
  output: (body) => ask('recorder', '/output', body),
  alive: (body) => sayAlive(body),
  seen: (body) => ask('recorder', '/seen', byMe(body)),
  page: (body) => ask('recorder', '/page', byMe(body)),
  mark: (body) => ask('recorder', '/mark', byMe(body)),
  stop: (body) => ask('recorder', '/stop', byMe(body)),
  call: async (body) => {
    const { recording, setup } = readInput(recordingInput, body);
    return forming(await callOfRecording(recording, await saidOf(recording, setup)));
  },
  keep: async (body) => {
    const { recording, setup, confirmed: isConfirmed } = readInput(recordingInput, body);
    return saveRecording(recording, await saidOf(recording, setup), isConfirmed);
  },
  operate: (body) => ask('operator', '/act', body),
  lay: (body) => ask('operator', '/lay', body),
  'lay-unit': layUnit,
  look: (body) => ask('operator', '/look', body),
  probe: (body) => ask('operator', '/probe', body),
  hold: (body) => ask('operator', '/hold', body),
  heat: (body) => ask('operator', '/heat', body),
  mend: (body) => ask('operator', '/mend', body),
  bench: () => ask('operator', '/state'),
};

/** What makes things safer is for anybody whose session is there; what belongs to the instruments themselves is a lead's. */
function needsOf(name: string, body: unknown): Needs {
  const isOff = name === 'output' && (body as { on?: unknown } | null)?.on === false;
  if (isOff || name === 'alive') return 'present';
  return name === 'arm-alone' || name === 'free-leads' ? 'lead' : 'technician';
}

/**
 * Does what a person asked for, if they may.
 *
 * @throws {ExpectedError} for what is not there, or what the recorder refuses
 */
export function act(name: string, body: unknown): Promise<unknown> {
  if (!Object.hasOwn(acts, name))
    throw new ExpectedError('missing', `There is no part called "${name.slice(0, 40)}" here.`);
  return forActor(needsOf(name, body), () => acts[name](body));
}
