import { execFile, execFileSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import {
  bareCase,
  circuitIds,
  describe as describeRun,
  deviceClasses,
  feeds,
  packageFiles,
  packSignature,
  parseCase,
  readTypedRun,
  shippedPopulations,
  signatureOf,
  writeZip,
  type Assessment,
} from '@umbral/core';
import { umbral as command } from './command.ts';

const program = join(__dirname, '..', 'bin', 'umbral.js');
const folder = mkdtempSync(join(tmpdir(), 'umbral-cli-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Ran {
  code: number;
  out: string;
  err: string;
}

/** A command line in this process: the engine is started once for all of them. */
async function umbral(...args: string[]): Promise<Ran> {
  const said = { out: '', err: '' };
  const spies = (['stdout', 'stderr'] as const).map((name, k) =>
    jest.spyOn(process[name], 'write').mockImplementation((text) => {
      said[k === 0 ? 'out' : 'err'] += String(text);
      return true;
    }),
  );
  try {
    return { code: await command(args), ...said };
  } finally {
    for (const spy of spies) spy.mockRestore();
  }
}

/** A command line as a terminal runs it. */
const spawned = (...args: string[]): Promise<Ran> =>
  new Promise((resolve) => {
    execFile(process.execPath, [program, ...args], { maxBuffer: 1 << 26 }, (error, out, err) =>
      resolve({ code: typeof error?.code === 'number' ? error.code : error ? 1 : 0, out, err }),
    );
  });

const json = async (...args: string[]): Promise<Assessment> => {
  const ran = await umbral(...args, '--json');
  expect(ran).toMatchObject({ code: 0, err: '' });
  return JSON.parse(ran.out) as Assessment;
};

const file = (name: string, content: string): string => {
  const path = join(folder, name);
  mkdirSync(join(path, '..'), { recursive: true });
  writeFileSync(path, content);
  return path;
};

const rows = (f: (t: number) => string, seconds = 40): string =>
  `t_s,voltage_V,current_A\n${Array.from({ length: seconds * 20 }, (_, k) => f(k / 20)).join('\n')}\n`;
const minimal = {
  format: 'umbral-case/1',
  device: { class: 'phone' },
  runs: [{ id: 'r1', feed: 'battery', file: 'runs/r1.csv' }],
};
const log = rows((t) => `${t},4,${t < 4 ? 0.001 : 0.33}`, 12);

function packageFolder(name: string, caseJson: unknown = minimal): string {
  file(`${name}/case.json`, typeof caseJson === 'string' ? caseJson : JSON.stringify(caseJson));
  file(`${name}/runs/r1.csv`, log);
  file(`${name}/datapackage.json`, '{"resources":[]}');
  return join(folder, name);
}

beforeAll(() => {
  execFileSync(process.execPath, [
    join(__dirname, '../../node_modules/typescript/bin/tsc'),
    '-b',
    '--noCheck',
    join(__dirname, '..'),
  ]);
}, 120_000);

test('as a program: the exit code, and only JSON on standard output', async () => {
  const known = await spawned('assess', packageFolder('program'), '--json');
  expect(known).toMatchObject({ code: 0, err: '' });
  expect((JSON.parse(known.out) as Assessment).format).toBe('umbral-assessment/1');
  expect(await spawned('assess', join(folder, 'nowhere'))).toMatchObject({ code: 1, out: '' });
  expect(await spawned('assess', '--loud')).toMatchObject({ code: 2, out: '' });
});

describe('assess', () => {
  test('the answer has every key, and only JSON on standard output', async () => {
    const a = await json('assess', packageFolder('plain'));
    expect(Object.keys(a)).toEqual(['format', 'engine', 'runs', 'circuits', 'now', 'state', 'next', 'warnings']);
    expect(a.format).toBe('umbral-assessment/1');
    expect(Object.keys(a.runs[0]).sort()).toEqual(['id', 'markers', 'pattern', 'segments', 'summary', 'warnings']);
    expect(Object.keys(a.runs[0].summary)).toEqual(['rows', 'firstS', 'lastS', 'meanA', 'maxA', 'meanV']);
    expect(a.runs[0].summary).toMatchObject({ rows: 240, firstS: 0 });
    expect(Object.keys(a.runs[0].segments[0]).sort()).toEqual([
      'duty',
      'kind',
      'meanA',
      'meanV',
      'periodS',
      'spreadA',
      't0',
      't1',
      'watts',
    ]);
    expect(Object.keys(a.circuits[0]).sort()).toEqual(['evidence', 'id', 'p', 'target']);
    expect(Object.keys(a.next[0])).toEqual(
      expect.arrayContaining([
        'kind',
        'check',
        'action',
        'bits',
        'minutes',
        'depth',
        'predicts',
        'why',
        'where',
        'mode',
        'protocol',
        'circuit',
      ]),
    );
    expect(a.now.map((n) => n.id).sort()).toEqual(['other-fault', 'same-fault', 'works']);
    for (const list of [a.circuits, a.now, a.runs[0].pattern]) {
      expect(list.reduce((sum, x) => sum + x.p, 0)).toBeGreaterThan(0.97);
      for (let k = 1; k < list.length; k++) expect(list[k].p).toBeLessThanOrEqual(list[k - 1].p);
    }
    for (const c of a.circuits) expect(circuitIds).toContain(c.id);
  });

  test('every class and feed gets an answer from a log', async () => {
    const path = file('any.csv', log);
    for (const deviceClass of deviceClasses)
      for (const feed of feeds)
        expect((await json('assess', path, '--feed', feed, '--class', deviceClass)).circuits.length).toBeGreaterThan(5);
  }, 60_000);

  test.each([
    ['a sine', rows((t) => `${t},4,${(0.5 + 0.4 * Math.sin((2 * Math.PI * t) / 5)).toFixed(3)}`)],
    ['a ramp that never ends', rows((t) => `${t},4,${(0.02 * t).toFixed(4)}`)],
  ])('unmodelled wins on nonsense: %s', async (name, content) => {
    for (const feed of feeds) {
      const a = await json('assess', file(`${name}.csv`, content), '--feed', feed, '--class', 'phone');
      expect(a.circuits[0].id).toBe('unmodelled');
    }
  });

  test.each([
    ['a blank log', 't_s,voltage_V,current_A\n'],
    ['a log of absent values', rows((t) => `${t},,`)],
  ])('refused: %s', async (name, content) => {
    const { code, err } = await umbral('assess', file(`${name}.csv`, content), '--feed', 'battery', '--class', 'phone');
    expect(code).toBe(1);
    expect(err).toMatch(/the log has no usable reading/);
  });

  test('typed lines are runs', async () => {
    const a = await json(
      'assess',
      '--typed',
      'usb-c port 1: 5V 0.055 hold',
      '--typed',
      'usb-c port 1 flipped: 5V 55mA hold',
      '--class',
      'laptop',
    );
    expect(a.runs.map((r) => r.pattern[0].id)).toEqual(['unraised-low', 'unraised-low']);
  });

  test('people get words', async () => {
    const { out, code } = await umbral('assess', '--typed', 'battery 4V limit 2A: limit', '--class', 'phone');
    expect(code).toBe(0);
    expect(out).toMatch(/In current limit from the start/);
    expect(out).toMatch(/Main system rail \(rail\.main\)/);
  });

  test('a zip reads like its folder', async () => {
    const { trace } = readTypedRun('battery 4V: 0 | prompt 0.33 hold', 'r1');
    const bytes = await writeZip(packageFiles(parseCase(minimal).case!, () => ({ blocks: [trace], startedAt: null })));
    const path = join(folder, 'case.zip');
    writeFileSync(path, bytes);
    expect((await json('assess', path)).runs[0].summary.rows).toBe(trace.t.length);
  });

  test('instrument and reduction do not bend the figures', async () => {
    const calibrated = { ...minimal, runs: [{ ...minimal.runs[0], instrument: { gainA: 1.1, offsetA: 0.01 } }] };
    const a = await json('assess', packageFolder('calibrated', calibrated));
    expect(a.runs[0].summary.maxA).toBeCloseTo((0.33 - 0.01) / 1.1, 5);
  });

  test('no class is said, and wide', async () =>
    expect((await json('assess', '--typed', 'battery 4V: 0')).warnings.join()).toMatch(/the class "other" was used/));
});

describe('exit codes', () => {
  const cases: [string, () => string[], number, RegExp][] = [
    ['no such path', () => ['assess', join(folder, 'nowhere')], 1, /nowhere: there is no such file or folder/],
    [
      'a file that is no log',
      () => ['assess', file('letter.txt', 'Dear bench,\nmend it.\n'), '--feed', 'battery'],
      1,
      /letter\.txt: this is not a log/,
    ],
    [
      'a package with a slip',
      () => ['assess', packageFolder('slip', { ...minimal, device: { class: 'toaster' } })],
      1,
      /case\.json: device\.class: expected one of/,
    ],
    [
      'a typed slip',
      () => ['assess', '--typed', 'battery 4V: 3s'],
      1,
      /typed line 1: column 13: 3s|typed line 1: column 13/,
    ],
    ['a log without a feed', () => ['assess', file('x.csv', log)], 2, /needs --feed/],
    ['an unknown option', () => ['assess', '--loud'], 2, /loud/],
    ['an unknown feed', () => ['assess', file('x.csv', log), '--feed', 'steam'], 2, /"steam" is not known/],
    ['no path', () => ['assess'], 2, /needs a PATH/],
    ['both a path and a line', () => ['assess', 'x', '--typed', 'battery 4V: 0'], 2, /not both/],
    ['an unknown command', () => ['divine', 'x'], 2, /not a command/],
    ['nothing', () => [], 2, /^$/],
  ];
  test.each(cases)('%s', async (_, args, code, message) => {
    const ran = await umbral(...args());
    expect(ran.code).toBe(code);
    expect(ran.err).toMatch(message);
    if (code === 1) expect(ran.out).toBe('');
  });
});

describe('validate', () => {
  test('a sound package says nothing and exits 0', async () =>
    expect(await umbral('validate', packageFolder('sound'))).toEqual({ code: 0, out: '', err: '' }));
  test('findings stand one a line', async () => {
    const ran = await umbral(
      'validate',
      packageFolder('unsound', {
        ...minimal,
        complaintKind: 'sad',
        checks: [{ id: 'smell', outcome: 'x' }],
        runs: [{ ...minimal.runs[0], setup: { limitA: -1 } }],
      }),
    );
    expect(ran.code).toBe(1);
    const lines = ran.out.trim().split('\n');
    expect(lines).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^error case\.json: complaintKind: expected one of/),
        expect.stringMatching(/^error case\.json: runs\[0\]\.setup\.limitA: must be above 0/),
      ]),
    );
  });
  test('warnings alone exit 0', async () => {
    const ran = await umbral(
      'validate',
      packageFolder('warned', { ...minimal, checks: [{ id: 'smell', outcome: 'x' }] }),
    );
    expect(ran.code).toBe(0);
    expect(ran.out).toMatch(
      /^warning case\.json: checks\[0\]\.id: "smell" is not a known check; saved but not used\n$/,
    );
  });
  test('a link in a folder is refused, also as a folder on the way', async () => {
    const path = packageFolder('linked');
    rmSync(join(path, 'runs'), { recursive: true });
    const outside = join(folder, 'outside');
    mkdirSync(outside, { recursive: true });
    writeFileSync(join(outside, 'r1.csv'), log);
    symlinkSync(outside, join(path, 'runs'));
    const ran = await umbral('validate', path);
    expect(ran.code).toBe(1);
    expect(ran.out).toMatch(/"runs\/r1\.csv" is a link; expected a file/);
  });
  test('a log is looked at too', async () =>
    expect((await umbral('validate', file('plain.csv', 't,V,I\n0,5,0.1\n1,5,0.2\n'))).out).toMatch(
      /^warning plain\.csv: /,
    ));
});

