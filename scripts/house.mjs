// npm run house: how large the house is and where it is untidy. With --check it ends with 1 where a rule is broken.
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { alg, Graph } from '@dagrejs/graphlib';
import { root, say } from './lib/run.mjs';

const listed = execFileSync('git', ['ls-files', '--cached', '--others', '--exclude-standard'], {
  cwd: root,
  encoding: 'utf8',
});
const files = listed.split('\n').filter((name) => name !== '' && existsSync(join(root, name)));
const textOf = new Map(
  files.filter((f) => /\.(tsx?|mjs|cjs|json|md|css)$/.test(f)).map((f) => [f, readFileSync(join(root, f), 'utf8')]),
);
const linesIn = (list) => list.reduce((sum, f) => sum + textOf.get(f).split('\n').length - 1, 0);
const isTest = (f) => /\.(test|spec)\.|\/testing\/|^e2e\//.test(f);
const sources = [...textOf.keys()].filter(
  (f) => /\.(tsx?|mjs|cjs)$/.test(f) && !f.endsWith('.d.ts') && !f.endsWith('.d.cts'),
);
const broken = [];

function sizes() {
  say('lines            code   tests    data');
  for (const place of ['core', 'tools', 'instruments', 'cli', 'front', 'web', 'scripts', 'e2e', '']) {
    const inside = [...textOf.keys()].filter(
      (f) => f.startsWith(place === '' ? '' : `${place}/`) && f !== 'package-lock.json',
    );
    const code = inside.filter((f) => sources.includes(f) || f.endsWith('.css'));
    const row = [code.filter((f) => !isTest(f)), code.filter(isTest), inside.filter((f) => f.endsWith('.json'))];
    say(`${(place || 'all').padEnd(12)} ${row.map((list) => String(linesIn(list)).padStart(7)).join(' ')}`);
  }
}

/** Names that the framework or a tool asks for, whoever imports them. */
const asked =
  /^(default|metadata|viewport|dynamic|revalidate|runtime|config|generateMetadata|GET|POST|PUT|PATCH|DELETE|HEAD|register|onRequestError|up|down)$/;

/** Exports that no other file names; what only tests name counts as well. */
function unusedExports() {
  const words = new Map();
  for (const f of sources) {
    // A barrel passes names on, and uses none.
    const text = textOf.get(f).replace(/export (type )?\{[^}]*\} from [^;]+;/g, '');
    for (const word of new Set(text.match(/[A-Za-z_$][\w$]*/g))) words.set(word, [...(words.get(word) ?? []), f]);
  }
  const found = [];
  for (const f of sources.filter((x) => !isTest(x) && /\.tsx?$/.test(x) && !x.startsWith('web/app/')))
    for (const [, name] of textOf
      .get(f)
      .matchAll(
        /^export (?:async )?(?:const|let|function\*?|class|interface|type|enum|abstract class) ([A-Za-z_$][\w$]*)/gm,
      )) {
      const users = (words.get(name) ?? []).filter((x) => x !== f);
      if (!asked.test(name) && !users.some((x) => !isTest(x)))
        found.push({
          f,
          name,
          inTests: users.length > 0,
          inside: (textOf.get(f).match(new RegExp(`\\b${name.replace('$', '\\$')}\\b`, 'g')) ?? []).length > 1,
        });
    }
  return found;
}

/** Folders whose folders are rooms. */
const houses = ['core/src', 'instruments/src', 'web/features', 'web/server', 'web/server/work', 'web/server/edges'];

/** The file that an import means, among those of the repository; null for a package. */
function fileOfImport(from, path) {
  const target = path.startsWith('.')
    ? join(dirname(from), path)
    : path.startsWith('@/')
      ? join('web', path.slice(2))
      : null;
  if (target === null) return null;
  return [target, `${target}.ts`, `${target}.tsx`].find((x) => textOf.has(x) && /\.tsx?$/.test(x)) ?? null;
}

