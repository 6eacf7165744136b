/**
 * npm run words: every sentence and label that a person can read, with its place, parsed from the sources.
 *
 *     npm run words [-- PART_OF_A_PATH]     the list, a line each: place, then text; {} stands for what is filled in
 *     npm run words -- --check              only what breaks a rule of docs/words.md
 *     npm run words -- --draw 40 --seed 7   some by chance, for a reader's trial
 *     npm run words -- --count              how many, by room
 */
import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import ts from 'typescript';
import { root, say } from './lib/run.mjs';

const rooms = /^(core\/src|web|instruments\/src|cli\/src|front\/src|scripts)\/.*\.(tsx?|mjs)$/;
const notRead = /\.(test|spec|d)\.|\/testing\/|^scripts\/(bench|fuzz|words|house)|\/migrations\/|^web\/\.next|next-env/;

/** Attributes and calls whose strings are for machines. */
const machineAttributes =
  /^(className|id|type|name|href|key|role|htmlFor|method|action|autoComplete|inputMode|pattern|accept|rel|target|fill|stroke|d|viewBox|dataKey|xmlns|step|min|max|size|variant|tone|side|anchor|as|scope|unit|mode|kind|place|data-.*|aria-(?!label|description|valuetext|roledescription).*)$/;
const machineCalls =
  /(^|\.)(require|import|raw|joinRaw|from|where\w*|orWhere\w*|join|leftJoin|select|orderBy\w*|groupBy\w*|table|into|returning|querySelector\w*|getElementById|addEventListener|removeEventListener|matchMedia|setAttribute|getAttribute|startsWith|endsWith|includes|split|createElement|setHeader|append|header|revalidatePath|RegExp|cn|clsx|classes|q|onConflict|pluck|countDistinct|on|off|emit|once|closest|mark|measure|localStorage\.\w+|sessionStorage\.\w+)$/;
