import { detectEncoding } from './decode.ts';
import fc from 'fast-check';
import { logHeader, LogReader, readLog, UnsureColumnsError, writeLog, type LogOptions } from './index.ts';
import { FormatError } from '../error.ts';

type Row = [number, number, number];

function read(content: string | Uint8Array, options: LogOptions = {}) {
  const rows: Row[] = [];
  const bytes = typeof content === 'string' ? new TextEncoder().encode(content) : content;
  const result = readLog(bytes, (t, v, i) => rows.push([t, v, i]), options);
  return { ...result, rows, all: [...result.repairs, ...result.warnings].join(' ') };
}

const near = (row: Row): number[] => row.map((x) => (Number.isNaN(x) ? NaN : Number(x.toFixed(6))));

describe('forms that meters and supplies export', () => {
  const samples: [string, string, Row[]][] = [
    [
      'our own',
      't_s,voltage_V,current_A\n0,4,0.001\n0.5,4,0.5\n',
      [
        [0, 4, 0.001],
        [0.5, 4, 0.5],
      ],
    ],
    [
      'semicolons and decimal commas',
      'Zeit;Spannung (V);Strom (mA)\n0,0;4,01;1,5\n0,1;4,00;20,5\n',
      [
        [0, 4.01, 0.0015],
        [0.1, 4, 0.0205],
      ],
    ],
    [
      'tabs, clock past midnight, absent values',
      'Time\tU(V)\tI(A)\n23:59:59.5\t5.02\t0.1\n00:00:00.0\t5.01\t--\n00:00:00.5\t5\tnan\n',
      [
        [0, 5.02, 0.1],
        [0.5, 5.01, NaN],
        [1, 5, NaN],
      ],
    ],
    [
      'comment lines, ISO time, a sum at the end',
      '# Meter\n# exported\nTimestamp,Vbus,Ibus,Power\n2026-11-23T10:00:00.000Z,5.02,0.1,0.5\n2026-11-23T10:00:00.100Z,5.02,0.2,1\n\nTotal,12 mAh\n',
      [
        [0, 5.02, 0.1],
        [0.1, 5.02, 0.2],
      ],
    ],
    [
      'a free-text preamble',
      'Bench supply log\nOperator: bench\n\nTime (s),Current (mA),Voltage (V)\n0,100,4\n1,200,4\n',
      [
        [0, 4, 0.1],
        [1, 4, 0.2],
      ],
    ],
    [
      'a units line',
      'time,current,voltage\ns,mA,V\n0,12,5\n1,900,5\n',
      [
        [0, 5, 0.012],
        [1, 5, 0.9],
      ],
    ],
    [
      'units in the cells',
      'time,current,voltage\n0 s,12 mA,5.0 V\n1 s,1.3 A,5 V\n',
      [
        [0, 5, 0.012],
        [1, 5, 1.3],
      ],
    ],
    [
      'quoted fields',
      '"Time","Current (A)","Voltage (V)"\n"0","0.5","5"\n"1","0.6","5"\n',
      [
        [0, 5, 0.5],
        [1, 5, 0.6],
      ],
    ],
    [
      'quoted decimal commas',
      '"Time (s)","Current (A)","Voltage (V)"\n"0,0","0,512","5,01"\n"0,5","0,64","5,02"\n',
      [
        [0, 5.01, 0.512],
        [0.5, 5.02, 0.64],
      ],
    ],
    [
      'spaces, no header',
      '0.0 5.02 0.12\n0.1 5.02 0.13\n0.2 5.01 0.15\n',
      [
        [0, 5.02, 0.12],
        [0.1, 5.02, 0.13],
        [0.2, 5.01, 0.15],
      ],
    ],
    [
      'no header, with power',
      '0,5,0.1,0.5\n1,5,0.2,1\n2,5,0.4,2\n',
      [
        [0, 5, 0.1],
        [1, 5, 0.2],
        [2, 5, 0.4],
      ],
    ],
    [
      'milliseconds',
      'elapsed_ms,CURR,VOLT\n0,0.1,5\n100,0.2,5\n',
      [
        [0, 5, 0.1],
        [0.1, 5, 0.2],
      ],
    ],
    [
      'Unix time in milliseconds',
      'Timestamp,Voltage [V],Current [A]\n1700000000000,5,0.1\n1700000000250,5,0.2\n',
      [
        [0, 5, 0.1],
        [0.25, 5, 0.2],
      ],
    ],
    [
      'Unix time in seconds',
      'Timestamp,Voltage [V],Current [A]\n1700000000,5,0.1\n1700000001,5,0.2\n',
      [
        [0, 5, 0.1],
        [1, 5, 0.2],
      ],
    ],
    [
      'a counter with a stated rate',
      'Sample rate: 10 Hz\nSample,Volt,Amp\n1,5,0.1\n2,5,0.2\n',
      [
        [0, 5, 0.1],
        [0.1, 5, 0.2],
      ],
    ],
    [
      'a counter with a stated interval',
      '# interval = 250 ms\nNo;U/V;I/A\n1;5,0;0,1\n2;5,0;0,2\n',
      [
        [0, 5, 0.1],
        [0.25, 5, 0.2],
      ],
    ],
    [
      'date and time apart',
      'Date;Time;Voltage[V];Current[A]\n23.11.2026;10:00:00;5,02;0,1\n23.11.2026;10:00:01;5,02;0,2\n',
      [
        [0, 5.02, 0.1],
        [1, 5.02, 0.2],
      ],
    ],
    [
      'half-day clock',
      'Time,Voltage (V),Current (A)\n11:59:59 AM,5,0.1\n12:00:01 PM,5,0.2\n',
      [
        [0, 5, 0.1],
        [2, 5, 0.2],
      ],
    ],
    [
      'data lines and temperature beside',
      'Time [s],D+ [V],D- [V],VBUS [V],IBUS [A],Temp\n0,0.6,0.6,5,0.2,25\n1,.6,.6,5,.3,25\n',
      [
        [0, 5, 0.2],
        [1, 5, 0.3],
      ],
    ],
    [
      'a set value beside the measured one',
      'Time (s),Set Voltage (V),Voltage (V),Current Limit (A),Current (A)\n0,4,3.99,3,0.1\n1,4,3.98,3,0.2\n',
      [
        [0, 3.99, 0.1],
        [1, 3.98, 0.2],
      ],
    ],
    [
      'voltage only',
      'time_s,voltage_V\n0,3.8\n1,3.7\n',
      [
        [0, 3.8, NaN],
        [1, 3.7, NaN],
      ],
    ],
  ];
  test.each(samples)('%s', (_, text, expected) => expect(read(text).rows.map(near)).toEqual(expected));

  test.each(samples)('%s, with CRLF, a byte-order mark, or UTF-16', (_, text, expected) => {
    expect(read(`\ufeff${text.replaceAll('\n', '\r\n')}`).rows.map(near)).toEqual(expected);
    const utf16 = new Uint8Array(2 + 2 * text.length);
    utf16.set([0xff, 0xfe]);
    for (let k = 0; k < text.length; k++) new DataView(utf16.buffer).setUint16(2 + 2 * k, text.charCodeAt(k), true);
    expect(read(utf16).rows.map(near)).toEqual(expected);
  });

  test('Latin-1 with its own micro sign', () => {
    const latin = Uint8Array.from('Zeit (s);Strom (µA);Spannung (V) für alle\n0;100;5\n1;200;5\n', (c) =>
      c.charCodeAt(0),
    );
    expect(read(latin).rows.map(near)).toEqual([
      [0, 5, 0.0001],
      [1, 5, 0.0002],
    ]);
  });

  test('letters of another alphabet are told by their statistics, digits by nothing', () => {
    const cyrillic = [0xc2, 0xf0, 0xe5, 0xec, 0xff, 0x3b, 0xd2, 0xee, 0xea, 0x3b, 0xcd, 0xe0, 0xef, 0xf0, 0xff, 0xe6];
    const rows = '\n0;0.1;5\n1;0.2;5\n'.split('').map((c) => c.charCodeAt(0));
    const bytes = Uint8Array.from([...cyrillic, 0xe5, 0xed, 0xe8, 0xe5, ...rows]);
    const encoding = detectEncoding(bytes);
    expect(encoding).toBe('windows-1251');
    expect(new TextDecoder(encoding!).decode(bytes).split('\n')[0]).toBe('Время;Ток;Напряжение');
    expect(detectEncoding(Uint8Array.from([0xb0, ...rows]))).toBe('windows-1252');
  });

  test('the same rows however the file is cut into blocks', () => {
    const text = `# preamble\nTime (s),Voltage (V),Current (A)\n${Array.from({ length: 300 }, (_, k) => `${k / 10},5.0${k % 10},0.${100 + k}`).join('\n')}\n`;
    const whole = read(text).rows;
    const bytes = new TextEncoder().encode(text);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 400 }), (size) => {
        const rows: Row[] = [];
        const reader = new LogReader((t, v, i) => rows.push([t, v, i]));
        for (let at = 0; at < bytes.length; at += size) reader.push(bytes.subarray(at, at + size));
        reader.finish();
        expect(rows).toEqual(whole);
      }),
      { numRuns: 30 },
    );
  });
});

