import {
  circuitIds,
  deviceClasses,
  learnedSuccess,
  usualShop,
  type CircuitId,
  type RepairCount,
  type ShopPolicy,
} from '@umbral/core';
import { readNetwork } from '@umbral/instruments/reach';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { json, transaction, type Queries } from '../../record/db.ts';
import { usualDay, type DayPolicy } from './day-policy.ts';
import { conflict } from '../../record/errors.ts';

const money = (label: string) =>
  yup
    .number()
    .typeError(`${label}: expected a number`)
    .min(0, `${label}: cannot be negative`)
    .max(1e6, `${label}: expected at most a million`)
    .required(`${label}: expected a number`);

function isNetwork(text: string): boolean {
  try {
    readNetwork(text);
    return true;
  } catch {
    return false;
  }
}

export const policyInput = yup.object({
  version: yup.number().integer().min(0).required(),
  /** Who a customer's report comes from, and how that shop is reached; empty where nobody said. */
  name: yup.string().trim().max(100, 'Name of the shop: expected at most 100 characters').default(''),
  contact: yup.string().trim().max(300, 'Contact: expected at most 300 characters').default(''),
  fee: money('Fee'),
  dataFee: money('Data recovery fee'),
  hourlyCost: money('Cost per hour'),
  success: yup
    .number()
    .typeError('Succeeds: expected a percentage')
    .min(1, 'Succeeds: expected 1 to 100 %')
    .max(100, 'Succeeds: expected 1 to 100 %')
    .required(),
  notDoneHere: yup.array().of(yup.string().oneOf(circuitIds).required()).default([]),
  injection: yup.string().oneOf(['step', 'rated']).required(),
  trashDays: yup
    .number()
    .integer('Trash: expected whole days')
    .typeError('Trash: expected a number of days')
    .min(1, 'Trash: expected 1 to 3,650 days')
    .max(3650, 'Trash: expected 1 to 3,650 days')
    .nullable()
    .default(null),
  sampleMonths: yup
    .number()
    .integer('Samples: expected whole months')
    .typeError('Samples: expected a number of months')
    .min(1, 'Samples: expected 1 to 240 months')
    .max(240, 'Samples: expected 1 to 240 months')
    .nullable()
    .default(null),
  auditYears: yup
    .number()
    .integer('Activity log: expected whole years')
    .typeError('Activity log: expected a number of years')
    .min(1, 'Activity log: expected 1 to 30 years')
    .max(30, 'Activity log: expected 1 to 30 years')
    .nullable()
    .default(null),
  /** Networks that instruments may be in, beside this computer, as address/length. */
  networks: yup
    .array()
    .of(
      yup
        .string()
        .trim()
        .max(60)
        .test('network', 'Networks: expected one per line, such as 10.20.30.0/24, and none that is link-local', (x) =>
          isNetwork(x ?? ''),
        )
        .required(),
    )
    .max(20, 'Networks: expected at most 20')
    .default([]),
  /** Functions that are tried after a repair, by kind of device; the usual ones where a kind has none. */
  functions: yup
    .object(
      Object.fromEntries(
        deviceClasses.map((id) => [
          id,
          yup
            .array()
            .of(
              yup
                .string()
                .trim()
                .min(1, 'Functions: a line is empty')
                .max(80, 'Functions: expected at most 80 characters per line')
                .required(),
            )
            .max(30, 'Functions: expected at most 30 lines')
            .default([]),
        ]),
      ),
    )
    .default({}),
});

/** How a shop works: by what going on is weighed, what it does not repair, how it puts a voltage on a short, its days. */
export interface KeptPolicy extends Omit<ShopPolicy, keyof DayPolicy>, DayPolicy {
  /** 0 where nobody has stated one yet. */
  version: number;
  injection: 'step' | 'rated';
  name: string;
  contact: string;
  networks: string[];
  /** After how many days the trash is emptied; null for by hand alone. */
  trashDays: number | null;
  /** For how many months after a job was closed the samples of its recorded runs stay; null for always. */
  sampleMonths: number | null;
  /** For how many whole years it is kept who did what; null for always. */
  auditYears: number | null;
}

export async function loadPolicy(q: Queries): Promise<KeptPolicy> {
  const row = await q('shop_policy').where({ id: 1 }).first<{ version: number; value: KeptPolicy } | undefined>();
  const forever = { trashDays: null, sampleMonths: null, auditYears: null };
  const unsaid = { name: '', contact: '', injection: 'step' as const, networks: [] };
  const kept = { ...usualShop, ...usualDay, ...unsaid, ...forever, ...row?.value };
  return { ...kept, successBy: learnedSuccess(await repairCounts(q), kept.success), version: row?.version ?? 0 };
}

/**
 * Repairs that were begun here, by circuit, and how many of them succeeded: closed jobs with a circuit, in which something
 * was done that is a repair.
 */
export async function repairCounts(q: Queries): Promise<RepairCount[]> {
  const rows = await q('call_sums')
    .where({ by: 'all', key: '' })
    .whereRaw("what LIKE 'repair%'")
    .where('n', '>', 0)
    .orderBy('what')
    .select('what', 'n');
  const of = (kind: string) =>
    rows.flatMap(({ what, n }) => (what.startsWith(`${kind} `) ? [{ circuit: what.split(' ')[1], n: Number(n) }] : []));
  const succeeded = new Map(of('repaired').map(({ circuit, n }) => [circuit, n]));
  return of('repair').map(({ circuit, n }) => ({
    circuit: circuit as CircuitId,
    begun: n,
    succeeded: succeeded.get(circuit) ?? 0,
  }));
}

/** Keeps the policy; calls that are there stand as they were made, new ones follow it. */
export async function savePolicy(input: yup.InferType<typeof policyInput>): Promise<number> {
  const { version, success, ...rest } = input;
  const { fee, hourlyCost, notDoneHere, networks, trashDays, sampleMonths, auditYears } = rest;
  const told = { fee, hourlyCost, notDoneHere, networks, trashDays, sampleMonths, auditYears };
  return keepPolicy(version, { ...rest, success: success / 100 }, told);
}

/** Keeps how the days of the shop are ordered. */
export async function saveDayPolicy(version: number, day: DayPolicy): Promise<number> {
  return keepPolicy(version, day, { equipment: day.equipment, hours: day.hours, fees: day.fees });
}

/** Puts part of the policy in the place of what it was; the rest stays. */
async function keepPolicy(version: number, part: object, told: Record<string, unknown>): Promise<number> {
  return transaction(async (q) => {
    if (version === 0) {
      const made = await q('shop_policy')
        .insert({ id: 1, version: 1, value: json(part) })
        .onConflict('id')
        .ignore()
        .returning('id');
      if (made.length === 0) throw conflict();
    } else {
      const changed = await q('shop_policy')
        .where({ id: 1, version })
        .update({ value: q.raw('value || ?::jsonb', [json(part)]), version: version + 1, updated_at: q.fn.now() });
      if (changed === 0) throw conflict();
    }
    await addAudit(q, null, 'shop policy changed', told);
    return version + 1;
  });
}
