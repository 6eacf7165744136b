import { dayOf, dueMoment, suffixMatch, toOrder, type CircuitId, type DeviceClass, type PartKind } from '@umbral/core';
import type { InferType } from 'yup';
import { addAudit } from '../../record/audit.ts';
import { countCalls } from '../library/calls.ts';
import { transaction, type Queries } from '../../record/db.ts';
import { conflict, ExpectedError, missing } from '../../record/errors.ts';
import type { PartOrderRow, PartRow } from '../../record/rows/part-rows.ts';
import { loadPolicy } from '../shop/policy.ts';
import type { countInput, orderPartInput, partInput, takePartInput } from './parts-input.ts';
import { startWait, endWaits } from '../entries/waits.ts';

/** A part as the shelf shows it. */
export interface PartView extends PartKind {
  version: number;
  cost: number;
  supplier: string;
  shelf: string;
  /** How many should be ordered. */
  short: number;
  orders: { id: number; count: number; dueOn: string; jobId: number | null }[];
}

/** Everything on the shelf, by circuit and name. */
export async function loadParts(q: Queries): Promise<PartView[]> {
  const rows = (await q('parts').whereNull('deleted_at').orderBy(['circuit', 'name', 'number', 'suffix'])) as PartRow[];
  const reserved = (await q('part_reservations')
    .groupBy('part_id')
    .select('part_id', q.raw('sum(count)::int AS n'))) as {
    part_id: number;
    n: number;
  }[];
  const { hours } = await loadPolicy(q);
  const orders = await q('part_orders').whereNull('arrived_at').whereNull('cancelled_at').orderBy('due_at');
  return rows.map((row) => {
    const open = orders.filter((o) => o.part_id === row.id);
    const kind: PartKind = {
      id: row.id,
      name: row.name,
      number: row.number,
      suffix: row.suffix,
      fits: row.fits,
      deviceClass: row.device_class,
      model: row.model,
      circuit: row.circuit,
      onHand: row.on_hand,
      reserved: reserved.find((r) => r.part_id === row.id)?.n ?? 0,
      ordered: open.reduce((sum, o) => sum + o.count, 0),
      minimum: row.minimum,
    };
    return {
      ...kind,
      version: row.version,
      cost: row.cost,
      supplier: row.supplier,
      shelf: row.shelf,
      short: toOrder(kind),
      orders: open.map((o) => ({ id: o.id, count: o.count, dueOn: dayOf(hours, o.due_at), jobId: o.job_id })),
    };
  });
}

/**
 * Keeps a kind of part, new or changed.
 *
 * @throws {ExpectedError} where there is one of that number and suffix already
 */
export async function savePart(input: InferType<typeof partInput>): Promise<number> {
  const { id: partId, version, deviceClass, circuit, ...rest } = input;
  const row = { ...rest, device_class: deviceClass as DeviceClass | null, circuit: circuit as CircuitId };
  return transaction(async (q) => {
    const twin = await q('parts')
      .whereRaw('lower(number) = lower(?) AND lower(suffix) = lower(?)', [row.number, row.suffix])
      .whereNull('deleted_at')
      .whereNot({ id: partId ?? 0 })
      .first('id');
    if (twin)
      throw new ExpectedError(
        'input',
        `Number: ${[row.number, row.suffix].filter(Boolean).join(' ')} is already on the shelf.`,
      );
    if (partId === null) {
      const [made] = (await q('parts').insert(row).returning('id')) as { id: number }[];
      await addAudit(q, null, 'part added', { part: made.id, number: row.number });
      return made.id;
    }
    const changed = await q('parts')
      .where({ id: partId, version })
      .whereNull('deleted_at')
      .update({ ...row, version: version + 1 });
    if (changed === 0) throw conflict();
    await addAudit(q, null, 'part changed', { part: partId });
    return partId;
  });
}

async function partLocked(q: Queries, partId: number): Promise<PartRow> {
  const row = (await q('parts').where({ id: partId }).whereNull('deleted_at').forUpdate().first()) as
    PartRow | undefined;
  if (!row) throw missing(`Part ${partId}`);
  return row;
}

