import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { root } from '../lib/run.mjs';

/** What breaks programs: numbers at their ends, texts that mean something elsewhere, and much of everything. */
const odd = fc.oneof(
  { weight: 4, arbitrary: fc.constantFrom(0, -1, 1, 1.5, 1e308, -1e308, 2 ** 31, 2 ** 53, 1e-320, null, true, false) },
  { weight: 3, arbitrary: fc.string({ maxLength: 40, unit: 'binary' }) },
  {
    weight: 3,
    arbitrary: fc.constantFrom(
      '',
      '\0',
      '__proto__',
      '$F1',
      '$1',
      '$@0',
      '../../etc',
      "';--",
      '<b>',
      '%00',
      '＝1',
      '47 mA',
      '1e999 V',
      '2026-02-30',
      'NaN',
    ),
  },
  { weight: 1, arbitrary: fc.constant('x'.repeat(50_000)) },
  { weight: 1, arbitrary: fc.array(fc.constant([]), { maxLength: 5 }) },
);
const keys = fc.constantFrom(
  'jobId',
  'id',
  'version',
  'text',
  'check',
  'outcome',
  'note',
  'where',
  'circuit',
  'kind',
  'target',
  'runId',
  'feed',
  'setup',
  'setV',
  'limitA',
  'port',
  'markers',
  't',
  'event',
  'label',
  'deviceClass',
  'model',
  'intake',
  'expect',
  'mode',
  'value',
  'unit',
  'name',
  'password',
  'pin',
  'scopes',
  'role',
  'instrument',
  'key',
  'on',
  'recording',
  'bounds',
  'stage',
  'after',
  'minutes',
  'kept',
  'value',
  'personId',
  'profileId',
  'basedOn',
  'shares',
  'percent',
  'rail',
  '__proto__',
  'constructor',
);
const value = fc.letrec((tie) => ({
  any: fc.oneof(
    { maxDepth: 4, depthIdentifier: 'v' },
    { weight: 5, arbitrary: odd },
    { weight: 2, arbitrary: fc.dictionary(keys, tie('any'), { maxKeys: 8, depthIdentifier: 'v' }) },
    { weight: 1, arbitrary: fc.array(tie('any'), { maxLength: 6, depthIdentifier: 'v' }) },
  ),
})).any;

/** A text with pieces of it cut, doubled, swapped or replaced. */
const damaged = (text) =>
  fc
    .array(
      fc.record({
        at: fc.double({ min: 0, max: 1, noNaN: true }),
        length: fc.nat(60),
        how: fc.constantFrom('cut', 'double', 'replace', 'number'),
        by: fc.oneof(
          fc.string({ unit: 'binary', maxLength: 12 }),
          fc.constantFrom('1e999', '-0', ';', '\n', '"', '[[[[', '}', '\t'),
        ),
      }),
      { maxLength: 8 },
    )
    .map((edits) =>
      edits.reduce((now, { at, length, how, by }) => {
        const from = Math.floor(at * now.length);
        const piece = now.slice(from, from + length);
        const put = { cut: '', double: piece + piece, replace: by, number: piece.replace(/\d/g, '9') }[how];
        return now.slice(0, from) + put + now.slice(from + length);
      }, text),
    );

/** @returns what is wrong with an answer; null for one that is as it should be, a refusal in words among them */
async function judged(answer, what) {
  const text = await answer.text();
  if (answer.status >= 500 && answer.status !== 503) return `${answer.status} for ${what}: ${text.slice(0, 200)}`;
  if (answer.status === 422 && /digest/.test(text)) return `no words for ${what}: ${text.slice(0, 200)}`;
  return null;
}

/** Work of our own that may refuse, but not take long nor fail otherwise. */
async function inTime(work, expected, what) {
  const began = performance.now();
  try {
    await work();
  } catch (error) {
    if (!expected.includes(error?.name) && !expected.includes(error?.constructor?.name))
      return `${what}: ${String(error?.stack ?? error).slice(0, 500)}`;
  }
  const ms = performance.now() - began;
  return ms > 1500 ? `${what} took ${Math.round(ms)} ms` : null;
}

/** The actions of the built pages, each with a page that it can be sent to. */
function actionsOf(jobId) {
  const manifest = JSON.parse(readFileSync(join(root, 'web/.next/server/server-reference-manifest.json'), 'utf8'));
  return Object.entries(manifest.node).map(([id, { workers }]) => {
    const page =
      Object.keys(workers).find((w) => /^app\/(jobs\/\[id\]\/)?page$|^app\/[a-z]+\/page$/.test(w)) ??
      Object.keys(workers)[0];
    const path = page
      .replace(/^app/, '')
      .replace(/\/page$/, '')
      .replace('[id]', String(jobId))
      .replace(/\[[a-z]+\]/g, 'x');
    return { id, path: path === '' || path.includes('_not-found') ? '/' : path };
  });
}

