import { createHash } from 'node:crypto';
import { brotliCompressSync, brotliDecompressSync } from 'node:zlib';
import { engineVersion, type Assessment } from '@umbral/core';
import { assess } from '../analysis/engine.ts';
import kept from './fleet-answers.json';

/** Where they are kept, beside this file. */
export const answersFile = 'fleet-answers.json';

export type Assess = typeof assess;

/** Verdicts by {@link keyOf} what was asked. */
export type Answers = Map<string, Assessment>;

/** Names a question: the same for the same engine asked the same. When something was confirmed only decides whether it counts. */
export function keyOf(...[value, shapes, used, { library, runWarnings, shop } = {}]: Parameters<Assess>): string {
  const before = library?.before ?? Infinity;
  const cases = library?.known.cases.flatMap(({ closedAt, ...known }) => (closedAt < before ? [known] : []));
  const asked = [
    engineVersion,
    value,
    [...shapes],
    used && [used.profile.id, used.version],
    shop,
    library && [cases, library.without, library.known.recalibration],
    runWarnings && [...runWarnings],
  ];
  return createHash('sha256').update(JSON.stringify(asked)).digest('base64url');
}

/** Verdicts as they are kept in the repository, in few bytes. */
export const packAnswers = (answers: Answers): string =>
  brotliCompressSync(JSON.stringify([...answers])).toString('base64');

/** The verdicts on the sample fleet that an engine gave before. */
export const keptAnswers = (): Answers =>
  new Map(JSON.parse(brotliDecompressSync(Buffer.from(kept.packed, 'base64')).toString()) as [string, Assessment][]);

/** Asks the engine only what was not asked of it before: the sample fleet is ready in a moment. */
export function assessFrom(answers: Answers): Assess {
  return async (...asked) => answers.get(keyOf(...asked)) ?? assess(...asked);
}