const importsIn = (f) =>
  [...textOf.get(f).matchAll(/(?:from|import\() ?'([^']+)'/g)].flatMap(([, p]) => fileOfImport(f, p) ?? []);

/** Rooms that depend on each other, directly or around corners. Tests look wherever they like. */
function roomCircles() {
  return houses.flatMap((house) => {
    const roomOf = (f) =>
      f.startsWith(`${house}/`) && f.split('/').length > house.split('/').length + 1
        ? f.slice(house.length + 1).split('/')[0]
        : null;
    const graph = new Graph();
    for (const f of sources.filter((x) => !isTest(x) && roomOf(x) !== null))
      for (const target of importsIn(f)) {
        const [from, to] = [roomOf(f), roomOf(target)];
        if (to !== null && from !== to) graph.setEdge(from, to);
      }
    return alg.findCycles(graph).map((rooms) => `${house}: ${[...rooms].sort().join(', ')} depend on each other`);
  });
}

/** Short files that one other file imports: perhaps no concept of their own. */
function shortWithOneImporter() {
  const importers = new Map();
  for (const f of sources.filter((x) => !isTest(x)))
    for (const name of importsIn(f)) importers.set(name, new Set([...(importers.get(name) ?? []), f]));
  return [...importers]
    .filter(([f, by]) => by.size === 1 && basename(f) !== 'index.ts' && linesIn([f]) < 60)
    .map(([f]) => f);
}

/** Every decision has its state, situation, decision and consequences, and stands in the index. */
function decisions() {
  const index = textOf.get('docs/decisions/README.md') ?? '';
  for (const f of [...textOf.keys()].filter((x) => /^docs\/decisions\/\d/.test(x))) {
    const text = textOf.get(f);
    for (const part of ['Context', 'Decision', 'Consequences'])
      if (!text.includes(`**${part}`)) broken.push(`${f}: has no ${part}`);
    if (!/^\*(In force|In part replaced by|Replaced by)\b.*\d{4}-\d\d-\d\d\.\*/m.test(text))
      broken.push(`${f}: says no state and date`);
    if (!index.includes(`(${basename(f)})`)) broken.push(`${f}: is not in docs/decisions/README.md`);
  }
}

/** Files of a data folder, of a package and of a checkout that documents speak of, and none of the repository. */
const outside = /^(?:package|datapackage|case|umbral|bench-results|manifest|tsconfig)[\w-]*\.json$/;
const isNamed = (path) => outside.test(path) || files.some((name) => name === path || name.endsWith(`/${path}`));

/** What a document points at is there: links, and paths of the repository in code marks. */
function documents() {
  const folders = new Set(
    files.flatMap((f) =>
      f
        .split('/')
        .slice(0, -1)
        .map((_, k, all) => all.slice(0, k + 1).join('/')),
    ),
  );
  for (const f of [...textOf.keys()].filter((x) => x.endsWith('.md'))) {
    for (const [, link] of textOf.get(f).matchAll(/\]\((?!https?:|#|mailto:)([^)#\s]+)/g)) {
      const path = join(dirname(f), link);
      if (!files.includes(path) && !folders.has(path.replace(/\/$/, ''))) broken.push(`${f}: ${link} is not there`);
    }
    // A file is named from the root, or by the end of its path.
    for (const [, path] of textOf.get(f).matchAll(/`([\w[\].-]+(?:\/[\w[\].-]+)*\.(?:tsx?|mjs|cjs|json|md))`/g))
      // What was decided may be about what is gone since.
      if (
        !isNamed(path) &&
        (!f.includes('/decisions/') || files.some((name) => name.startsWith(`${path.split('/')[0]}/`)))
      )
        broken.push(`${f}: ${path} is not there`);
  }
}

sizes();
decisions();
documents();
const unused = unusedExports();
const circles = roomCircles();
const oneWord = sources
  .filter((f) => !isTest(f))
  .flatMap((f) => [...textOf.get(f).matchAll(/^export (?:async )?function ([a-z]+)\(/gm)].map((m) => `${f}: ${m[1]}`));
const short = shortWithOneImporter();
for (const { f, name, inTests } of unused)
  if (!inTests) broken.push(`${f}: nothing else uses "${name}"; do not export it, or take it out`);
broken.push(...circles);
const long = sources.filter((f) => !isTest(f) && linesIn([f]) > 300);
say(`\nexports that nothing else uses: ${unused.length}; circles of rooms: ${circles.length}`);
say(
  `exported functions named by one word: ${oneWord.length}; files under 60 lines with one importer: ${short.length}; over 300 lines: ${long.length}`,
);
if (process.argv.includes('--list')) {
  for (const { f, name, inTests, inside } of unused)
    say(`unused export  ${f}  ${name}${inTests ? ', in tests' : ''}${inside ? ', inside' : ''}`);
  for (const f of short) say(`one importer  ${f}`);
  for (const f of long) say(`over 300 lines  ${f}`);
  for (const f of oneWord) say(`one word  ${f}`);
}
for (const what of broken) say(`broken: ${what}`);
if (process.argv.includes('--check') && broken.length > 0) process.exitCode = 1;
