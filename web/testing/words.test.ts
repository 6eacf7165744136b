import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { checkIds, circuitIds, patternIds } from '@umbral/core/words';
import ts from 'typescript';

/** The rules of docs/words.md that a program can hold, over every sentence in the sources. */

const root = join(__dirname, '..', '..');
const folders = [
  'core/src',
  'web/app',
  'web/features',
  'web/ui',
  'web/server',
  'cli/src',
  'instruments/src',
  'front/src',
];
/** What people never read: tests, made-up data, measurements, what a dialect of an instrument looks like. */
const unread =
  /\.test\.|testing\/|\/sample\/|migrations\/|evaluation\/|sketch\/|dialect\/|formats\/log\/(rate|time|header)/;

interface Sentence {
  place: string;
  text: string;
}

const files = execFileSync('git', ['ls-files', ...folders], { cwd: root, encoding: 'utf8' })
  .split('\n')
  .filter((f) => /\.tsx?$/.test(f) && !unread.test(f));

const sources = files.map((file) => {
  const text = readFileSync(join(root, file), 'utf8');
  const kind = file.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS;
  return { file, source: ts.createSourceFile(file, text, ts.ScriptTarget.Latest, true, kind) };
});

const placeOf = (source: ts.SourceFile, node: ts.Node): string =>
  `${source.fileName}:${source.getLineAndCharacterOfPosition(node.getStart(source)).line + 1}`;

/** What a node says, with `{}` for what is put in; null for a node that holds no text. */
function textOf(node: ts.Node): string | null {
  if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) return node.text;
  if (ts.isTemplateExpression(node))
    return node.head.text + node.templateSpans.map((span) => `{}${span.literal.text}`).join('');
  return ts.isJsxText(node) ? node.text.replace(/\s+/g, ' ').trim() : null;
}

/** Queries, classes of style sheets and patterns of text are no sentences. */
const isProse = (text: string): boolean =>
  text.split(/\s+/).length >= 3 &&
  !/\b(SELECT|UPDATE|INSERT|DELETE FROM|WHERE|JOIN|CASE WHEN|to_char|pg_)\b/.test(text) &&
  !/(^|\s)(-?[a-z]+:)?(px|py|mt|ml|grid|flex|text|border|min-h|min-w|absolute|relative|rounded|gap|w|h)-[\w[]/.test(
    text,
  ) &&
  !/^\^|\(\?:|\\d/.test(text);

/** Sentences in the data beside the code: names of protocols and steps, what a check asks, what a pattern warns of. */
const inData: Sentence[] = execFileSync('git', ['ls-files', 'core/src/*.json', 'web/server/*.json'], {
  cwd: root,
  encoding: 'utf8',
})
  .split('\n')
  .filter((f) => f !== '' && !unread.test(f) && !/header-names|vocabulary/.test(f))
  .flatMap((file) => {
    const found: Sentence[] = [];
    const look = (value: unknown, path: string): void => {
      if (typeof value === 'string' && isProse(value)) found.push({ place: `${file}: ${path}`, text: value });
      else if (typeof value === 'object' && value !== null)
        for (const [key, part] of Object.entries(value)) look(part, path === '' ? key : `${path}.${key}`);
    };
    look(JSON.parse(readFileSync(join(root, file), 'utf8')), '');
    return found;
  });

const inCode: Sentence[] = sources.flatMap(({ source }) => {
  const found: Sentence[] = [];
  const look = (node: ts.Node): void => {
    const text = textOf(node);
    if (text !== null && isProse(text)) found.push({ place: placeOf(source, node), text });
    ts.forEachChild(node, look);
  };
  look(source);
  return found;
});

const sentences = [...inCode, ...inData];

const breaking = (rule: (text: string) => boolean): string[] =>
  sentences.filter((s) => rule(s.text)).map((s) => `${s.place}: ${s.text}`);

const forbidden = readFileSync(join(root, 'docs/words.md'), 'utf8')
  .split('## What we do not say')[1]
  .split('\n')
  .flatMap((line) => /^\| (?!Not |-)([^|]+) \|/.exec(line)?.[1] ?? []);

test('there is something to read', () => {
  expect(inCode.length).toBeGreaterThan(800);
  expect(inData.length).toBeGreaterThan(80);
  expect(forbidden.length).toBeGreaterThan(10);
});

test.each(forbidden)('nobody says "%s"', (phrase) => {
  const said = new RegExp(`(?<![\\w-])${phrase.replace(/[.*+?^$()[\]\\]/g, '\\$&')}(?![\\w-])`);
  expect(breaking((text) => said.test(text))).toEqual([]);
});

test('no sentence shouts', () => {
  expect(breaking((text) => /[a-z]!(\s|$)/.test(text))).toEqual([]);
});

test('no id stands in a sentence', () => {
  // Ids of one plain word (`screen`, `pmic`) are words as well; those with a dot or a hyphen are not.
  const ids = [...circuitIds, ...patternIds, ...checkIds].filter(
    (id) => /[.-]/.test(id) && !/^(standby|idle)-/.test(id),
  );
  const spoken = new Set(['known-good-charger', 'known-good-display']);
  const inText = ids.filter((id) => !spoken.has(id)).map((id) => id.replace('.', '\\.'));
  const said = new RegExp(`(?<![\\w.-])(${inText.join('|')})(?![\\w.-])`);
  expect(breaking((text) => said.test(text))).toEqual([]);
});

test('units stand after a space', () => {
  // A typed line is a notation of its own.
  const isNotation = (text: string): boolean => /battery \d|usb-c|dc-in|prompt|hold|such as|coil\d/.test(text);
  expect(
    breaking((text) => !isNotation(text) && /(?<![\w.-])\d+(\.\d+)?(mA|A|V|mV|W|Ω|ms|kHz|Hz)\b/.test(text)),
  ).toEqual([]);
});

test('no name is written small by code', () => {
  const small: string[] = [];
  for (const { source } of sources) {
    const look = (node: ts.Node): void => {
      if (ts.isPropertyAccessExpression(node) && /^to(Locale)?LowerCase$/.test(node.name.text)) {
        const of = node.expression;
        const isName =
          (ts.isPropertyAccessExpression(of) && /^(name|label|model|circuitName)$/.test(of.name.text)) ||
          (ts.isElementAccessExpression(of) && /Names$|Types$/.test(of.expression.getText(source)));
        if (isName && !isCompared(node)) small.push(`${placeOf(source, node)}: ${node.parent.getText(source)}`);
      }
      ts.forEachChild(node, look);
    };
    look(source);
  }
  expect(small).toEqual([]);
});

/** Small letters to compare with, or as a key: nobody reads them. */
function isCompared(node: ts.Node): boolean {
  for (let up: ts.Node = node.parent; up && !ts.isStatement(up); up = up.parent) {
    if (ts.isJsxExpression(up) || ts.isTemplateSpan(up)) return false;
    if (ts.isBinaryExpression(up) && /^[=!]==?$/.test(up.operatorToken.getText())) return true;
    if (ts.isCallExpression(up) && /\.(includes|startsWith|has|get|set)$/.test(up.expression.getText())) return true;
    if (ts.isVariableDeclaration(up)) return true;
  }
  return false;
}
