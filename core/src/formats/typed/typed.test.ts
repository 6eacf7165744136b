import fc from 'fast-check';
import { FormatError } from '../error.ts';
import { parseTypedLine, readTypedRun } from './index.ts';

const levels = (line: string): [number, number][] => {
  const { trace } = readTypedRun(line, 'r');
  const out: [number, number][] = [];
  trace.t.forEach((t, k) => {
    const i = Number(trace.i[k].toFixed(4));
    if (out.length === 0 || !Object.is(out[out.length - 1][1], i)) out.push([Number(t.toFixed(2)), i]);
  });
  return out;
};

describe('the notation', () => {
  test('readings, press and hold', () => {
    const { run, trace } = readTypedRun('battery 3.9V limit 3A: 0 | prompt 0.07 0.19 0.12 hold', 'r1');
    expect(run).toMatchObject({
      feed: 'battery',
      quantity: 'current',
      setup: { setV: 3.9, limitA: 3 },
      instrument: { kind: 'eye', resolutionA: 0.01 },
    });
    expect(run.markers.map((m) => m.event)).toEqual(['output-on', 'prompt']);
    expect(levels(run.typed ?? '')).toEqual([
      [0, 0],
      [2, 0.07],
      [4, 0.19],
      [6, 0.12],
    ]);
    expect(trace.t.at(-1)).toBeGreaterThan(12);
    expect(trace.v[0]).toBeCloseTo(3.9, 5);
  });

  test.each([
    ['usb-c port 1: 5V 0.055 hold', { setup: { port: 1, flipped: false } }],
    ['usb-c port 1 flipped: 5V 55mA hold', { setup: { port: 1, flipped: true }, instrument: { resolutionA: 0.001 } }],
    ['dc-in 19V: 21mA hold | prompt 21mA hold', { feed: 'dc-in', setup: { setV: 19 } }],
    ['battery 4V board-alone no-battery: 0', { setup: { assembly: 'board-alone', battery: 'disconnected' } }],
    [
      'battery 4V half "upper board" with-battery: 0',
      { setup: { assembly: 'half', half: 'upper board', battery: 'connected' } },
    ],
    ['battery 4V unplugged camera unplugged "power flex": 0', { setup: { unplugged: ['camera', 'power flex'] } }],
    ['battery 4V asleep: 5mA hold', { setup: { deviceState: 'asleep' } }],
    ['battery 4V running: 0.3 hold', { setup: { deviceState: 'running' } }],
    ['usb-c contract 20V 3.25A: 20V 0.4 hold', { contract: { kind: 'pd', volts: 20, amps: 3.25 } }],
    ['usb-c port 1: 5V', { quantity: 'current', setup: { port: 1 } }],
    ['BATTERY 4v LIMIT 500mA: 0 | PROMPT 0.1 HOLD', { setup: { limitA: 0.5 } }],
    ['battery 3,9V: 0,07 hold', { setup: { setV: 3.9 } }],
    ['battery 3.9 V limit 3 A: 55 mA hold', { setup: { setV: 3.9, limitA: 3 } }],
  ])('reads the setup of %s', (line, expected) => expect(readTypedRun(line, 'r').run).toMatchObject(expected));

  test('a voltage holds until the next', () => {
    const { trace } = readTypedRun('usb-c: 5V 0.3 9V 1.1 15V 2.0 hold', 'r');
    const pairs = [...new Set([...trace.v].map((v, k) => `${v} ${trace.i[k].toFixed(1)}`))];
    expect(pairs).toEqual(['5 0.3', '9 1.1', '15 2.0']);
  });
  test('0V: no bus voltage came', () => {
    const { trace } = readTypedRun('usb-c: 0V', 'r');
    expect([...new Set(trace.v)]).toEqual([0]);
    expect([...new Set(trace.i)]).toEqual([0]);
  });
  test('a group repeats with its period', () => {
    const found = levels('battery 3.8V: 0 | prompt (0.09 0.22 0) loop 6s');
    const starts = found.filter(([, i]) => i === 0.09).map(([t]) => t);
    expect(starts.slice(0, 3)).toEqual([2, 8, 14]);
  });
  test('pulses rise from the level before them, or from nothing', () => {
    const high = levels('battery 4V: 0.1 | prompt 0.4 pulse 0.5s');
    expect(new Set(high.map(([, i]) => i))).toEqual(new Set([0.1, 0.4]));
    expect(new Set(levels('battery 4V: | prompt 0.4 pulse 0.5s').map(([, i]) => i))).toEqual(new Set([0, 0.4]));
  });
  test('limit takes the setup’s current, or the one before it, or says that it is unknown', () => {
    expect(levels('battery 4V limit 2A: limit')).toEqual([[0, 2]]);
    expect(readTypedRun('battery 4V: 1.5 limit', 'r').trace).toMatchObject({ limitA: 1.5 });
    const unknown = readTypedRun('battery 4V: 0 | prompt limit', 'r').trace;
    expect(unknown.limitA).toBeNull();
    expect(unknown.limitSpans[0]).toMatchObject({ t0: 2 });
    expect(unknown.i.at(-1)).toBeNaN();
  });
  test('off falls back to nothing', () => expect(levels('battery 4V: 0.3 off').at(-1)).toEqual([2, 0]));
  test('a time places the next reading', () =>
    expect(levels('battery 4V: 0 | prompt 0.1 @12s 0.5 hold')).toEqual([
      [0, 0],
      [2, 0.1],
      [12, 0.5],
    ]));
  test('pressed, nothing changed', () => {
    for (const line of ['battery 4V: 0.02 |', 'battery 4V: 0.02 | prompt', 'battery 4V: 0.02 prompt']) {
      const { run, trace } = readTypedRun(line, 'r');
      expect(run.markers.at(-1)).toMatchObject({ event: 'prompt', t: 2 });
      expect(trace.t.at(-1)).toBeGreaterThan(8);
      expect(levels(line)).toEqual([[0, 0.02]]);
    }
  });
  test('voltage-only makes the numbers volts', () => {
    const { run, trace } = readTypedRun('usb-c voltage-only: 4.1 2.9V 4.1 hold', 'r');
    expect(run.quantity).toBe('voltage-only');
    expect([...new Set([...trace.v].map((v) => v.toFixed(1)))]).toEqual(['4.1', '2.9']);
    expect(trace.i[0]).toBeNaN();
  });
});

