import { planInjection, type InjectionPlan } from '@umbral/core';
import * as yup from 'yup';
import { actor } from '../../record/actor.ts';
import { db } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { id } from '../../record/input.ts';
import { loadBoardPlan } from '../../work/opened/measure.ts';
import { putOnLeads } from './on-leads.ts';
import { ask } from './recorder.ts';

export const armPlanInput = yup.object({
  jobId: id,
  instrument: yup.string().max(120).required('Choose a supply'),
  step: yup.number().integer().min(0).max(20).required(),
  rail: yup.string().max(120).required('Rail: choose one'),
  ohm: yup
    .number()
    .typeError('Resistance: measure the rail to ground first')
    .min(0, 'Resistance: cannot be negative')
    .max(1e6)
    .required('Resistance: measure the rail to ground first'),
  leadsOhm: yup.number().min(0, 'Leads: cannot be negative').max(5, 'Leads: expected at most 5 ohm').required(),
  school: yup.string().oneOf(['step', 'rated']).required(),
});

/**
 * Arms a supply with a step of an injection plan. The plan is made anew here: what the window asks for never goes beyond it.
 *
 * @throws {ExpectedError} for a rail that is not there or a step that the plan does not have
 */
export async function armPlan(input: yup.InferType<typeof armPlanInput>): Promise<unknown> {
  const { plan: board } = await loadBoardPlan(db(), input.jobId);
  const facts = board.rungs.find((r) => r.id === input.rail)?.facts;
  if (!facts) throw new ExpectedError('missing', `This device has no rail "${input.rail}".`);
  const { ohm, leadsOhm } = input;
  const plan: InjectionPlan = planInjection({ ...facts, ohm, leadsOhm, school: input.school as 'step' | 'rated' });
  const step = plan.steps[input.step];
  if (!step) throw new ExpectedError('input', `Step: the plan has ${plan.steps.length} steps.`);
  await putOnLeads(input.instrument, input.jobId);
  return ask('recorder', '/arm', {
    instrument: input.instrument,
    jobId: input.jobId,
    person: actor()?.person.id ?? null,
    volts: step.setV,
    limitA: step.limitA,
    bounds: { maxV: plan.maxV, maxA: plan.maxA, why: plan.why },
  });
}