describe('repairs are made and said', () => {
  test('rows out of order', () => {
    const r = read('t (s),V (V),I (A)\n0,5,0.1\n2,5,0.3\n1,5,0.2\n3,5,0.4\n');
    expect(r.rows.map(([t]) => t)).toEqual([0, 1, 2, 3]);
    expect(r.all).toMatch(/Sorted one row by time/);
  });
  test('repeated rows', () => {
    const r = read('t (s),V (V),I (A)\n0,5,0.1\n1,5,0.2\n2,5,0.3\n2,5,0.3\n3,5,0.4\n4,5,0.4\n');
    expect(r.rows).toHaveLength(5);
    expect(r.all).toMatch(/Left out one row repeating another/);
  });
  test('a coarse clock is spread, and nothing is lost', () => {
    const r = read(
      `Time,V (V),I (A)\n${[0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2].map((s, k) => `10:00:0${s},5,0.${k + 10}`).join('\n')}\n`,
    );
    expect(r.rows).toHaveLength(12);
    expect(r.rows[1][0]).toBeCloseTo(0.25, 6);
    for (let k = 1; k < 12; k++) expect(r.rows[k][0]).toBeGreaterThan(r.rows[k - 1][0]);
  });
  test('a guessed unit', () => {
    expect(read('ms,I,V\n0,0,3.9\n50,450,3.9\n').all).toMatch(
      /current column has no unit. From its values it was read as mA/,
    );
    expect(read('time,I,V\n0,0.1,3.9\n1,0.2,3.9\n').all).toMatch(
      /read as seconds.*current column has no unit. From its values it was read as A/,
    );
  });
  test('rows that are no readings', () =>
    expect(read('t (s),V (V),I (A)\n0,5,0.1\nmeter paused\n1,5,0.2\n').all).toMatch(
      /Left out one row without a reading \(the first on line 3\)/,
    ));
  test('absurd values', () => {
    const r = read('t (s),V (V),I (A)\n0,5,0.1\n1,5,9e9\n2,5,0.2\n');
    expect(r.rows[1][2]).toBeNaN();
    expect(r.all).toMatch(/one value beyond anything a bench measures/);
  });
  test('a clock that was not set at first does not carry the rest away', () => {
    const rows = [0, ...Array.from({ length: 20 }, (_, k) => 1_700_000_000 + k)].map((t) => `${t},5,0.1`);
    const r = read(`Timestamp,V (V),I (A)\n${rows.join('\n')}\n`);
    expect(r.rows).toHaveLength(20);
    expect(r.all).toMatch(/Left out one row with a time more than a month away/);
  });
  test('rows of zeros where the meter lost power', () => {
    const rows = [
      ...Array.from({ length: 9 }, (_, k) => `${100 + k},5,0.1`),
      '0,0,0',
      '0,0,0',
      ...Array.from({ length: 9 }, (_, k) => `${112 + k},5,0.1`),
    ];
    const r = read(`t (s),V (V),I (A)\n${rows.join('\n')}\n`);
    expect(r.rows).toHaveLength(18);
    expect(r.all).toMatch(/Left out 2 rows of zeros, where the meter itself lost power/);
  });
  test('zeros with a time of their own are readings: the bus was dead', () =>
    expect(read('t (s),V (V),I (A)\n0,5,0.1\n1,0,0\n2,0,0\n').rows).toHaveLength(3));
  test('leads the wrong way round', () => {
    const r = read('t (s),V (V),I (A)\n0,4,0\n1,4,-0.3\n2,4,-0.5\n');
    expect(r.rows.map((row) => near(row)[2] + 0)).toEqual([0, 0.3, 0.5]);
    expect(r.all).toMatch(/current is negative throughout, so the leads are reversed/);
  });
  test('an offset, a current both ways, and an instrument that turns the sign itself are left as they are', () => {
    expect(read('t (s),V (V),I (A)\n0,4,-0.002\n1,4,-0.001\n').rows[0][2]).toBeCloseTo(-0.002, 6);
    expect(read('t (s),V (V),I (A)\n0,4,-0.5\n1,4,0.2\n').rows[0][2]).toBe(-0.5);
    const turned = { instrument: { gainA: -1, gainV: 1 } };
    expect(read('t (s),V (V),I (A)\n0,4,-0.5\n1,4,-0.25\n', turned).rows[0][2]).toBe(-0.5);
  });
  test('a line of words as wide as a row is no row', () =>
    expect(
      read('Sampling rate: 2 Hz\nSample I(A) U(V) P(W)\n1 0.5 5 2.5\n2 0.6 5 3\nRows in all: 2\n').rows,
    ).toHaveLength(2));
  test('the schema wins over the header, and says so', () => {
    const r = read('t (s),V (V),I (A)\n0,5,100\n1,5,200\n', { units: { 'I (A)': 'mA' } });
    expect(r.rows[0][2]).toBeCloseTo(0.1, 7);
    expect(r.warnings.join()).toMatch(/says A, but the table schema says mA; the schema was used/);
  });
  test('the start is known where the file says it', () => {
    expect(
      read('Timestamp,V (V),I (A)\n2026-11-23T10:00:00+01:00,5,0.1\n2026-11-23T10:00:01+01:00,5,0.1\n').startedAt,
    ).toBe('2026-11-23T09:00:00.000Z');
    expect(read('t (s),V (V),I (A)\n0,5,0.1\n1,5,0.1\n').startedAt).toBeNull();
  });
});

