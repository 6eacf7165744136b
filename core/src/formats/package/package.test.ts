import fc from 'fast-check';
import { Uint8ArrayReader, Uint8ArrayWriter, ZipWriter } from '@zip.js/zip.js';
import { circuitIds } from '../../catalogue/index.ts';
import { emptyIntake, plainReading, unknownSetup, type Case } from '../../case/index.ts';
import { unknownInstrument } from '../../trace/index.ts';
import { FormatError } from '../error.ts';
import { readTypedRun } from '../typed/index.ts';
import {
  bytesAccess,
  inspectPackage,
  packageFiles,
  parseCase,
  readJson,
  readPackage,
  sayFinding,
  writeZip,
  zipFiles,
  type PackageFiles,
} from './index.ts';

const encoder = new TextEncoder();
const log = 't_s,voltage_V,current_A\n0,4,0.001\n1,4,0.002\n2,4,0.3\n';

function filesOf(contents: Record<string, string | Uint8Array | 'link'>): PackageFiles {
  return {
    remarks: [],
    stat: (name) =>
      Promise.resolve(
        Object.hasOwn(contents, name) ? { size: contents[name].length, link: contents[name] === 'link' } : null,
      ),
    open: async function* (name) {
      const content = contents[name];
      yield typeof content === 'string' ? encoder.encode(content) : content;
    },
  };
}

const minimal = {
  format: 'umbral-case/1',
  device: { class: 'phone' },
  runs: [{ id: 'r1', feed: 'battery', file: 'runs/r1.csv' }],
};
type Json = Record<string, unknown>;
const inspect = (value: unknown, others: Record<string, string | Uint8Array> = {}) =>
  inspectPackage(
    filesOf({
      'case.json': typeof value === 'string' ? value : JSON.stringify(value),
      'runs/r1.csv': log,
      'datapackage.json': '{"resources":[]}',
      ...others,
    }),
  );
const said = async (value: unknown, others = {}) =>
  (await inspect(value, others)).findings.map((f) => `${f.severity} ${sayFinding(f)}`);

describe('what is accepted', () => {
  test('a run without a reading among others, with a warning', async () => {
    const two = { ...minimal, runs: [...minimal.runs, { id: 'r2', feed: 'battery', file: 'runs/r2.csv' }] };
    const blank = { 'runs/r2.csv': 't_s,voltage_V,current_A\n' };
    expect((await inspect(two, blank)).package?.runs).toHaveLength(2);
    expect((await said(two, blank)).join()).toMatch(/warning runs\/r2\.csv.*The log has no usable reading/);
  });
  test('the least', async () => {
    const { package: found, findings } = await inspect(minimal);
    expect(findings).toEqual([]);
    expect(found?.runs[0].trace.t).toHaveLength(3);
    expect(found?.case.device.class).toBe('phone');
  });
  test('a case of checks alone, and one of readings alone', async () => {
    expect(
      await said({ format: 'umbral-case/1', device: { class: 'other' }, checks: [{ id: 'screen', outcome: 'dark' }] }),
    ).toEqual([]);
    expect(
      await said({
        format: 'umbral-case/1',
        device: { class: 'other' },
        readings: [{ where: 'rail', mode: 'resistance', value: 2, unit: 'ohm', reference: 90 }],
      }),
    ).toEqual([]);
  });
  test.each([
    ['a missing datapackage.json', minimal, { 'datapackage.json': undefined }, /datapackage\.json: is missing/],
    [
      'an unknown check',
      { ...minimal, checks: [{ id: 'smell', outcome: 'smoky' }] },
      {},
      /checks\[0\]\.id: "smell" is not a known check; saved but not used/,
    ],
    [
      'a reading without a reference',
      { ...minimal, readings: [{ where: 'x', mode: 'diode', value: 0.4 }] },
      {},
      /readings\[0\]\.reference: there is no reference/,
    ],
    [
      'a place that is named twice',
      {
        ...minimal,
        places: [
          { where: 'x', circuit: 'rail.run' },
          { where: 'X', circuit: 'rail.main' },
        ],
      },
      {},
      /places\[1\].*later/,
    ],
    [
      'a feed that contradicts its instrument',
      { ...minimal, runs: [{ ...minimal.runs[0], instrument: { kind: 'usb-c-meter' } }] },
      {},
      /runs\[0\]: the feed is battery, but the instrument is a USB-C meter; used as stated/,
    ],
  ])('with a warning: %s', async (_, value, others, expected) => {
    const contents: Record<string, string> = {
      'case.json': JSON.stringify(value),
      'runs/r1.csv': log,
      'datapackage.json': '{"resources":[]}',
      ...others,
    };
    for (const key of Object.keys(contents)) if (contents[key] === undefined) delete contents[key];
    const { package: found, findings } = await inspectPackage(filesOf(contents));
    expect(found).not.toBeNull();
    expect(findings.map((f) => f.severity)).toEqual(['warning']);
    expect(sayFinding(findings[0])).toMatch(expected);
  });
  test('null means the same as left out', async () => {
    const nulls = {
      ...minimal,
      complaint: null,
      intake: null,
      outcome: null,
      runs: [{ ...minimal.runs[0], typed: null, setup: { limitA: null, unplugged: null }, markers: null, after: null }],
    };
    expect(await said(nulls)).toEqual([]);
  });
});