/** As many runs as a job has that somebody tries everything on. */
const runsOfJob = 12;

/** Each kind of input: how it is drawn, and what is done with it. */
export async function kindsOf({ url, jobId, newJob, noise }) {
  const core = (await import(join(root, 'core/dist/index.js'))).default;
  const { parseDialect } = (await import(join(root, 'instruments/dist/dialect/index.js'))).default;
  const actions = actionsOf(jobId);
  const bytes = (text) => new TextEncoder().encode(text);
  const post = (path, body, headers = {}) =>
    fetch(url + path, { method: 'POST', body, headers: { 'content-type': 'application/octet-stream', ...headers } });
  const profile = core.profileText(core.shippedProfiles[0]);
  const log = Array.from({ length: 60 }, (_, k) => `${k / 10};${(0.1 * (k % 7)).toFixed(3)};3.80`).join('\n');
  const casePackage = JSON.stringify({
    format: 'umbral-case/1',
    id: 'c1',
    device: { class: 'phone', model: 'm', expect: { startPeakA: 1.2 } },
    intake: { liquid: true },
    runs: [
      {
        id: 'r1',
        feed: 'battery',
        typed: 'battery 3.8V limit 2A: 0 | prompt 0.1 hold',
        setup: { setV: 3.8, limitA: 2 },
        markers: [{ t: 1, event: 'prompt' }],
      },
    ],
    checks: [{ id: 'screen', outcome: 'dark' }],
    readings: [{ where: 'main rail', mode: 'resistance', value: 12, unit: 'ohm' }],
    actions: [{ id: 'a1', kind: 'replace', circuit: 'pmic', target: 'power chip' }],
  });
  const zipOf = (text) => core.writeZip([{ name: 'case.json', content: [Buffer.from(text)] }]);
  // What is damaged below was whole before: else nothing but the first check of all is tried.
  const whole = await post('/api/packages?name=p.zip', await zipOf(casePackage));
  if (!whole.ok) throw new Error(`The package to damage was not taken: ${await whole.text()}`);
  const dialects = ['scpi-usual', 'ascii-plain', 'registers-usual', 'lines-usual', 'frames-usual'].map((id) =>
    readFileSync(join(root, `instruments/src/dialect/data/${id}.json`), 'utf8'),
  );
  const goodEntries = {
    runs: (k) => ({ id: `more${k}`, feed: 'battery', typed: 'battery 3.8V limit 2A: 0 | prompt 0.1 hold' }),
    checks: () => ({ id: 'screen', outcome: 'dark' }),
    readings: (k) => ({ where: `point ${k}`, mode: 'resistance', value: 12, unit: 'ohm' }),
    actions: (k) => ({ id: `a${k}`, kind: 'reflow', circuit: 'pmic', target: 'power chip' }),
    places: (k) => ({ where: `point ${k}`, circuit: 'pmic' }),
    markers: (k) => ({ t: k / 1000, event: 'prompt' }),
  };
  let maps = 0;
  let [logs, logJob] = [0, jobId];
  const shorter = (input) => JSON.stringify(input)?.slice(0, 160);
  return [
    {
      name: 'package',
      input: fc.tuple(damaged(casePackage), fc.uint8Array({ maxLength: 40 })),
      attack: async ([text, tail]) =>
        judged(await post('/api/packages?name=p.zip', Buffer.concat([await zipOf(text), tail])), 'a package'),
    },
    {
      name: 'long package',
      input: fc.record({
        list: fc.constantFrom('runs', 'checks', 'readings', 'injections', 'actions', 'proofs', 'places', 'markers'),
        count: fc.constantFrom(100, 1000, 1001, 10_001, 200_000),
        of: fc.constantFrom('nothing', 'good'),
      }),
      attack: async ({ list, count, of }) => {
        const one = of === 'nothing' ? () => ({}) : (goodEntries[list] ?? (() => ({})));
        // What a bench never makes is worked on for a minute by the engine, on its own thread: not here.
        const entries = Array.from({ length: of === 'good' ? Math.min(count, 100) : count }, (_, k) => one(k));
        const whole = { ...JSON.parse(casePackage), readings: [], checks: [], actions: [] };
        if (list === 'markers') whole.runs[0].markers = entries;
        else whole[list] = list === 'runs' ? [...whole.runs, ...entries] : entries;
        return judged(
          await post('/api/packages?name=p.zip', await zipOf(JSON.stringify(whole))),
          `a package with ${count} ${list}, ${of}`,
        );
      },
    },
    {
      name: 'long action',
      input: fc.record({
        action: fc.nat(actions.length - 1),
        count: fc.constantFrom(400, 5000, 20_000, 150_000),
        of: fc.constantFrom({}, [], 0, null, 'x', { t: 1, event: 'prompt' }),
        key: keys,
      }),
      attack: async ({ action, count, of, key }) => {
        const { id, path } = actions[action];
        const long = Array.from({ length: count }, () => of);
        const lists = ['markers', 'same', 'unplugged', 'values', 'rows', 'points', 'ids', 'pairs', 'entries', 'order'];
        const input = { jobId, runId: 1, version: 1, [key]: long };
        for (const name of lists) input[name] = long.slice(0, Math.floor(count / lists.length));
        for (const args of [[input], [long]])
          if (JSON.stringify(args).length < 1_900_000) {
            const answer = await post(path, JSON.stringify(args), {
              'next-action': id,
              'content-type': 'text/plain;charset=UTF-8',
            });
            const problem = await judged(answer, `action ${id} with ${count} of ${JSON.stringify(of)} as ${key}`);
            if (problem) return problem;
          }
        return null;
      },
    },
    {
      name: 'long map',
      input: fc.record({
        sides: fc.constantFrom(1, 4, 40, 5000),
        points: fc.constantFrom(0, 500, 5000, 20_000),
        good: fc.constantFrom(0, 20_000, 100_000),
        isGood: fc.boolean(),
      }),
      attack: async ({ sides, points, good, isGood }) => {
        const point = (k) =>
          isGood ? { x: (k % 100) / 100, y: 0.1, kind: 'pad', name: `p${k}`, net: `n${k % 50}`, circuit: null } : {};
        const reading = (k) =>
          isGood ? { where: `p${k}`, mode: 'resistance', phase: null, redProbe: 'ground', value: k, ol: false } : {};
        const map = {
          format: 'umbral-board/1',
          model: `m${maps++}`,
          sides: Array.from({ length: sides }, (_, s) => ({
            ...{ revision: `r${s}`, side: 'front', part: '', height: 1 },
            points: Array.from({ length: points > 500 && sides > 4 ? 500 : points }, (_, k) => point(k)),
          })),
          good: Array.from({ length: good }, (_, k) => reading(k)),
        };
        return judged(
          await post('/api/boards', JSON.stringify(map)),
          `a map with ${sides} sides of ${points} points and ${good} readings`,
        );
      },
    },
    {
      name: 'picture',
      input: fc.record({
        width: fc.constantFrom(1, 2, 10, 300, 9000),
        height: fc.constantFrom(1, 2, 10, 300, 9000),
        form: fc.constantFrom('jpeg', 'png', 'webp', 'gif'),
        cut: fc.boolean(),
      }),
      attack: async ({ width, height, form, cut }) => {
        const { default: sharp } = await import('sharp');
        const whole = await sharp({ create: { width, height, channels: 3, background: '#678' } })
          .toFormat(form)
          .toBuffer();
        const body = cut ? whole.subarray(0, Math.floor(whole.length / 2)) : whole;
        const what = `a ${cut ? 'cut ' : ''}${form} of ${width} by ${height}`;
        const query = new URLSearchParams({ model: `pictures ${maps++}`, side: 'front', jobId: String(jobId) });
        const board = await judged(await post(`/api/boards/pictures?${query}`, body), `${what} of a board`);
        return (
          board ??
          judged(await post(`/api/jobs/${jobId}/attachments?name=a.${form}&kind=photo`, body), `${what} of a job`)
        );
      },
    },
    {
      name: 'archive',
      input: fc.tuple(fc.uint8Array({ maxLength: 400 }), fc.boolean()),
      attack: async ([noiseBytes, isZip]) =>
        judged(
          await post(
            '/api/packages?name=p.zip',
            Buffer.concat([Buffer.from(isZip ? 'PK\u0003\u0004' : ''), noiseBytes]),
          ),
          'an archive',
        ),
    },
    {
      name: 'log',
      input: fc.oneof(
        damaged(`t_s;current_A;volts\n${log}`),
        fc.uint8Array({ maxLength: 3000 }).map((b) => Buffer.from(b)),
      ),
      attack: async (body) => {
        if (logs++ % runsOfJob === 0) logJob = await newJob();
        return judged(
          await post(`/api/jobs/${logJob}/runs?name=a.csv&setup=%7B%22feed%22%3A%22battery%22%7D`, body),
          'a log',
        );
      },
    },
    {
      name: 'quick log',
      input: damaged(`t_s,current_A\n${log.replaceAll(';', ',')}`),
      attack: async (body) => judged(await post('/api/read?name=a.csv&feed=usb-c&class=phone', body), 'a quick log'),
    },
    {
      name: 'typed line',
      input: damaged(
        'usb-c port 1 flipped: 5V 55mA hold 3s, then loop 0.4-0.9 A every 2 s; screen dark; main rail 12 ohm',
      ),
      attack: (text) =>
        inTime(() => core.readTypedTogether(text, (k) => `r${k}`), ['FormatError'], `typed ${shorter(text)}`),
    },
    {
      name: 'profile',
      input: fc.oneof(
        damaged(profile),
        value.map((v) => JSON.stringify({ format: 'umbral-profile/1', ...(typeof v === 'object' ? v : {}) })),
      ),
      attack: (text) =>
        inTime(
          () => {
            const { findings } = core.readProfile(bytes(text), 'p.yaml');
            core.linesOfPlaces(
              text,
              findings.map((f) => f.place),
            );
          },
          [],
          'a profile',
        ),
    },
    {
      name: 'dialect',
      input: fc.oneof(...dialects.map(damaged)),
      attack: (text) => inTime(() => parseDialect(text), ['RangeError'], `a dialect ${shorter(text)}`),
    },
    {
      name: 'action',
      input: fc.tuple(fc.nat(actions.length - 1), fc.array(value, { maxLength: 2 })),
      attack: async ([n, args]) => {
        const { id, path } = actions[n];
        const answer = await post(path, JSON.stringify(args), {
          'next-action': id,
          'content-type': 'text/plain;charset=UTF-8',
        });
        return judged(answer, `action ${id} at ${path} with ${shorter(args)}`);
      },
    },
    {
      name: 'recorder',
      input: fc.tuple(
        fc.constantFrom(
          'arm',
          'arm-alone',
          'arm-plan',
          'output',
          'alive',
          'record',
          'stop',
          'average',
          'seen',
          'mark',
          'call',
          'keep',
          'leads',
          'x',
        ),
        fc.oneof(
          value,
          fc.record(
            {
              instrument: fc.constantFrom('noisy-supply', 'noisy-meter', 'none'),
              volts: odd,
              key: odd,
              on: odd,
              jobId: odd,
              setup: value,
            },
            { requiredKeys: ['instrument'] },
          ),
        ),
      ),
      attack: async ([act, body]) =>
        judged(await post(`/api/recorder/${act}`, JSON.stringify(body) ?? ''), `${act} with ${shorter(body)}`),
    },
    {
      name: 'address',
      input: fc.tuple(
        fc.constantFrom(
          '/jobs/',
          '/api/jobs/',
          '/models/',
          '/api/models/',
          '/practice/',
          '/api/attachments/',
          '/atlas?job=',
          '/api/atlas?job=',
          '/notebook?q=',
          '/day?date=',
          '/',
        ),
        fc.oneof(
          fc.string({ maxLength: 30, unit: 'binary' }).map((s) => encodeURIComponent(s.toWellFormed?.() ?? '')),
          fc.constantFrom(
            '%E0%A4%A',
            '%00',
            '-1',
            '1e9',
            '99999999999999999999',
            '1/runs/r1/window?from=1e308&to=-1',
            '1/assessment',
            '1/report?for=x',
          ),
        ),
      ),
      attack: async ([path, rest]) => judged(await fetch(url + path + rest, { redirect: 'manual' }), path + rest),
    },
    {
      name: 'instrument',
      input: fc.array(
        fc.oneof(
          fc.uint8Array({ maxLength: 200 }),
          fc
            .constantFrom('1\n', '9.9E37\n', '0,"No error"\n', '1;2;3\n', '\n\n\n', '5;3.8;0.1\n')
            .map((s) => Buffer.from(s)),
        ),
        { minLength: 1, maxLength: 20 },
      ),
      attack: async (pieces) => {
        let n = 0;
        noise.next = () => Buffer.from(pieces[n++ % pieces.length]);
        await new Promise((resolve) => setTimeout(resolve, 150));
        return null;
      },
    },
  ];
}