describe('what is no log is refused in one sentence', () => {
  test.each([
    ['nothing', ''],
    ['prose', 'Dear library,\nI have 2 tablets, 3 phones, and 1 problem.\nThanks\n'],
    ['JSON', '{"a": 1, "b": [1, 2, 3]}\n'],
    ['a page', '<html><body><table><tr><td>1</td></tr></table></body></html>'],
    ['a picture', Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0, 0, 13, 1, 2, 3])],
  ])('%s', (_, content) => {
    expect(() => read(content, { file: 'bench.csv' })).toThrow(FormatError);
    expect(() => read(content, { file: 'bench.csv' })).toThrow(/^bench\.csv: (this is not a log|the file is empty)/);
  });
});

describe('what is a log in form and tells nothing, or is something else, is refused in one sentence', () => {
  test.each<[string, string | Uint8Array, RegExp]>([
    ['a header alone', 't_s,voltage_V,current_A\n', /no usable reading: it has a header but no readable rows/],
    ['all absent', 't_s,voltage_V,current_A\n0,,\n1,--,nan\n', /no usable reading: its 2 rows contain no values/],
    ['all infinite', 't,V,A\n0,inf,-inf\n1,inf,inf\n2,inf,inf\n', /no usable reading/],
    [
      'a charge named as the current',
      't (s),V (V),current (mAh)\n0,5,1\n1,5,2\n',
      /"current \(mAh\)" is not a current: mAh is a charge/,
    ],
    [
      'a charge by the units line',
      'time,voltage,current\ns,V,mAh\n0,5,1\n1,5,2\n',
      /is not a current: mAh is a charge/,
    ],
    [
      'an archive',
      Uint8Array.from([0x50, 0x4b, 3, 4, 0, 0, 0, 0]),
      /this is not a log: it is a zip archive; unpack it first/,
    ],
    ['a compressed log', Uint8Array.from([0x1f, 0x8b, 8, 0, 0, 0]), /it is a gzip archive/],
  ])('%s', (_, content, says) => expect(() => read(content)).toThrow(says));
  test('a charge beside a voltage: the voltage is read, and it is said', () => {
    const r = read('t (s),V (V),charge (mAh)\n0,5,1\n1,5.1,2\n');
    expect(r).toMatchObject({ hasCurrent: false, hasVoltage: true });
    expect(r.all).toMatch(/"charge \(mAh\)" is not a current/);
  });
});

