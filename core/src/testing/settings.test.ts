import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';

const root = join(__dirname, '..');
const files = readdirSync(root, { recursive: true, encoding: 'utf8' });
const code = files
  .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'))
  .map((name) => readFileSync(join(root, name), 'utf8'))
  .join('\n');

/** Settings of a room: numbers and tables under names of their own, rather than a table whose keys are ids. */
const settings = files.filter((name) =>
  /(settings|windows|rules|policy|measuring|injection|fit|seen|setups|belief|readings|runs|changes|comparing|limits|worlds)\.json$/.test(
    name,
  ),
);

test.each(settings)('every figure of %s is read somewhere', (name) => {
  const keys = Object.keys(JSON.parse(readFileSync(join(root, name), 'utf8')) as object);
  expect(keys.filter((key) => !new RegExp(`\\b${key}\\b`).test(code))).toEqual([]);
});
