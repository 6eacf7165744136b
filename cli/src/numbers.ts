import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, sep } from 'node:path';
import { numberFiles } from '@umbral/core';

/** Where the core's files lie beside its code. */
const coreFolder = (): string => dirname(require.resolve('@umbral/core'));

/** What is data beside numbers: profiles, a version, accepted figures, the descriptions themselves, and what tests make up. */
const notNumbers = /^(numbers\.json|worlds\/|twin\/profiles\/|diagnosis\/engine-version|testing\/)/;

/** The numbers in a value, each with the way to it: `size.leak` or `waitS.0`. */
export function numbersIn(value: unknown, way: readonly string[] = []): { way: string; value: number }[] {
  if (typeof value === 'number') return [{ way: way.join('.'), value }];
  if (value === null || typeof value !== 'object') return [];
  return Object.entries(value).flatMap(([key, inside]) => numbersIn(inside, [...way, key]));
}

/** The files of the core that hold numbers, described or not, as paths under it. */
export function filesOfNumbers(folder = coreFolder()): { file: string; numbers: { way: string; value: number }[] }[] {
  return readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .map((name) => name.split(sep).join('/'))
    .filter((name) => name.endsWith('.json') && !notNumbers.test(name))
    .sort()
    .map((file) => ({ file, numbers: numbersIn(JSON.parse(readFileSync(join(folder, file), 'utf8'))) }))
    .filter(({ numbers }) => numbers.length > 0);
}

/** Above as many a file is named and not listed: the weights of a network say nothing one by one. */
const maxListed = 1000;

/**
 * The numbers that the engine goes by, as lines of text.
 *
 * @param only part of a file's path; its numbers are listed then
 * @throws {Error} where no file is named so
 */
export function sayNumbers(only: string | undefined): string {
  const files = filesOfNumbers().filter(({ file }) => only === undefined || file.includes(only));
  if (files.length === 0) throw new Error(`no file of numbers is called "${only}"`);
  return files
    .flatMap(({ file, numbers }) => {
      const { holds, unit, from } = numberFiles[file] ?? { holds: 'not described', unit: '?', from: '?' };
      const head = `${file} (${numbers.length}): ${holds}. ${unit}. From: ${from}.`;
      return only === undefined || numbers.length > maxListed
        ? [head]
        : [head, ...numbers.map(({ way, value }) => `    ${way} = ${value}`)];
    })
    .join('\n');
}