describe('simulate', () => {
  test('writes a package that assess reads, and the fault comes out on top', async () => {
    const out = join(folder, 'simulated');
    const made = await umbral(
      'simulate',
      '--profile',
      'tallgate-moorcall-2',
      '--fault',
      'mute:radio-chip',
      '--setup',
      'battery 4V limit 3A 40s',
      '--setup',
      'usb-c port 1',
      '--out',
      out,
    );
    expect(made).toMatchObject({ code: 0, err: '' });
    expect(made.out).toMatch(/radio: does not answer/);
    const a = await json('assess', out);
    expect(a.runs.map((r) => r.pattern[0].id)[0]).toBe('restart-loop');
    expect(a.circuits.slice(0, 3).map((c) => c.id)).toContain('radio');
    expect(a.circuits.find((c) => c.id === 'radio')?.target).toBe('radio');
    expect((await umbral('validate', out)).code).toBe(0);
  });
  test('the same seed writes the same samples', async () => {
    const written: string[] = [];
    for (const seed of [1, 1, 2]) {
      const out = join(folder, `seeded-${written.length}`);
      await umbral('simulate', '--profile', 'generic-phone', '--seed', String(seed), '--out', out);
      written.push(readFileSync(join(out, 'runs', '01-r1.csv'), 'utf8'));
    }
    const [a, b, c] = written;
    expect(a).toBe(b);
    expect(a).not.toBe(c);
  });
  test.each([
    [['--profile', 'generic-phone'], 2, /needs --out/],
    [['--profile', 'nobody', '--out', 'x'], 1, /neither a shipped profile/],
    [['--profile', 'generic-phone', '--fault', 'short:nowhere', '--out', 'x'], 2, /"nowhere" is not an element/],
    [['--profile', 'generic-phone', '--setup', 'dc-in 19V', '--out', 'x'], 2, /has no DC input/],
    [['--profile', 'generic-phone', '--setup', 'battery 47mAh', '--out', 'x'], 2, /mAh/],
    [['--profile', 'generic-phone', '--setup', 'usb-c port zero', '--out', 'x'], 2, /the number of a port/],
  ])('%j is refused', async (args, code, message) => {
    const ran = await umbral('simulate', ...args);
    expect(ran.code).toBe(code);
    expect(ran.err).toMatch(message);
  });
  test('validate reads a population of devices, and names the path of what is wrong in one', async () => {
    const [population] = shippedPopulations;
    const few = { ...population, devices: 2 };
    expect((await umbral('validate', file('sound-population.json', JSON.stringify(few)))).code).toBe(0);
    const [first, ...others] = few.alternatives;
    const wrong = { ...few, alternatives: [{ ...first, options: first.options.slice(1) }, ...others] };
    const ran = await umbral('validate', file('wrong-population.json', JSON.stringify(wrong)));
    expect(ran.code).toBe(1);
    expect(ran.out).toMatch(/error.*alternatives\[0\]\.options.*sum to/);
  });
  test('the text says what is known of a model without a profile, the JSON has no key for it', async () => {
    const args = ['assess', '--typed', 'battery 7.6V limit 3A: 0 | prompt 0.1 hold', '--class', 'laptop'];
    expect((await umbral(...args)).out).toMatch(/Device: .*two cells \(\d+ %\)/);
    expect(Object.keys(JSON.parse((await umbral(...args, '--json')).out) as object)).not.toContain('device');
  });
  test('validate names the path of what is wrong in a profile', async () => {
    const path = file(
      'bad-profile.json',
      JSON.stringify({
        format: 'umbral-profile/1',
        id: 'x',
        class: 'phone',
        rails: [{ id: 'a', nominalV: -1, state: 'run', circuit: 'rail.run' }],
      }),
    );
    const ran = await umbral('validate', path);
    expect(ran.code).toBe(1);
    expect(ran.out).toMatch(/error bad-profile\.json.*rails\[0\]\.nominalV/);
  });
});