describe('what is refused, with file, path and expectation', () => {
  const run = (change: Json) => ({ ...minimal, runs: [{ ...minimal.runs[0], ...change }] });
  const cases: [string, unknown, RegExp][] = [
    [
      'another version',
      { ...minimal, format: 'umbral-case/2' },
      /^error case\.json: format: is "umbral-case\/2"; expected "umbral-case\/1"/,
    ],
    ['no version', { device: { class: 'phone' } }, /format: is missing/],
    ['a list', [], /expected a JSON object/],
    ['no device', { format: 'umbral-case/1', runs: minimal.runs }, /device: is missing; expected an object/],
    [
      'a class outside its list',
      { ...minimal, device: { class: 'toaster' } },
      /device\.class: expected one of phone, tablet/,
    ],
    ['no class', { ...minimal, device: {} }, /device\.class: is missing/],
    ['a feed outside its list', run({ feed: 'wireless' }), /runs\[0\]\.feed: expected one of battery, usb-c, dc-in/],
    ['a wrong type', run({ setup: { limitA: '3' } }), /runs\[0\]\.setup\.limitA: expected a number/],
    ['a limit of zero', run({ setup: { limitA: 0 } }), /runs\[0\]\.setup\.limitA: must be above 0/],
    ['a negative voltage', run({ setup: { setV: -4 } }), /runs\[0\]\.setup\.setV: must be above 0/],
    ['a gain of zero', run({ instrument: { gainA: 0 } }), /runs\[0\]\.instrument\.gainA: must not be 0/],
    [
      'an event outside its list',
      run({
        markers: [
          { t: 1, event: 'prompt' },
          { t: 2, event: 'bang' },
        ],
      }),
      /runs\[0\]\.markers\[1\]\.event: expected one of output-on/,
    ],
    [
      'a marker without a time',
      run({ markers: [{ event: 'prompt' }] }),
      /runs\[0\]\.markers\[0\]\.t: expected a number of seconds/,
    ],
    [
      'both file and typed',
      run({ typed: 'battery 4V: 0' }),
      /runs\[0\]: both "file" and "typed" are given; expected exactly one/,
    ],
    ['neither file nor typed', run({ file: null }), /runs\[0\]: neither "file" nor "typed" is given/],
    [
      'a typed line with a slip',
      run({ file: null, typed: 'battery 4V: 300mAh' }),
      /runs\[0\]\.typed: column 13: .*charge/,
    ],
    ...['checks', 'readings', 'injections'].map((list): [string, unknown, RegExp] => [
      `an after of ${list} that names no action`,
      {
        ...minimal,
        [list]: [
          { id: 'screen', outcome: 'dark', where: 'x', mode: 'voltage', value: 1, rail: 'x', setV: 1, after: 'a9' },
        ],
      },
      new RegExp(`${list}\\[0\\]\\.after: "a9" is not an action`),
    ]),
    [
      'an undoes that names no action',
      { ...minimal, actions: [{ id: 'a1', kind: 'refit', undoes: 'a7' }] },
      /actions\[0\]\.undoes: "a7" is not an action; expected the id of an earlier action/,
    ],
    [
      'an action that undoes itself',
      { ...minimal, actions: [{ id: 'a1', kind: 'refit', undoes: 'a1' }] },
      /actions\[0\]\.undoes: .*expected the id of an earlier action/,
    ],
    [
      'an action that undoes a later one',
      {
        ...minimal,
        actions: [
          { id: 'a1', kind: 'refit', undoes: 'a2' },
          { id: 'a2', kind: 'remove' },
        ],
      },
      /actions\[0\]\.undoes: "a2" comes later; expected the id of an earlier action/,
    ],
    [
      'a reading across a part with a power state',
      { ...minimal, readings: [{ where: 'x', mode: 'resistance', value: 1, across: true, state: 'S0' }] },
      /readings\[0\]\.across: is true although a power state is given/,
    ],
    [
      'a swing whose low is above its high',
      { ...minimal, readings: [{ where: 'x', mode: 'voltage', value: 1, swing: { low: 3, high: 1 } }] },
      /readings\[0\]\.swing: low 3 is above high 1; expected low up to high/,
    ],
    ['an after that names no action', run({ after: 'a9' }), /runs\[0\]\.after: "a9" is not an action/],
    [
      'twice the same id',
      { ...minimal, runs: [minimal.runs[0], minimal.runs[0]] },
      /runs\[1\]\.id: "r1" is already the id of runs\[0\]/,
    ],
    [
      'an outcome outside its list',
      { ...minimal, checks: [{ id: 'screen', outcome: 'purple' }] },
      /checks\[0\]\.outcome: "purple" is not an outcome of screen; expected one of dark/,
    ],
    [
      'a mode outside its list',
      { ...minimal, readings: [{ where: 'x', mode: 'smell', value: 1 }] },
      /readings\[0\]\.mode: expected one of voltage, diode, resistance/,
    ],
    [
      'a unit that does not fit',
      { ...minimal, readings: [{ where: 'x', mode: 'diode', value: 1, unit: 'ohm', reference: 1 }] },
      /readings\[0\]\.unit: ohm does not fit the mode diode; expected V/,
    ],
    [
      'a value although open line',
      { ...minimal, readings: [{ where: 'x', mode: 'diode', value: 1, ol: true, reference: 1 }] },
      /readings\[0\]\.value: there is a value although "ol" is true/,
    ],
    ['nothing at all', { format: 'umbral-case/1', device: { class: 'phone' } }, /there is nothing to assess/],
    ['an absolute file', run({ file: '/etc/passwd' }), /runs\[0\]\.file: "\/etc\/passwd" is absolute/],
    ['a file on a drive', run({ file: 'C:\\log.csv' }), /is absolute/],
    ['a file that leaves', run({ file: 'runs/../../x.csv' }), /leaves the package/],
    ['a file that is missing', run({ file: 'runs/r7.csv' }), /runs\[0\]\.file: "runs\/r7\.csv" is not in the package/],
    [
      'more than 1,000 runs',
      { ...minimal, runs: Array.from({ length: 1001 }, (_, k) => ({ ...minimal.runs[0], id: `r${k}` })) },
      /runs: too many entries; expected at most 1,000/,
    ],
    [
      'more than 10,000 markers',
      run({ markers: Array.from({ length: 10_001 }, () => ({ t: 0, event: 'note' })) }),
      /10001 markers/,
    ],
    ['numbers where remarks belong', { ...minimal, intake: { heard: [7] } }, /intake\.heard\[0\]: expected text/],
    ['text where a flag belongs', { ...minimal, intake: { liquid: 'yes' } }, /intake\.liquid: expected true or false/],
    ['an unknown grade', { ...minimal, outcome: { grade: 'fine' } }, /outcome\.grade: expected one of measured/],
    [
      'an unknown circuit',
      { ...minimal, actions: [{ id: 'a1', kind: 'replace', circuit: 'flux' }] },
      /actions\[0\]\.circuit: expected one of/,
    ],
    [
      'malformed JSON',
      '{"format": "umbral-case/1",\n "device": }',
      /case\.json: line 2, column \d+: the JSON is malformed/,
    ],
    [
      'a number that is not finite',
      `{"format":"umbral-case/1","device":{"class":"phone","expect":{"idleA":1e999}},"runs":[]}`,
      /device\.expect\.idleA: the number is not finite/,
    ],
    [
      'words and a value in one reading',
      { ...minimal, readings: [{ where: 'x', mode: 'resistance', value: 3, says: 'beep' }] },
      /readings\[0\]\.says: is given together with a value/,
    ],
    [
      'a bound without a value',
      { ...minimal, readings: [{ where: 'x', mode: 'resistance', value: null, bound: 'above' }] },
      /readings\[0\]\.bound: is given without a value/,
    ],
    [
      'words that say nothing of a voltage',
      { ...minimal, readings: [{ where: 'x', mode: 'voltage', says: 'beep' }] },
      /readings\[0\]\.says: "beep" does not describe a voltage/,
    ],
    [
      'a whole unit on a change that swaps none',
      { ...minimal, actions: [{ id: 'a1', kind: 'clean', unit: 'board' }] },
      /actions\[0\]\.unit: /,
    ],
    [
      'a half that no run defines',
      { ...minimal, checks: [{ id: 'screen', outcome: 'image', half: 'attic' }] },
      /checks\[0\]\.half: /,
    ],
    [
      'a place of a circuit that there is not',
      { ...minimal, places: [{ where: 'x', circuit: 'flux' }] },
      /places\[0\]\.circuit: /,
    ],
    [
      'JSON deeper than 64 levels',
      `{"format":"umbral-case/1","x":${'['.repeat(70)}${']'.repeat(70)}}`,
      /deeper than 64 levels/,
    ],
  ];
  test.each(cases)('%s', async (_, value, expected) => {
    const { package: found } = await inspect(value);
    expect(found).toBeNull();
    expect((await said(value)).join('\n')).toMatch(expected);
  });

  test('every error is named, not only the first', async () => {
    const messages = await said({
      ...minimal,
      device: { class: 'toaster' },
      complaintKind: 'sad',
      runs: [{ ...minimal.runs[0], feed: 'x', setup: { setV: 0 } }],
    });
    expect(messages).toHaveLength(4);
  });
  test('a run file that is no log', async () =>
    expect((await said(minimal, { 'runs/r1.csv': 'hello there' })).join()).toMatch(
      /error runs\/r1\.csv: this is not a log/,
    ));
  test('a run file that is a link', async () => {
    const { findings } = await inspectPackage(filesOf({ 'case.json': JSON.stringify(minimal), 'runs/r1.csv': 'link' }));
    expect(findings.map(sayFinding).join()).toMatch(/runs\[0\]\.file: "runs\/r1\.csv" is a link/);
  });
  test('a file above 16 MB', () =>
    expect(() => readJson(new Uint8Array(16 * 1024 * 1024 + 1), 'case.json')).toThrow(/above 16 MB/));
  test('no case.json', async () =>
    expect(readPackage(filesOf({}))).rejects.toThrow(/case\.json: the package has no such file/));
  test('readPackage throws the first and counts the rest', async () => {
    const bad = filesOf({ 'case.json': JSON.stringify({ ...minimal, device: { class: 'x' }, complaintKind: 'y' }) });
    await expect(readPackage(bad)).rejects.toThrow(/device\.class: .*\(and 1 more\)/);
  });
  test('whatever the JSON, it is read or refused with a place', () => {
    fc.assert(
      fc.property(
        fc.jsonValue(),
        fc.constantFrom('device', 'runs', 'checks', 'readings', 'actions', 'intake', 'outcome', 'complaintKind'),
        (value, key) => {
          const { case: parsed, findings } = parseCase({ ...minimal, [key]: value });
          expect(parsed !== null || findings.some((f) => f.severity === 'error')).toBe(true);
        },
      ),
      { numRuns: 600 },
    );
  });
});

