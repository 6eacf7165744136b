import { bareCase, Library, type ConfirmedCounts } from '@umbral/core';
import type { Queries } from './db.ts';
import { libraryKeyOf, loadLibrary } from './library/known.ts';
import { deviceOfRow, type JobRow } from './rows.ts';

/** What the shop has confirmed before, without the job in hand: of its model, of its class, of all devices. */
export async function confirmedBefore(q: Queries, job: JobRow): Promise<ConfirmedCounts> {
  const { cases } = await loadLibrary(q);
  const value = { ...bareCase(deviceOfRow(job), [], 'asked') };
  const {
    model,
    class: ofClass,
    all,
  } = new Library(cases).ask(value, new Map(), {
    without: await libraryKeyOf(q, job.id),
    before: null,
  }).confirmed;
  return { model, class: ofClass, all };
}