describe('a terminal is never given what it would act on', () => {
  test('names and texts of a package are shown, not obeyed', async () => {
    const evil = {
      ...minimal,
      device: { class: 'phone', model: '\u001b[2J\u001b]0;owned\u0007' },
      complaint: '\u009b31m\u202e',
    };
    const at = packageFolder('evil', evil);
    writeFileSync(join(at, 'runs', 'r1.csv'), log.replace('current_A', 'current_A,\u001b[31mnote'));
    for (const args of [
      ['assess', at],
      ['assess', at, '--explain'],
      ['assess', at, '--json'],
      ['validate', at],
    ]) {
      const { out, err } = await umbral(...args);
      expect(out + err).not.toMatch(/[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u202a-\u202e]/);
    }
  });
  test('nor what was typed', async () => {
    const { err } = await umbral('\u001b[31mdance\u0007');
    expect(err).toContain('"\ufffd[31mdance\ufffd" is not a command');
  });
});

describe('speaking to a server', () => {
  test('says what is missing, and that nobody is there', async () => {
    expect(await umbral('--json')).toMatchObject({ code: 2 });
    expect((await umbral()).out).toContain('umbral assess');
    expect((await umbral('pull', '3')).err).toContain('--server: expected an address');
    expect((await umbral('push', 'x.zip', '--server', 'http://127.0.0.1:1')).err).toContain('--token is missing');
    const access = ['--server', 'http://127.0.0.1:1', '--token', 'umbral_x'];
    expect((await umbral('pull', 'three', ...access)).err).toContain('pull needs the number of a JOB');
    const away = await umbral('pull', '3', '--out', join(folder, 'three.zip'), ...access);
    expect(away).toMatchObject({ code: 1 });
    expect(away.err).toContain('cannot be reached');
    expect((await umbral('bench', ...access)).err).toContain('bench needs --name');
  });
});

