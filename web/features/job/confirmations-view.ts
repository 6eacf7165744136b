import { circuitNames, gradeTypes } from '@umbral/core';
import type { Queries } from '@/server/record/db';
import { standingConfirmations } from '@/server/work/library/teach';
import { dayWords } from '@/features/words';

/** What somebody found that a job was. */
export interface ConfirmationView {
  id: number;
  circuit: string;
  circuitId: string;
  target: string;
  grade: string;
  why: string;
  who: string;
  on: string;
}

export async function confirmationViews(
  q: Queries,
  jobId: number,
  people: ReadonlyMap<number, string>,
): Promise<ConfirmationView[]> {
  return (await standingConfirmations(q, jobId)).map((c) => ({
    id: c.id,
    circuit: circuitNames[c.circuit],
    circuitId: c.circuit,
    target: c.target,
    grade: gradeTypes[c.grade].name,
    why: c.why,
    who: c.person_id === null ? '' : (people.get(c.person_id) ?? ''),
    on: dayWords(c.created_at),
  }));
}
