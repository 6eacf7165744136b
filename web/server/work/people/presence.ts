import * as yup from 'yup';
import { db } from '../../record/db.ts';
import { eventStream } from '../../record/event-stream.ts';
import { jobNotices } from '../../record/listen.ts';
import type { Person } from '../../record/actor.ts';
import policy from './policy.json';

/** Somebody who has a job open, and what they are changing there. */
export interface Present {
  tab: string;
  person: number;
  name: string;
  /** Label of the field that they are in; empty for looking. */
  field: string;
}

/** What happens in a job, for whoever has it open. */
export interface JobNews {
  version: number;
  /** How many of its changes the verdict knows: moves when a verdict was made. */
  judged: number;
  /** Who changed it last and what they did; null before anything was. */
  last: { person: number | null; name: string; what: string; at: string } | null;
  present: Present[];
}

export const presenceInput = yup.object({
  tab: yup.string().min(8).max(40).required(),
  field: yup.string().max(120).default(''),
  isGone: yup.boolean().default(false),
});

/** Says that somebody has a job open in a tab, or has left it. */
export async function saySelf(
  jobId: number,
  person: Person,
  input: yup.InferType<typeof presenceInput>,
): Promise<void> {
  const q = db();
  const { tab, field, isGone } = input;
  if (isGone) await q('presence').where({ job_id: jobId, tab }).delete();
  else
    await q('presence')
      .insert({ job_id: jobId, tab, person_id: person.id, field })
      .onConflict(['job_id', 'tab'])
      .merge({ person_id: person.id, field, seen_at: q.fn.now() });
  await q('presence')
    .where('seen_at', '<', q.raw('now() - make_interval(secs => ?)', [10 * policy.presentS]))
    .delete();
  await q.raw(`SELECT pg_notify('umbral_jobs', ?)`, [String(jobId)]);
}

async function jobNews(jobId: number): Promise<JobNews | null> {
  const q = db();
  const job = await q('jobs').where({ id: jobId }).first('version', 'changes_judged');
  if (!job) return null;
  const last = await q('audit')
    .leftJoin('people', 'people.id', 'audit.person_id')
    .where({ job_id: jobId })
    .orderBy('audit.id', 'desc')
    .first<{ person: number | null; name: string | null; what: string; at: Date } | undefined>(
      'people.id as person',
      'people.name',
      'audit.what',
      'audit.created_at as at',
    );
  const present = await q('presence')
    .join('people', 'people.id', 'presence.person_id')
    .where({ job_id: jobId })
    .where('seen_at', '>', q.raw('now() - make_interval(secs => ?)', [policy.presentS]))
    .orderBy('people.name')
    .select<Present[]>('tab', 'people.id as person', 'people.name', 'field');
  return {
    version: job.version,
    judged: job.changes_judged,
    last: last ? { ...last, name: last.name ?? '', at: last.at.toISOString() } : null,
    present,
  };
}

const beatMs = 15_000;

/** The news of a job as a stream of events, until the reader goes. */
export function newsStream(jobId: number, signal: AbortSignal): ReadableStream<Uint8Array> {
  return eventStream(signal, beatMs, (writer) => {
    let busy = false;
    let again = false;
    const tell = async (): Promise<void> => {
      again = busy;
      if (busy) return;
      busy = true;
      const news = await jobNews(jobId).catch(() => null);
      if (news) writer.write(`event: news\ndata: ${JSON.stringify(news)}\n\n`);
      busy = false;
      if (again) void tell();
    };
    const deaf = jobNotices().hear('umbral_jobs', (payload) => {
      if (payload === '' || payload === String(jobId)) void tell();
    });
    writer.atEnd(deaf);
    writer.write('retry: 1500\n\n');
    void tell();
  });
}
