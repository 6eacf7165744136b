import { modelKey, type LibraryCase } from '@umbral/core';
import { db } from '../server/record/db.ts';
import { changesSince } from '../server/analysis/known-library.ts';

/** What the closed jobs of a model taught, as weights by circuit. */
export async function taught(model: string): Promise<Record<string, number>> {
  const rows = await db()('library_cases').orderBy('id').select('model', 'circuit', 'weight');
  const sums: Record<string, number> = {};
  for (const row of rows)
    if (modelKey(row.model) === modelKey(model)) sums[row.circuit] = (sums[row.circuit] ?? 0) + row.weight;
  return sums;
}

/** The confirmed cases as the engine is told of them. */
export async function toldCases(): Promise<LibraryCase[]> {
  const cases: LibraryCase[] = [];
  await changesSince(0, async (change) => void cases.push(...change.cases));
  return cases;
}