describe('odd but legitimate', () => {
  const three: Row[] = [
    [0, 5, 0],
    [0.5, 5, 0.25],
    [1, 5.1, 0.5],
  ];
  test.each<[string, string]>([
    [
      'a comma before the fraction of an ISO time with an offset, between commas',
      'time,voltage_V,current_A\n2026-03-02T10:00:00,000+01:00,5,0\n2026-03-02T10:00:00,500+01:00,5,0.25\n2026-03-02T10:00:01,000+01:00,5.1,0.5\n',
    ],
    [
      'the same without an offset, told by the header',
      'time,voltage_V,current_A\n10:00:00,000,5,0\n10:00:00,500,5,0.25\n10:00:01,000,5.1,0.5\n',
    ],
    ['a rate in words above a counter', 'Samples per second: 2\nNo.,U (V),I (A)\n1,5,0\n2,5,0.25\n3,5.1,0.5\n'],
    ['a rate as a symbol', 'fs = 2 Hz\nindex,voltage_V,current_A\n0,5,0\n1,5,0.25\n2,5.1,0.5\n'],
    ['an interval in brackets', 'Interval (ms): 500\nindex,voltage_V,current_A\n0,5,0\n1,5,0.25\n2,5.1,0.5\n'],
    [
      'signed scientific notation everywhere',
      't,V,A\n-1.000E+00,+5.000E+00,+0.000E+00\n-5.000E-01,+5.000E+00,+2.500E-01\n+0.000E+00,+5.100E+00,+5.000E-01\n',
    ],
    ['line breaks in quoted headings', '"Time\n(s)","Voltage\n(V)","Current\n(mA)"\n0,5,0\n0.5,5,250\n1,5.1,500\n'],
    ['current before voltage before time', 'Current,Voltage,Time\n0,5,0\n0.25,5,0.5\n0.5,5.1,1\n'],
    ['thousandths without a unit', 'time,voltage,current\n0,5000,0\n500,5000,250\n1000,5100,500\n'],
    ['thousandths without a heading', '0,5000,0\n500,5000,250\n1000,5100,500\n'],
    ['few thousandths beside millivolts', 't_ms,voltage_mV,current_A\n0,5000,0\n500,5000,0.25\n1000,5100,0.5\n'],
    ['rows swapped around midnight', 'time,V,A\n00:00:00.0,5,0.25\n23:59:59.5,5,0\n00:00:00.5,5.1,0.5\n'],
    ['a line that names the delimiter', 'sep=;\nTime;V;A\n0;5;0\n0.5;5;0.25\n1;5.1;0.5\n'],
    [
      'months by name',
      'Time,V,A\n2-Mar-2026 10:00:00.0,5,0\n2-Mar-2026 10:00:00.5,5,0.25\n2-Mar-2026 10:00:01.0,5.1,0.5\n',
    ],
    [
      'ISO 8601 without signs',
      'Time,V,A\n20260302T100000.0Z,5,0\n20260302T100000.5Z,5,0.25\n20260302T100001.0Z,5.1,0.5\n',
    ],
    [
      'days before the clock',
      'Elapsed,V,A\n0 days 00:00:00.0,5,0\n0 days 00:00:00.5,5,0.25\n0 days 00:00:01.0,5.1,0.5\n',
    ],
    ['milliseconds after a colon', 'Time,V,A\n10:00:00:000,5,0\n10:00:00:500,5,0.25\n10:00:01:000,5.1,0.5\n'],
    [
      'thousands set apart',
      '"time (us)","U (mV)","I (mA)"\n"0","5,000","0.0"\n"500,000","5,000","250.0"\n"1,000,000","5,100","500.0"\n',
    ],
    ['other languages', 'Tempo;Tensão (V);Corrente (mA)\n0;5;0\n0,5;5;250\n1;5,1;500\n'],
    [
      'extremes beside the reading',
      'Time (s),Max current (A),Current (A),Min voltage (V),Voltage (V)\n0,9,0,1,5\n0.5,9,0.25,1,5\n1,9,0.5,1,5.1\n',
    ],
  ])('%s', (_, content) => expect(read(content).rows.map(near)).toEqual(three));
});