const styles = /^(?:[\w[\]().%/:*!#&>~,'"=+-]+\s+)*[\w[\]().%/:*!#&>~,'"=+-]*$/;
const looksLikeStyle = (text) =>
  styles.test(text) &&
  text
    .split(/\s+/)
    .filter((w) =>
      /^(?:[a-z-]+:)*-?[a-z]+(?:-[\w.[\]/%#]+)+$|^(flex|grid|block|hidden|relative|absolute|card|field|button|font-\w+|sr-only|truncate)$/.test(
        w,
      ),
    ).length *
    2 >=
    text.split(/\s+/).length;
const sql =
  /^\s*\(?(select|insert|update|delete|create|drop|alter|with|lock|grant|set|begin|analyze|truncate|order by|set_config|pg_|now\(\))\b/i;

/** Whether a text is for people: some words, or one word that begins with a capital. */
function isForPeople(text, isJsx) {
  const plain = text.replaceAll('{}', ' ').trim();
  if (!/[A-Za-z]{2}/.test(plain)) return false;
  if (isJsx) return true;
  if (sql.test(text) || looksLikeStyle(plain) || /^use (client|server)$/.test(plain)) return false;
  if (/\s/.test(plain)) return /[a-z]{2}/i.test(plain);
  return /^[A-Z][a-z]+[.:…]?$/.test(plain) && !machineWords.has(plain);
}
const machineWords = new Set([
  'Content',
  'Accept',
  'Escape',
  'Enter',
  'Tab',
  'Backspace',
  'Delete',
  'Home',
  'End',
  'Host',
  'Origin',
  'Cookie',
  'Location',
  'Date',
  'Etag',
  'Float',
  'Infinity',
  'Error',
  'Bearer',
  'Authorization',
]);

function textsOf(file, text) {
  const source = ts.createSourceFile(
    file,
    text,
    ts.ScriptTarget.Latest,
    true,
    file.endsWith('x') ? ts.ScriptKind.TSX : ts.ScriptKind.TS,
  );
  const found = [];
  const add = (node, value, isJsx = false) => {
    const clean = value.replace(/\s+/g, ' ').trim();
    if (isForPeople(clean, isJsx) || isJsx)
      if (/[A-Za-z]{2}/.test(clean.replaceAll('{}', '')))
        found.push({
          line: source.getLineAndCharacterOfPosition(node.getStart()).line + 1,
          text: clean,
          isLabel: isLabel(node),
        });
  };
  const isMachine = (node) => {
    for (let at = node, up = node.parent; up; at = up, up = up.parent) {
      if (ts.isImportDeclaration(up) || ts.isExportDeclaration(up) || ts.isTypeNode(up) || ts.isLiteralTypeNode(up))
        return true;
      if (ts.isJsxAttribute(up)) return machineAttributes.test(up.name.getText());
      if (ts.isPropertyAssignment(up) && up.name === at) return !/\s/.test(node.text ?? '');
      if (ts.isPropertyAssignment(up) && /^(className|id|method|type|path|key|file|from)$/.test(up.name.getText()))
        return true;
      if (ts.isElementAccessExpression(up)) return true;
      if (ts.isBinaryExpression(up) && /^(===|!==|==|!=|in)$/.test(up.operatorToken.getText())) return true;
      if (ts.isCaseClause(up) && up.expression === at) return true;
      if (ts.isTaggedTemplateExpression(up)) return true;
      if (ts.isCallExpression(up) && up.arguments.includes(at))
        return machineCalls.test(up.expression.getText().replace(/\s+/g, ''));
      if (ts.isStatement(up) || ts.isArrowFunction(up)) return false;
    }
    return false;
  };
  const templateText = (node) => node.head.text + node.templateSpans.map((s) => `{}${s.literal.text}`).join('');
  const inline = /^(b|strong|em|i|span|code|kbd|a|Link|abbr|time|small|sup|sub|Key|Kbd|output)$/;
  const jsxText = (children) =>
    children
      .map((c) =>
        ts.isJsxText(c)
          ? c.text
              .replace(/^\s*\n\s*|[\t\x0b\f\r \xa0\u1680\u2000-\u200a\u2028\u2029\u202f\u205f\u3000\ufeff]*\n\s*$/g, '')
              .replace(/\s+/g, ' ')
          : ts.isJsxExpression(c)
            ? c.expression && ts.isStringLiteralLike(c.expression)
              ? c.expression.text
              : '{}'
            : ts.isJsxElement(c) && inline.test(c.openingElement.tagName.getText())
              ? jsxText(c.children)
              : '\n{}\n',
      )
      .join('');
  const visit = (node, isInText) => {
    let within = false;
    if (ts.isJsxElement(node) || ts.isJsxFragment(node)) {
      const hasText = node.children.some((c) => ts.isJsxText(c) && /[A-Za-z]/.test(c.text));
      if (hasText && !isInText) {
        const whole = jsxText(node.children)
          .split('\n{}\n')
          .map((s) => s.trim());
        for (const piece of whole) add(node, piece, true);
      }
      within = hasText || isInText;
      node.children.forEach((c) => {
        const goesOn = ts.isJsxElement(c) && inline.test(c.openingElement.tagName.getText()) && within;
        visit(c, goesOn);
      });
      if (ts.isJsxElement(node)) visit(node.openingElement, false);
      return;
    }
    if (ts.isJsxText(node)) return;
    if (
      ts.isPropertyAccessExpression(node) &&
      /^to(Locale)?LowerCase$/.test(node.name.text) &&
      isName(node.expression) &&
      !isCompared(node)
    )
      lowered.push(`${file}:${source.getLineAndCharacterOfPosition(node.getStart()).line + 1}`);
    if (ts.isStringLiteral(node) || ts.isNoSubstitutionTemplateLiteral(node)) {
      if (!isMachine(node)) add(node, node.text, ts.isJsxAttribute(node.parent));
      return;
    }
    if (ts.isTemplateExpression(node)) {
      if (!isMachine(node)) add(node, templateText(node));
      node.templateSpans.forEach((s) => visit(s.expression, false));
      return;
    }
    ts.forEachChild(node, (c) => visit(c, false));
  };
  visit(source, false);
  return found;
}

/** Where code writes a name in small letters. */
const lowered = [];
const isName = (of) =>
  (ts.isPropertyAccessExpression(of) && /^(name|label|model|circuitName)$/.test(of.name.text)) ||
  (ts.isElementAccessExpression(of) && /Names$|Types$/.test(of.expression.getText()));
/** Small letters to compare with, or as a key: no one reads them. */
function isCompared(node) {
  for (let up = node.parent; up && !ts.isStatement(up); up = up.parent) {
    if (ts.isJsxExpression(up) || ts.isTemplateSpan(up)) return false;
    if (ts.isBinaryExpression(up) && /^[=!]==?$/.test(up.operatorToken.getText())) return true;
    if (ts.isCallExpression(up) && /\.(includes|startsWith|has|get|set)$/.test(up.expression.getText())) return true;
    if (ts.isVariableDeclaration(up)) return true;
  }
  return false;
}

/** Whether a text is a button, a heading, or what a field is called. */
function isLabel(node) {
  if (ts.isJsxElement(node))
    return /^(button|h[1-6]|th|label|summary|Link|legend)$/.test(node.openingElement.tagName.getText());
  return ts.isJsxAttribute(node.parent) && /^(label|title|aria-label)$/.test(node.parent.name.getText());
}

/** Everything that can be read, in the order of the files. */
export function readableTexts(part = '') {
  const files = execFileSync('git', ['ls-files'], { cwd: root, encoding: 'utf8' })
    .split('\n')
    .filter((f) => rooms.test(f) && !notRead.test(f) && f.includes(part));
  return files.flatMap((f) => textsOf(f, readFileSync(join(root, f), 'utf8')).map((t) => ({ ...t, file: f })));
}

/** Sentences in the data beside the code: names of proofs and steps, lessons, what a pattern warns of. */
function dataTexts(part) {
  const files = execFileSync('git', ['ls-files', 'core/src/*.json', 'web/**/*.json', 'instruments/src/*.json'], {
    cwd: root,
    encoding: 'utf8',
  })
    .split('\n')
    .filter((f) => f !== '' && !notWords.test(f) && f.includes(part));
  return files.flatMap((file) => {
    const found = [];
    const look = (value, path) => {
      if (typeof value === 'string' && isForPeople(value, false)) found.push({ file, line: path, text: value });
      else if (typeof value === 'object' && value !== null)
        for (const [key, inside] of Object.entries(value)) look(inside, path === '' ? key : `${path}.${key}`);
    };
    look(JSON.parse(readFileSync(join(root, file), 'utf8')), '');
    return found;
  });
}
const notWords =
  /worlds|digits|twin\/profiles\/|population\/|sample\/|dialect\/|header-names|vocabulary|numbers\.json|tsconfig|package/;

/** Phrases that nobody says, from the table of docs/words.md. */
const forbidden = readFileSync(join(root, 'docs/words.md'), 'utf8')
  .split('## What we do not say')[1]
  .split('\n')
  .flatMap((line) => /^\| (?!Not |-)([^|]+) \|/.exec(line)?.[1].trim() ?? [])
  .map((phrase) => ({
    phrase,
    found: new RegExp(`(?<![\\w-])${phrase.replace(/[.*+?^$()[\]\\]/g, '\\$&')}(?![\\w-])`),
  }));
const maxWords = 20;
/** What a program prints for whoever works on it, sample data, and what is typed rather than read. */
const notSpoken =
  /^scripts\/(?!(serve|backup|restore|people)\.mjs|lib\/)|sample\/|core\/src\/(made-up|sketch)\/|dialect\/|^cli\/src\/command|formats\/(typed|log)\//;

const sentencesOf = (text) => text.split(/(?<=[.!?])(?:\{\})?\s+/);
const wordsOf = (sentence) => sentence.split(/\s+/).filter((w) => /[\p{L}\d{]/u.test(w)).length;

const { checkIds, circuitIds, patternIds } = (await import(join(root, 'core/dist/words/index.js'))).default;
/** Ids of one plain word (`screen`, `pmic`) are words as well; those with a dot or a hyphen are not. */
const ids = [...circuitIds, ...patternIds, ...checkIds].filter(
  (id) => /[.-]/.test(id) && !/^(standby|idle|known-good)-/.test(id),
);
const idsInText = new RegExp(`(?<![\\w.-])(${ids.map((id) => id.replace('.', '\\.')).join('|')})(?![\\w.-])`);

/** Each rule says what is wrong with a text, or nothing. */
const rules = [
  ...forbidden.map(
    ({ phrase, found }) =>
      (text) =>
        found.test(text) && `says "${phrase}"`,
  ),
  (text) => sentencesOf(text).some((s) => wordsOf(s) > maxWords) && `has a sentence of more than ${maxWords} words`,
  (text) => /[a-z]!(\s|$)/.test(text) && 'shouts',
  (text) => /\s/.test(text) && idsInText.test(text) && 'has an id instead of a name',
  (text) => /\S {2,}\S|\s[,;](?:\s|$)|\b(\w{3,}) \1\b/i.test(text) && 'has a space or a word too many',
  (text) =>
    !/battery \d|usb-c|dc-in|prompt|hold|such as|coil\d|@\d|loop \d/.test(text) &&
    /(?<![\w.-])\d+(\.\d+)?(mA|A|V|mV|W|Ω|ms|kHz|Hz)\b/.test(text) &&
    'has a unit without a space',
];

/** What breaks a rule: on screens and in the terminal, and in the documents where phrases alone are looked at. */
function broken() {
  const spoken = texts.filter(({ file }) => !notSpoken.test(file));
  const found = spoken.flatMap(({ file, line, text }) =>
    rules.flatMap((rule) => {
      const why = rule(text);
      return why ? [`${file}:${line}: ${why}: ${text}`] : [];
    }),
  );
  found.push(...lowered.map((place) => `${place}: code changes the case of a name`));
  const papers = execFileSync('git', ['ls-files', 'README.md', 'CONTRIBUTING.md', 'docs/*.md'], {
    cwd: root,
    encoding: 'utf8',
  })
    .split('\n')
    .filter((f) => f !== '' && !/decisions\/|words\.md/.test(f));
  for (const file of papers)
    readFileSync(join(root, file), 'utf8')
      .split('\n')
      .forEach((text, k) => {
        for (const { phrase, found: says } of forbidden)
          if (says.test(text.replace(/`[^`]*`/g, ''))) found.push(`${file}:${k + 1}: says "${phrase}"`);
      });
  return found;
}

const { values, positionals } = parseArgs({
  allowPositionals: true,
  options: {
    check: { type: 'boolean' },
    count: { type: 'boolean' },
    labels: { type: 'boolean' },
    draw: { type: 'string' },
    seed: { type: 'string', default: '1' },
  },
});
const part = positionals[0] ?? '';
const texts = [...readableTexts(part), ...dataTexts(part)];
const line = ({ file, line: at, text }) => `${file}:${at}\t${text}`;

if (values.check) {
  const found = broken();
  for (const what of found) say(what);
  say(`${texts.length} texts read; ${found.length} break a rule of docs/words.md.`);
  if (found.length > 0) process.exitCode = 1;
} else if (values.count) {
  say(`${texts.length} texts, ${new Set(texts.map((t) => t.text)).size} of them different`);
} else if (values.labels) {
  for (const t of texts) if (t.isLabel && wordsOf(t.text) > 3) say(line(t));
} else if (values.draw !== undefined) {
  const random = seeded(Number(values.seed));
  const pool = texts.filter((t) => !notSpoken.test(t.file));
  for (let k = 0; k < Number(values.draw); k++) say(line(pool[Math.floor(random() * pool.length)]));
} else for (const t of texts) say(line(t));

/** Chance that is the same for the same seed. */
function seeded(seed) {
  let state = seed;
  return () => {
    state = (state * 1_103_515_245 + 12_345) % 2 ** 31;
    return state / 2 ** 31;
  };
}