test('a verdict is explained by circuit, and by hypothesis where a circuit has several', async () => {
  const own = { ...minimal, device: { class: 'phone', model: 'Tallgate Moorcall 2', profile: 'tallgate-moorcall-2' } };
  const { out } = await umbral('assess', packageFolder('explained', own), '--explain');
  const [circuits, hypotheses] = out.split('Weight for a hypothesis against the others');
  expect(circuits).toContain('Weight of each observation for a circuit against the others, in decibans');
  // Each of the numbered names says circuit, element and fault.
  expect(hypotheses).toMatch(/\(1\) [\w.-]+, .+, \w+:/);
  expect(hypotheses).toMatch(/Run r1: /);
  const plain = await umbral('assess', packageFolder('explained-plain', minimal), '--explain');
  expect(plain.out).not.toContain('And of a hypothesis');
});

describe('assess with what a shop remembers', () => {
  const line = 'battery 3.9V limit 3A: 0 | prompt 0.07 0.19 0.12 hold';
  /** Cases of one kind of device that drew as this line does, and turned out to be one circuit. */
  const library = (circuit: string, count: number): string => {
    const { run, trace } = readTypedRun(line, 'r1');
    const signature = signatureOf(run, describeRun(bareCase({ class: 'phone' }, [run]), run, trace, null));
    const known = {
      model: 'Sallow FP-4',
      deviceClass: 'phone',
      circuit,
      element: '',
      part: '',
      cure: 'replaced',
      grade: 'measured',
      weight: 1,
      month: '2026-03',
      runs: [{ run: 'r1', setup: signature.setup, data: Buffer.from(packSignature(signature)).toString('base64') }],
    };
    const lines = Array.from({ length: count }, (_, k) => JSON.stringify({ case: { id: `c${k}`, ...known } }));
    return file(`${circuit}-${count}.jsonl`, `${['{"format":"umbral-library/1"}', ...lines].join('\n')}\n`);
  };
  const of = (a: Assessment, id: string): number => a.circuits.find((c) => c.id === id)?.p ?? 0;

  test('past cases raise the circuit that they had, and never to certainty', async () => {
    const plain = await json('assess', '--typed', line, '--class', 'phone');
    const known = await json('assess', '--typed', line, '--class', 'phone', '--library', library('radio', 100));
    expect(of(known, 'radio')).toBeGreaterThan(of(plain, 'radio'));
    expect(of(known, 'radio')).toBeLessThan(0.97);
  });

  test('a fact that is settled stays settled under a hundred cases of something else', async () => {
    const settled = {
      ...minimal,
      readings: [{ where: 'main', circuit: 'rail.main', mode: 'resistance', value: 0.4, unit: 'ohm', powered: false }],
    };
    const path = packageFolder('settled', settled);
    const [plain, known] = [
      await umbral('assess', path, '--json'),
      await umbral('assess', path, '--json', '--library', library('radio', 100)),
    ];
    const [a, b] = [plain, known].map((ran) => of(JSON.parse(ran.out) as Assessment, 'rail.main'));
    expect(a).toBeGreaterThan(0.8);
    expect(b).toBeGreaterThan(a - 0.05);
  });

  test.each([
    ['{"format":"other/1"}\n', /line 1: is not a library; expected "format": "umbral-library\/1"/],
    ['', /is empty; expected a library/],
    ['{"format":"umbral-library/1"}\n{"case":', /line 2: is not JSON/],
    ['{"format":"umbral-library/1"}\n[]', /line 2: expected a JSON object/],
    ['{"format":"umbral-library/1"}\n{"case":{"circuit":"heart"}}', /line 2: case\.circuit: expected a circuit/],
    [
      '{"format":"umbral-library/1"}\n{"case":{"circuit":"pmic","deviceClass":"phone","grade":"measured","weight":7}}',
      /line 2: case\.weight: expected a number from 0 to 1/,
    ],
    [
      '{"format":"umbral-library/1"}\n{"case":{"circuit":"pmic","deviceClass":"phone","grade":"measured","weight":1,"runs":[null]}}',
      /line 2: case\.runs\[0\]: expected an object/,
    ],
  ])('a library that is none is refused with its line: %j', async (content, says) => {
    const path = file('broken.jsonl', content);
    const ran = await umbral('assess', '--typed', line, '--class', 'phone', '--library', path);
    expect(ran).toMatchObject({ code: 1, out: '' });
    expect(ran.err).toMatch(says);
  });

  test('a library that is missing is said by its name', async () => {
    const ran = await umbral('assess', '--typed', line, '--class', 'phone', '--library', join(folder, 'nothing.jsonl'));
    expect(ran.code).not.toBe(0);
    expect(ran.err).toMatch(/nothing\.jsonl/);
    expect(ran.err).not.toMatch(/ at /);
  });
});