describe('where the columns leave a doubt', () => {
  test('a person is asked, with the first rows', () => {
    const unsure = () => read('0.0,5.02\n0.1,5.03\n0.2,5.01\n', { file: 'x.csv' });
    expect(unsure).toThrow(UnsureColumnsError);
    try {
      unsure();
    } catch (error) {
      expect((error as UnsureColumnsError).sample[0]).toEqual(['0.0', '5.02']);
    }
  });
  test('no time and no rate', () =>
    expect(() => read('Voltage (V),Current (A)\n5,0.1\n5,0.3\n5,0.2\n')).toThrow(
      /no time column and no stated sampling rate/,
    ));
  test('the rate of the instrument stands in', () =>
    expect(read('Voltage (V),Current (A)\n5,0.1\n5,0.2\n', { rateHz: 4 }).rows.map(near)).toEqual([
      [0, 5, 0.1],
      [0.25, 5, 0.2],
    ]));
  test('the answer is followed', () => {
    const r = read('0,5020,90\n100,5030,91\n200,5010,92\n', {
      mapping: { time: 0, timeUnit: 'ms', voltage: 1, voltageUnit: 'mV', current: 2, currentUnit: 'mA' },
    });
    expect(r.rows.map(near)[1]).toEqual([0.1, 5.03, 0.091]);
  });
  test('a column that is missing is refused', () =>
    expect(() => read('0,5,0.1\n1,5,0.1\n', { mapping: { time: 0, voltage: 1, current: 9 } })).toThrow(
      /no column 10; expected 1 to 3/,
    ));
});

