import { createHash } from 'node:crypto';
import { modelKey } from '@umbral/core';
import type { Queries } from '../../record/db.ts';
import type { Line } from '../../analysis/exchange-format.ts';

/** A case that is here already. */
interface KnownCase {
  key: string;
  circuit: string;
  jobId: number | null;
}

/** Cases by everything that tells them: their key, each of their recorded runs, and all their typed ones together. */
export type KnownCases = Map<string, KnownCase>;

/** Bytes of a signature without a course: what is longer was recorded, and no second device draws the same. */
const typedBytes = 80;

const digest = (data: Buffer): string => createHash('md5').update(data).digest('hex');

/** Typed runs are few numbers, and may be the same by chance: model and month are the same as well where it is one case. */
const typedKey = (model: string, month: string, digests: readonly string[]): string =>
  `typed ${modelKey(model)} ${month} ${[...digests].sort().join(' ')}`;

/** Every confirmed case that is here, of this shop and of others. */
export async function casesHere(q: Queries): Promise<KnownCases> {
  const { rows } = await q.raw<{
    rows: {
      case_key: string;
      circuit: string;
      job_id: number | null;
      model: string;
      month: string;
      recorded: string[];
      typed: string[];
    }[];
  }>(
    `SELECT c.case_key, c.circuit, c.job_id, c.model, to_char(c.closed_at AT TIME ZONE 'UTC', 'YYYY-MM') AS month,
       coalesce(array_agg(md5(r.data)) FILTER (WHERE length(r.data) > :typedBytes), '{}') AS recorded,
       coalesce(array_agg(md5(r.data)) FILTER (WHERE length(r.data) <= :typedBytes), '{}') AS typed
     FROM library_cases c LEFT JOIN library_runs r ON r.case_id = c.id GROUP BY c.id`,
    { typedBytes },
  );
  const out: KnownCases = new Map();
  for (const { case_key: key, circuit, job_id: jobId, model, month, recorded, typed } of rows) {
    const known = { key, circuit, jobId };
    for (const name of [key, ...recorded, ...(typed.length > 0 ? [typedKey(model, month, typed)] : [])])
      out.set(name, known);
  }
  return out;
}

type BroughtCase = NonNullable<Line['case']>;

/** What a case of another shop is kept by: a case of recorded runs tells itself anywhere, a job's number only in its own shop. */
export const keyOfCase = ({ fingerprint }: { fingerprint: string }, { id }: BroughtCase): string =>
  id.startsWith('case ') ? id : `${fingerprint} ${id}`;

/** The case that is here already and that this one is, whatever it calls itself; undefined for none. */
export function findHere(
  brought: { fingerprint: string; here: KnownCases },
  given: BroughtCase,
): KnownCase | undefined {
  const data = given.runs.map((r) => Buffer.from(r.data, 'base64'));
  const typed = data.filter((d) => d.length <= typedBytes).map(digest);
  const names = [
    keyOfCase(brought, given),
    ...data.filter((d) => d.length > typedBytes).map(digest),
    ...(typed.length > 0 ? [typedKey(given.model, given.month, typed)] : []),
  ];
  return names.map((name) => brought.here.get(name)).find((known) => known !== undefined);
}
