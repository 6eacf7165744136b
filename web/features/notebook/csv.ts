import { circuitNames, deviceClasses, notebookLines, type DeviceClass } from '@umbral/core';
import { csvOf } from '@/server/record/csv';
import { db } from '@/server/record/db';
import { notebookEntries } from '@/server/work/library/notebook';
import { modelKeyOf } from '@/server/work/library/words';
import { dayWords } from '@/features/words';

/**
 * The notebook as CSV that is safe to open in a spreadsheet: nothing that was typed begins a formula. One model after the
 * other, so that however long it is nobody waits behind it.
 */
export async function* notebookCsv(): AsyncGenerator<string> {
  let isFirst = true;
  for (const deviceClass of deviceClasses)
    for (const model of await modelsOf(deviceClass)) {
      const rows = await rowsOf(deviceClass, model);
      if (rows.length === 0) continue;
      const text = csvOf(rows);
      yield isFirst ? text : text.slice(text.indexOf('\r\n') + 2);
      isFirst = false;
    }
}

async function modelsOf(deviceClass: DeviceClass): Promise<string[]> {
  const q = db();
  const key = modelKeyOf('model');
  const { rows } = (await q.raw(
    `SELECT ${key} AS model FROM library_cases WHERE device_class = :deviceClass
     UNION SELECT ${key} FROM notes WHERE device_class = :deviceClass AND deleted_at IS NULL ORDER BY 1`,
    { deviceClass },
  )) as { rows: { model: string }[] };
  return rows.map((r) => r.model);
}

async function rowsOf(deviceClass: DeviceClass, model: string): Promise<Record<string, unknown>[]> {
  const { entries } = await notebookEntries(db(), { model, deviceClass });
  return notebookLines(entries).flatMap((line) =>
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
}
