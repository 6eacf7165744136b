import { circuitNames, notebookLines } from '@umbral/core';
import { csvOf } from '@/server/csv';
import { db } from '@/server/db';
import { notebookEntries } from '@/server/library/notebook';
import { dayWords } from '@/features/words';

/** The notebook as CSV that is safe to open in a spreadsheet: nothing that was typed begins a formula. */
export async function notebookCsv(): Promise<string> {
  const rows = notebookLines(await notebookEntries(db())).flatMap((line) =>
    line.causes.map((cause) => ({
      model: line.model,
      device: line.deviceClass,
      feed: line.feed ?? '',
      volts: line.volts ?? '',
      'from A': line.minA ?? '',
      'to A': line.maxA ?? '',
      setup: line.setup,
      circuit: circuitNames[cause.circuit],
      part: cause.elements.join(', '),
      times: cause.hits,
      of: line.of,
      last: dayWords(line.last),
      who: line.who.join(', '),
      from: [...new Set(line.entries.flatMap((e) => (e.origin ? [e.origin] : [])))].join(', '),
    })),
  );
  return csvOf(rows);
}
