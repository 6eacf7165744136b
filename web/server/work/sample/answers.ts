import { createHash } from 'node:crypto';
import { brotliCompressSync, brotliDecompressSync } from 'node:zlib';
import { engineVersion, type Assessment } from '@umbral/core';
import { withOwnEngine, type assess } from '../../analysis/engine.ts';
import type { Queries } from '../../record/db.ts';
import { tellChanges } from '../../analysis/known-library.ts';
import kept from './fleet-answers.json';

/** Where they are kept, beside this file. */
export const answersFile = 'fleet-answers.json';

export type Assess = typeof assess;

/** Verdicts by {@link keyOf} what was asked. */
export type Answers = Map<string, Assessment>;

/**
 * Names a question: the same for the same engine asked the same.
 *
 * @param learned how many cases of the fleet were confirmed before: they come in one order
 */
export function keyOf(
  learned: number,
  ...[value, shapes, used, { library, runWarnings, shop } = {}]: Parameters<Assess>
): string {
  const asked = [
    engineVersion,
    value,
    [...shapes],
    used && [used.profile.id, used.version],
    shop,
    library && [learned, library.without, library.known.recalibration],
    runWarnings && [...runWarnings],
  ];
  return createHash('sha256').update(JSON.stringify(asked)).digest('base64url');
}

/** How many cases are confirmed, as a transaction sees it. */
export const learnedIn = async (q: Queries): Promise<number> =>
  Number((await q('library_cases').count({ n: '*' }).first())?.n ?? 0);

/** Verdicts as they are kept in the repository, in few bytes. */
export const packAnswers = (answers: Answers): string =>
  brotliCompressSync(JSON.stringify([...answers])).toString('base64');

/** The verdicts on the sample fleet that an engine gave before. */
export const keptAnswers = (): Answers =>
  new Map(JSON.parse(brotliDecompressSync(Buffer.from(kept.packed, 'base64')).toString()) as [string, Assessment][]);

/** Asks an engine of its own, which is told what only this transaction sees: nobody else's is. */
export function assessBeside(q: Queries): Assess {
  return (...asked) =>
    withOwnEngine(async (engine) => {
      await tellChanges(q, 0, engine.learn);
      return engine.assess(...asked);
    });
}

/** Asks the engine only what was not asked of it before: the sample fleet is ready in a moment. */
export function assessFrom(answers: Answers, q: Queries): Assess {
  return async (...asked) => answers.get(keyOf(await learnedIn(q), ...asked)) ?? assessBeside(q)(...asked);
}