test('arbitrary bytes never crash the reader', () => {
  const reads = (content: string | Uint8Array): void => {
    try {
      for (const [t, v, i] of read(content).rows) {
        expect(Number.isFinite(t)).toBe(true);
        expect(Math.abs(v) <= 1000 || Number.isNaN(v)).toBe(true);
        expect(Math.abs(i) <= 1000 || Number.isNaN(i)).toBe(true);
      }
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
    }
  };
  fc.assert(fc.property(fc.uint8Array({ maxLength: 400 }), reads), { numRuns: 500 });
  fc.assert(fc.property(fc.string({ maxLength: 400, unit: 'binary' }), reads), { numRuns: 500 });
  const cell = fc.oneof(
    fc.double().map(String),
    fc.constantFrom('', '--', 'OL', '5V', '12 mA', '10:00:00', 'V', 'time', '"', '1e999', '-inf', '2026-11-23'),
    fc.string({ maxLength: 6 }),
  );
  const table = fc.tuple(
    fc.constantFrom(',', ';', '\t', ' '),
    fc.array(fc.array(cell, { minLength: 1, maxLength: 5 }), { maxLength: 30 }),
  );
  fc.assert(
    fc.property(table, ([delimiter, rows]) => reads(rows.map((r) => r.join(delimiter)).join('\n'))),
    { numRuns: 500 },
  );
});

test('what is written is read back', () => {
  const sample = fc.tuple(fc.float({ min: -30, max: 60, noNaN: true }), fc.float({ min: -20, max: 20, noNaN: true }));
  fc.assert(
    fc.property(
      fc.array(sample, { minLength: 2, maxLength: 60 }),
      fc.double({ min: 0.001, max: 10, noNaN: true }),
      (rows, step) => {
        const t = Float64Array.from(rows, (_, k) => k * step);
        const v = Float32Array.from(rows, ([x]) => x);
        const i = Float32Array.from(rows, ([, x]) => x);
        const back = read(logHeader + [...writeLog({ t, v, i })].join(''));
        expect(back.repairs).toEqual([]);
        const signOf = (kind: string): number =>
          back.warnings.some((w) => w.startsWith(`The ${kind} is negative throughout`)) ? -1 : 1;
        expect(back.rows).toHaveLength(rows.length);
        back.rows.forEach(([, volts, amps], k) => {
          expect(Math.abs(volts * signOf('voltage') - v[k])).toBeLessThanOrEqual(Math.abs(v[k]) * 1e-6 + 1e-9);
          expect(Math.abs(amps * signOf('current') - i[k])).toBeLessThanOrEqual(Math.abs(i[k]) * 1e-6 + 1e-9);
        });
      },
    ),
  );
});
