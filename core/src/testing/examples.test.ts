import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import ts from 'typescript';

const root = join(__dirname, '..');

interface Example {
  file: string;
  of: string;
  code: string[];
}

/** Every `@example` of an exported function, as it stands in its documentation. */
function examplesIn(path: string): Example[] {
  const text = readFileSync(path, 'utf8');
  if (!text.includes('@example')) return [];
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest, true);
  return source.statements.flatMap((node) =>
    ts.isFunctionDeclaration(node)
      ? ts
          .getJSDocTags(node)
          .filter((tag) => tag.tagName.text === 'example')
          .map((tag) => ({
            file: relative(root, path),
            of: node.name?.text ?? '',
            code: (ts.getTextOfJSDocComment(tag.comment) ?? '').split('\n').filter((line) => line.trim() !== ''),
          }))
      : [],
  );
}

const examples = readdirSync(root, { recursive: true, encoding: 'utf8' })
  .filter((name) => name.endsWith('.ts') && !name.endsWith('.test.ts'))
  .flatMap((name) => examplesIn(join(root, name)));

/** Evaluates with everything that the file exports at hand. */
function evaluate(exported: Record<string, unknown>, statements: string[], last: string): unknown {
  const names = Object.keys(exported).filter((name) => /^\w+$/.test(name));
  const run = new Function(...names, `${statements.join('\n')}; return (${last.trim().replace(/;$/, '')});`);
  return run(...names.map((name) => exported[name])) as unknown;
}

/** Numbers as they are written, to nine figures. */
const rounded = (value: unknown): unknown =>
  JSON.parse(JSON.stringify(value ?? null, (_, x: unknown) => (typeof x === 'number' ? Number(x.toPrecision(9)) : x)));

test('there are examples', () => expect(examples.length).toBeGreaterThan(20));

test.each(examples.map((e) => [`${e.file}: ${e.of}`, e] as const))('%s does what it says', (_, { file, code }) => {
  // eslint-disable-next-line @typescript-eslint/no-require-imports -- the files are found while the test runs
  const exported = require(join(root, file)) as Record<string, unknown>;
  const [line, expected] = (code.at(-1) ?? '').split(/\s\/\/\s(?=[^/]*$)/);
  const result = evaluate(exported, code.slice(0, -1), line);
  if (expected !== undefined) expect(rounded(result)).toEqual(rounded(evaluate(exported, [], expected)));
});