describe('errors name the column and what was expected', () => {
  test.each([
    ['', 1, /expected a feed/],
    ['batery 4V: 0', 1, /"batery" is not a feed; expected battery, usb-c, dc-in/],
    ['battery 4V 0.1', 12, /has no unit|expected/],
    ['battery 4V', 11, /expected ":"/],
    ['battery 4V:', 12, /no reading/],
    ['battery 4: 0', 9, /no unit/],
    ['battery 0V: 0', 9, /above 0/],
    ['battery 4V limit 0A: 0', 18, /above 0/],
    ['battery 4V limit 3V: 0', 18, /voltage; expected a current/],
    ['battery 4V: 0.07 -0.1', 18, /negative/],
    ['battery 4V: 300mAh', 13, /charge/],
    ['battery 4V: 300 mAh', 13, /charge/],
    ['battery 4V: 70mV', 13, /millivolts/],
    ['battery 4V: 12W', 13, /power; expected a current/],
    ['battery 4V: 3s', 13, /time; expected a current/],
    ['battery 4V: frog', 13, /"frog" is not expected here/],
    ['battery 4V: hold', 13, /"hold" needs a reading before it/],
    ['battery 4V: (0.1 0.2', 21, /expected "\)"/],
    ['battery 4V: (0.1 0.2) 6s', 23, /"loop"/],
    ['battery 4V: (0.1 0.2) loop 6', 28, /such as 6s/],
    ['battery 4V: () loop 6s', 13, /empty/],
    ['battery 4V: pulse 0.3s', 13, /"pulse" follows the level/],
    ['battery 4V: 0.1 @12', 17, /such as @12s/],
    ['battery 4V: 0.1 @12s', 17, /without a reading/],
    ['battery 4V half : 0', 17, /a name after "half"/],
    ['usb-c port x: 5V 0', 12, /not a port/],
    ['battery 4V unplugged "flex: 0', 22, /not closed/],
    ['battery 4V: 1e9', 13, /more than a bench can measure/],
    ['battery 4V: 0 | prompt 0.1 | prompt 0.2', 28, /given twice; expected one press/],
    ['battery 4V: 0.1 @12s 0.2 @3s 0.3', 26, /must increase; @3s comes after @12s/],
  ])('%s', (line, column, why) => {
    expect(() => readTypedRun(line, 'r')).toThrow(FormatError);
    try {
      readTypedRun(line, 'r');
    } catch (error) {
      expect((error as FormatError).place).toBe(`column ${column}`);
      expect((error as FormatError).problem).toMatch(why);
    }
  });
});

test('anything typed is read or refused, and what is read is a sound run', () => {
  const word = fc.constantFrom(
    'battery',
    'usb-c',
    '4V',
    'limit',
    '3A',
    ':',
    '|',
    'prompt',
    '0',
    '0.07',
    '55mA',
    '5V',
    'hold',
    '(',
    ')',
    'loop',
    '6s',
    'pulse',
    '0.3s',
    'off',
    '@12s',
    'port',
    '1',
    'flipped',
    '"a b"',
    'half',
  );
  const line = fc.oneof(
    fc.string({ maxLength: 60 }),
    fc.array(word, { maxLength: 16 }).map((w) => `battery 4V: ${w.join(' ')}`),
    fc.array(word, { maxLength: 16 }).map((w) => w.join(' ')),
  );
  fc.assert(
    fc.property(line, (text) => {
      try {
        const { run, trace } = readTypedRun(text, 'r');
        expect(trace.t.length).toBeGreaterThan(1);
        for (let k = 1; k < trace.t.length; k++) expect(trace.t[k]).toBeGreaterThan(trace.t[k - 1]);
        expect([...trace.i].every((i) => Number.isNaN(i) || (i >= 0 && i <= 1000))).toBe(true);
        for (const m of run.markers) expect(m.t).toBeLessThanOrEqual(trace.t[trace.t.length - 1] + 1e-6);
        expect(parseTypedLine(text).feed).toBe(run.feed);
      } catch (error) {
        if (!(error instanceof FormatError)) throw error;
        expect(error.place).toMatch(/^column \d+$/);
      }
    }),
    { numRuns: 1500 },
  );
});