async function move(
  q: Queries,
  part: PartRow,
  delta: number,
  why: 'counted' | 'arrived' | 'taken' | 'returned',
  jobId: number | null,
): Promise<void> {
  if (delta === 0) return;
  await q('parts')
    .where({ id: part.id })
    .update({ on_hand: part.on_hand + delta });
  await q('part_moves').insert({ part_id: part.id, delta, why, job_id: jobId });
  // A closed job has been counted already.
  if (jobId !== null && why === 'taken' && (await q('calls').where({ job_id: jobId }).first('job_id')))
    await countCalls(q, [jobId]);
}

/** So many lie there: what is different from what was thought is a move of its own. */
export async function countPart(input: InferType<typeof countInput>): Promise<void> {
  await transaction(async (q) => {
    const part = await partLocked(q, input.partId);
    await move(q, part, input.counted - part.on_hand, 'counted', null);
    await addAudit(q, null, 'part counted', { part: part.id, counted: input.counted });
  });
}

/**
 * Puts a part on order; where it is for a job, the job waits for it.
 *
 * @throws {ExpectedError} for a day that has passed
 */
export async function orderPart(input: InferType<typeof orderPartInput>): Promise<void> {
  const { partId, jobId } = input;
  await transaction(async (q) => {
    const dueAt = dueMoment((await loadPolicy(q)).hours, input.dueOn);
    if (dueAt <= new Date()) throw new ExpectedError('input', 'Expected on: this date is in the past.');
    const part = await partLocked(q, partId);
    const [made] = (await q('part_orders')
      .insert({ part_id: partId, count: input.count, due_at: dueAt, job_id: jobId })
      .returning('id')) as { id: number }[];
    if (jobId !== null) {
      await q('part_reservations')
        .insert({ part_id: partId, job_id: jobId, count: input.count })
        .onConflict(['part_id', 'job_id'])
        .merge();
      await startWait(q, {
        jobId,
        kind: 'part',
        words: `waiting for ${part.name}`,
        until: dueAt,
        source: `order:${made.id}`,
      });
    }
    await addAudit(q, jobId, `ordered: ${part.name}`, { part: partId, count: input.count });
  });
}

async function openOrder(q: Queries, orderId: number): Promise<PartOrderRow> {
  const order = (await q('part_orders')
    .where({ id: orderId })
    .whereNull('arrived_at')
    .whereNull('cancelled_at')
    .forUpdate()
    .first()) as PartOrderRow | undefined;
  if (!order) throw missing('This order');
  return order;
}

/** An order that will not come: what was set aside from it is free again, and the job that waited for it goes on. */
export async function cancelOrder(orderId: number): Promise<void> {
  await transaction(async (q) => {
    const order = await openOrder(q, orderId);
    const part = await partLocked(q, order.part_id);
    await q('part_orders').where({ id: orderId }).update({ cancelled_at: q.fn.now() });
    if (order.job_id !== null) {
      await q('part_reservations').where({ part_id: order.part_id, job_id: order.job_id }).delete();
      await endWaits(q, order.job_id, { source: `order:${orderId}` });
    }
    await addAudit(q, order.job_id, `order cancelled: ${part.name}`, { part: part.id, count: order.count });
  });
}

/** A part that has to be ordered, as a supplier takes it. Money in the shop's currency. */
interface OrderLine {
  supplier: string;
  number: string;
  name: string;
  count: number;
  price: number;
  total: number;
}

/** What has to be ordered, by supplier: to be sent as it is. */
export function orderList(parts: readonly PartView[]): OrderLine[] {
  return parts
    .filter((p) => p.short > 0)
    .map((p) => ({
      supplier: p.supplier,
      number: [p.number, p.suffix].filter(Boolean).join(' '),
      name: p.name,
      count: p.short,
      price: p.cost,
      total: Math.round(100 * p.short * p.cost) / 100,
    }))
    .sort((a, b) => a.supplier.localeCompare(b.supplier, 'en') || a.name.localeCompare(b.name, 'en'));
}

