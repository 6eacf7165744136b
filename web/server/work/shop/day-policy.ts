import {
  circuitIds,
  deviceClasses,
  equipmentIds,
  equipmentTypes,
  hoursProblem,
  longestWaitMinutes,
  usualBench,
  usualHours,
  usualTerms,
  waitKinds,
  type CircuitId,
  type DeviceClass,
  type EquipmentId,
  type WaitKind,
  type WorkingHours,
} from '@umbral/core';
import * as yup from 'yup';

/** By what the days of a shop are ordered: when it is open, what is on the bench, what waiting and lateness cost. */
export interface DayPolicy {
  hours: WorkingHours;
  equipment: Readonly<Record<EquipmentId, number>>;
  /** Fee of a repair by kind of device, where it differs from the usual one. */
  fees: Partial<Record<DeviceClass, number>>;
  /** Earned for saying what it is, where nothing is repaired. */
  diagnosisFee: number;
  /** Days for which a quote holds. */
  quoteDays: number;
  /** What the parts of a circuit usually cost. */
  partCosts: Partial<Record<CircuitId, number>>;
  /** Share of customers who agree to the fee, 0 to 1. */
  approval: number;
  /** Share of a job's value that a day of waiting costs, 0 to 1. */
  delayShare: number;
  /** What a late job costs, once and for every day that it stays late. */
  lateOnce: number;
  lateDaily: number;
  /** Minutes that waits usually take, where they differ from the usual. */
  waits: Partial<Record<WaitKind, number>>;
}

/** A shop that has not stated its days. */
export const usualDay: DayPolicy = {
  hours: usualHours,
  equipment: usualBench.equipment,
  fees: {},
  diagnosisFee: usualTerms.diagnosisFee,
  quoteDays: usualTerms.quoteDays,
  partCosts: {},
  approval: usualTerms.approval,
  delayShare: usualBench.delayShare,
  lateOnce: usualBench.lateOnce,
  lateDaily: usualBench.lateDaily,
  waits: {},
};

const amount = (label: string, most = 1e6) =>
  yup
    .number()
    .typeError(`${label}: expected a number`)
    .min(0, `${label}: cannot be negative`)
    .max(most, `${label}: expected at most ${most.toLocaleString('en')}`);
const share = (label: string) => amount(label, 100).required(`${label}: expected a percentage`);
/** An amount for some of the ids; an empty field is none. */
const some = (ids: readonly string[], label: (id: string) => string, most?: number) =>
  yup.object(
    Object.fromEntries(
      ids.map((id) => [
        id,
        amount(label(id), most)
          .nullable()
          .transform((value: unknown, original: unknown) => (original === '' ? null : value))
          .default(null),
      ]),
    ),
  );

export const dayPolicyInput = yup.object({
  version: yup.number().integer().min(0).required(),
  hours: yup
    .mixed<WorkingHours>()
    .required()
    .test('hours', (value, context) => {
      const { zone, week, closed } = (value ?? {}) as WorkingHours;
      if (typeof zone !== 'string' || !Array.isArray(week) || !Array.isArray(closed))
        return context.createError({ message: 'Hours: expected a time zone, seven days and the closed days' });
      const problem = hoursProblem({ zone, week, closed });
      return problem === null || context.createError({ message: problem });
    }),
  equipment: yup.object(
    Object.fromEntries(
      equipmentIds.map((id) => [
        id,
        yup
          .number()
          .typeError(`${equipmentTypes[id].name}: expected a count`)
          .integer(`${equipmentTypes[id].name}: expected a whole number`)
          .min(0, `${equipmentTypes[id].name}: cannot be negative`)
          .max(50, `${equipmentTypes[id].name}: expected at most 50`)
          .required(`${equipmentTypes[id].name}: expected a count`),
      ]),
    ),
  ),
  fees: some(deviceClasses, () => 'Fee'),
  partCosts: some(circuitIds, () => 'Parts'),
  diagnosisFee: amount('Fee for a diagnosis').required('Fee for a diagnosis: expected a number'),
  quoteDays: amount('A quote holds', 365)
    .integer('A quote holds: expected whole days')
    .min(1, 'A quote holds: expected 1 day at least')
    .default(usualTerms.quoteDays),
  approval: share('Customers who agree to a quote'),
  delayShare: share('One day of waiting'),
  lateOnce: amount('Late job').required('Late job: expected a number'),
  lateDaily: amount('Each further day').required('Each further day: expected a number'),
  waits: some(waitKinds, () => 'Usual minutes of a wait', longestWaitMinutes),
});

const stated = <Id extends string>(amounts: Readonly<Record<string, unknown>>): Partial<Record<Id, number>> =>
  Object.fromEntries(Object.entries(amounts).filter(([, x]) => typeof x === 'number')) as Partial<Record<Id, number>>;

/** What was entered as the policy that is kept: percentages as shares, empty fields left out. */
export function dayPolicyOf(input: yup.InferType<typeof dayPolicyInput>): DayPolicy {
  const { hours, diagnosisFee, quoteDays, lateOnce, lateDaily } = input;
  return {
    hours,
    equipment: input.equipment as Record<EquipmentId, number>,
    fees: stated<DeviceClass>(input.fees),
    partCosts: stated<CircuitId>(input.partCosts),
    waits: stated<WaitKind>(input.waits),
    approval: input.approval / 100,
    delayShare: input.delayShare / 100,
    diagnosisFee,
    quoteDays,
    lateOnce,
    lateDaily,
  };
}