describe('units are followed from the schema', () => {
  const schema = (unit: string) =>
    JSON.stringify({ resources: [{ path: 'runs/r1.csv', schema: { fields: [{ name: 'I (A)', unit }] } }] });
  test('and a contradiction is said', async () => {
    const contents = { 'runs/r1.csv': 't (s),V (V),I (A)\n0,4,100\n1,4,200\n', 'datapackage.json': schema('mA') };
    const { package: found, findings } = await inspect(minimal, contents);
    expect(found?.runs[0].trace.i[1]).toBeCloseTo(0.2, 6);
    expect(findings.map(sayFinding).join()).toMatch(/schema was used/);
  });
  test.each(['../../etc/passwd', '/etc/passwd', 'C:\\secrets.csv', 'runs/../../x.csv', ''])(
    'a datapackage.json may not name %j, which is outside',
    async (path) => {
      const resources = [{ path: 'case.json' }, { path, schema: { fields: [] } }];
      const found = await said(minimal, { 'datapackage.json': JSON.stringify({ resources }) });
      expect(found.join()).toMatch(
        /error datapackage\.json: resources\[1\]\.path: .*expected (a path inside|forward slashes)/,
      );
    },
  );
  test('a datapackage.json that is none is refused', async () =>
    expect((await said(minimal, { 'datapackage.json': '{}' })).join()).toMatch(
      /datapackage\.json: resources: expected a list/,
    ));
});