/** What was on order lies on the shelf; the job that waited for it goes on. */
export async function orderArrived(orderId: number): Promise<void> {
  await transaction(async (q) => {
    const order = await openOrder(q, orderId);
    const part = await partLocked(q, order.part_id);
    await move(q, part, order.count, 'arrived', order.job_id);
    await q('part_orders').where({ id: orderId }).update({ arrived_at: q.fn.now() });
    if (order.job_id !== null) await endWaits(q, order.job_id, { source: `order:${orderId}` });
    await addAudit(q, order.job_id, `arrived: ${part.name}`, { part: part.id, count: order.count });
  });
}

/** Sets some aside for a job; none gives them back. */
export async function reservePart(partId: number, jobId: number, amount: number): Promise<void> {
  await transaction(async (q) => {
    const part = await partLocked(q, partId);
    await q('part_reservations').where({ part_id: partId, job_id: jobId }).delete();
    if (amount > 0) {
      const others = await reservedByOthers(q, partId, jobId);
      if (part.on_hand - others < amount)
        throw new ExpectedError(
          'input',
          `Only ${Math.max(0, part.on_hand - others)} of ${part.name} are free. Order the rest.`,
        );
      await q('part_reservations').insert({ part_id: partId, job_id: jobId, count: amount });
    }
    await addAudit(q, jobId, amount > 0 ? `reserved: ${part.name}` : `no longer reserved: ${part.name}`);
  });
}

async function reservedByOthers(q: Queries, partId: number, jobId: number): Promise<number> {
  const found = await q('part_reservations')
    .where({ part_id: partId })
    .whereNot({ job_id: jobId })
    .sum({ n: 'count' })
    .first();
  return Number(found?.n ?? 0);
}

/**
 * Takes a part off the shelf for a job. One with another suffix than that of the part which comes off is asked about first.
 *
 * @returns what is asked; nothing where it was taken
 * @throws {ExpectedError} where fewer are free
 */
export async function takePart(input: InferType<typeof takePartInput>): Promise<string[]> {
  const { partId, jobId, wanted, confirmed } = input;
  return transaction(async (q) => {
    const part = await partLocked(q, partId);
    const others = await reservedByOthers(q, partId, jobId);
    if (part.on_hand < input.count)
      throw new ExpectedError(
        'input',
        `Only ${part.on_hand} of ${part.name} are on the shelf. Count them, or order the rest.`,
      );
    if (part.on_hand - others < input.count)
      throw new ExpectedError(
        'input',
        `The rest of ${part.name} is reserved for other jobs: ${others} of ${part.on_hand}.`,
      );
    const match = suffixMatch(part, wanted);
    if (!confirmed && match === 'other')
      return [
        `The old part has suffix ${wanted}, this one ${part.suffix || 'none'}, which is not listed as a substitute. Take it anyway?`,
      ];
    if (!confirmed && match === 'unknown')
      return [
        `This one has suffix ${part.suffix}. The suffix of the old part was not noted. Check before you fit it. Take it anyway?`,
      ];
    await move(q, part, -input.count, 'taken', jobId);
    await q('part_reservations').where({ part_id: partId, job_id: jobId }).delete();
    await addAudit(q, jobId, `taken: ${part.name} ${part.number}${part.suffix}`.trim(), {
      part: partId,
      count: input.count,
      match,
    });
    return [];
  });
}

/** Puts a part back that was taken for a job and not used. */
export async function returnPart(partId: number, jobId: number): Promise<void> {
  await transaction(async (q) => {
    const part = await partLocked(q, partId);
    const found = await q('part_moves')
      .where({ part_id: partId, job_id: jobId })
      .whereIn('why', ['taken', 'returned'])
      .sum({ n: 'delta' })
      .first();
    if (Number(found?.n ?? 0) >= 0) throw new ExpectedError('input', `Nothing of ${part.name} was taken for this job.`);
    await move(q, part, 1, 'returned', jobId);
    await addAudit(q, jobId, `returned to the shelf: ${part.name}`);
  });
}