const zip = async (entries: [string, string | Uint8Array, object?][]): Promise<Uint8Array> => {
  const writer = new ZipWriter(new Uint8ArrayWriter(), { useWebWorkers: false });
  for (const [name, content, options] of entries) {
    await writer.add(
      name,
      new Uint8ArrayReader(typeof content === 'string' ? encoder.encode(content) : content),
      options,
    );
  }
  return writer.close();
};
const open = async (bytes: Uint8Array) => readPackage(await zipFiles(bytesAccess(bytes), 'case.zip'));
const good: [string, string][] = [
  ['case.json', JSON.stringify(minimal)],
  ['runs/r1.csv', log],
];

describe('zips', () => {
  test('are read, also where the content sits in one folder', async () => {
    expect((await open(await zip(good))).runs).toHaveLength(1);
    const inFolder = await open(await zip(good.map(([name, content]) => [`my case/${name}`, content])));
    expect(inFolder.findings.map(sayFinding).join()).toMatch(/is in the folder "my case"/);
  });
  test('an entry that leaves the zip', async () =>
    expect(open(await zip([...good, ['../evil.txt', 'x']]))).rejects.toThrow(
      /case\.zip: \.\.\/evil\.txt: .*leaves the zip/,
    ));
  test('an absolute entry', async () =>
    expect(open(await zip([...good, ['/evil.txt', 'x']]))).rejects.toThrow(/absolute/));
  test('an encrypted entry', async () =>
    expect(open(await zip([...good, ['secret', 'x', { password: 'p' }]]))).rejects.toThrow(
      /secret: the entry is encrypted/,
    ));
  test('a link', async () => {
    const bytes = await zip([
      good[0],
      ['runs/r1.csv', '/etc/passwd', { externalFileAttributes: (0o120777 << 16) >>> 0, versionMadeBy: (3 << 8) | 20 }],
    ]);
    await expect(open(bytes)).rejects.toThrow(/is a link/);
  });
  test('more than 2,000 entries', async () => {
    // Folders count as well, and are written in a tenth of the time.
    const many = Array.from({ length: 2001 }, (_, k): [string, string, object] => [`f${k}/`, '', { directory: true }]);
    await expect(open(await zip(many))).rejects.toThrow(/more than 2000 entries/);
  }, 30_000);
  test('more than 1 GB expanded is refused before expanding', async () => {
    const bytes = await zip([
      ['case.json', JSON.stringify(minimal)],
      ['bomb', new Uint8Array(1000)],
    ]);
    // The directory at the end names the expanded size 24 bytes into each entry.
    const view = new DataView(bytes.buffer);
    for (let at = bytes.length - 22; at >= 0; at--)
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 0xfffffff0, true);
    await expect(open(bytes)).rejects.toThrow(/expands to more than 1 GB|corrupt/);
  });
  test('an entry that expands to more than the directory says', async () => {
    const bytes = await zip([
      ['case.json', `${JSON.stringify(minimal)}${' '.repeat(5000)}`],
      ['runs/r1.csv', log],
    ]);
    const view = new DataView(bytes.buffer);
    for (let at = bytes.length - 22; at >= 0; at--)
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, 50, true);
    await expect(open(bytes)).rejects.toThrow(FormatError);
  });
  test('broken bytes are refused or read, never a crash', async () => {
    const bytes = await zip(good);
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.tuple(fc.nat(bytes.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
        async (changes) => {
          const broken = bytes.slice();
          for (const [at, byte] of changes) broken[at] = byte;
          await open(broken).catch((error: unknown) => {
            if (!(error instanceof FormatError)) throw error;
          });
        },
      ),
      { numRuns: 150 },
    );
  }, 30_000);
  test('no zip at all', async () =>
    expect(open(encoder.encode('not a zip'))).rejects.toThrow(/case\.zip: the file is corrupt or not a zip/));
});

describe('round trip', () => {
  test('unknown keys are kept at every level', async () => {
    const rich = {
      ...minimal,
      shop: { name: 'x' },
      device: { class: 'phone', colour: 'red', expect: { idleA: 0.2, mood: 1 } },
      intake: { liquid: true, heard: ['fall'], by: 'bench' },
      runs: [
        {
          ...minimal.runs[0],
          seal: 7,
          setup: { setV: 4, bench: 2 },
          instrument: { kind: 'dmm', age: 3 },
          markers: [{ t: 0, event: 'note', author: 'me' }],
        },
      ],
      checks: [{ id: 'screen', outcome: 'dark', light: 'lamp' }],
      readings: [{ where: 'x', mode: 'diode', value: 0.4, reference: 0.5, probe: 9 }],
      actions: [{ id: 'a1', kind: 'clean', tool: 'brush' }],
      outcome: { grade: 'cleared', circuit: 'pmic', cost: 12 },
    };
    const { package: found } = await inspect(rich);
    const bytes = await writeZip(
      packageFiles(found!.case, () => ({ blocks: [found!.runs[0].trace], startedAt: null })),
    );
    const again = await open(bytes);
    const back = JSON.parse(new TextDecoder().decode(await contentOf(bytes, 'case.json'))) as Record<
      string,
      Json & Json[]
    >;
    expect(back.shop).toEqual({ name: 'x' });
    expect(back.device).toMatchObject({ colour: 'red', expect: { idleA: 0.2, mood: 1 } });
    expect(back.intake).toMatchObject({ liquid: true, heard: ['fall'], by: 'bench' });
    expect(found?.case.intake.heard).toEqual(['fall']);
    expect(back.runs[0]).toMatchObject({
      seal: 7,
      setup: { setV: 4, bench: 2 },
      instrument: { kind: 'dmm', age: 3 },
      markers: [{ t: 0, event: 'note', author: 'me' }],
    });
    expect(back.checks[0]).toMatchObject({ light: 'lamp' });
    expect(back.readings[0]).toMatchObject({ probe: 9 });
    expect(back.actions[0]).toMatchObject({ tool: 'brush' });
    expect(back.outcome).toMatchObject({ cost: 12 });
    expect(again.runs[0].trace.i).toEqual(found!.runs[0].trace.i);
    expect(again.findings).toEqual([]);
  });

  test('cases survive writing and reading', async () => {
    const reading = fc.record({
      where: fc.string({ minLength: 1, maxLength: 20 }).filter((s) => s.trim() !== ''),
      value: fc.double({ min: 0, max: 1e6, noNaN: true, noDefaultInfinity: true }),
      circuit: fc.constantFrom(...circuitIds),
    });
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom('phone', 'laptop', 'ereader'),
        fc.array(reading, { maxLength: 4 }),
        fc.string({ maxLength: 30 }),
        async (deviceClass, readings, complaint) => {
          const typed = readTypedRun('battery 4V: 0 | prompt 0.1 hold', 'r1');
          const value: Case = {
            id: 'x',
            device: { class: deviceClass as 'phone', model: 'm', serial: '', profile: null, expect: { startPeakA: 1 } },
            complaint,
            complaintKind: 'drain',
            intake: { ...emptyIntake, liquid: true },
            runs: [
              typed.run,
              {
                ...typed.run,
                id: 'r2',
                typed: null,
                file: 'x.csv',
                instrument: unknownInstrument,
                setup: { ...unknownSetup, unplugged: ['flex'] },
              },
            ],
            places: [{ where: 'a point', circuit: 'rail.run' }],
            checks: [],
            readings: readings.map((r) => ({ ...plainReading, ...r, mode: 'resistance', unit: 'ohm' })),
            injections: [],
            actions: [],
            proofs: [
              {
                id: 'p1',
                protocol: 'soak',
                step: 'running',
                result: 'pass',
                reason: 'an hour',
                run: null,
                check: null,
                after: null,
              },
            ],
            outcome: null,
          };
          const bytes = await writeZip(packageFiles(value, () => ({ blocks: [typed.trace], startedAt: null })));
          const back = await open(bytes);
          expect({ ...back.case, runs: [] }).toEqual({ ...value, runs: [] });
          expect(back.case.runs.map((r) => r.setup)).toEqual(value.runs.map((r) => r.setup));
          expect(back.runs[0].trace.i).toEqual(typed.trace.i);
        },
      ),
      { numRuns: 25 },
    );
  });
  test('the history survives writing and reading, and a case without it stays as it was', async () => {
    const history = {
      runs: [minimal.runs[0], { ...minimal.runs[0], id: 'r2', after: 'a1' }],
      checks: [{ id: 'screen', outcome: 'dark', after: 'a1', where: 'lid', circuit: 'display' }],
      readings: [
        { where: 'coil 3', mode: 'voltage', value: 1.4, unit: 'V', swing: { low: 0, high: 3 }, after: 'a1' },
        { where: 'fuse 1', mode: 'resistance', value: 0.1, unit: 'ohm', across: true },
      ],
      injections: [{ id: 'i1', rail: 'main', circuit: 'rail.main', setV: 1, limitA: 2, amps: 1.4, after: 'a1' }],
      actions: [
        { id: 'a1', kind: 'isolate', circuit: 'core.supply' },
        { id: 'a2', kind: 'reconnect', undoes: 'a1' },
      ],
    };
    const { package: found } = await inspect({ ...minimal, ...history });
    const { runs: _, ...rest } = history;
    expect(found!.case).toMatchObject(rest);
    expect(found!.case.runs[1].after).toBe('a1');
    const bytes = await writeZip(
      packageFiles(found!.case, () => ({ blocks: [found!.runs[0].trace], startedAt: null })),
    );
    const back = (await open(bytes)).case;
    expect({ ...back, runs: back.runs.map((r) => r.after) }).toEqual({ ...found!.case, runs: [null, 'a1'] });
    const { package: old } = await inspect(minimal);
    expect(old!.case.injections).toEqual([]);
  });

  test('a package of typed runs lists case.json as its one resource', async () => {
    const { run } = readTypedRun('battery 4V: 0', 'r1');
    const value = parseCase({ ...minimal, runs: [{ id: 'r1', feed: 'battery', typed: run.typed }] }).case!;
    const files = packageFiles(value, () => ({ blocks: [], startedAt: null }));
    const bytes = await writeZip(files);
    const schema = JSON.parse(new TextDecoder().decode(await contentOf(bytes, 'datapackage.json'))) as {
      resources: { path: string }[];
    };
    expect(schema.resources.map((r) => r.path)).toEqual(['case.json']);
  });
});

async function contentOf(bytes: Uint8Array, name: string): Promise<Uint8Array> {
  const files = await zipFiles(bytesAccess(bytes), 'x.zip');
  const parts: number[] = [];
  for await (const part of files.open(name)) parts.push(...part);
  return Uint8Array.from(parts);
}
