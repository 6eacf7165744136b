import { type DeviceClass, patternIds, type PatternId } from '../catalogue/index.ts';
import { repeatStrokes, type SketchInstrument, type Stroke } from '../sketch/index.ts';
import { caseOf, describeWithPatterns, sketchInstruments, sketchRun, type Outline } from '../testing/cases.ts';
import type { Marker } from '../trace/index.ts';

const { display, logger, meter, coarseMeter, probe } = sketchInstruments;
const on = (t: number): Marker => ({ t, event: 'output-on' });
const press = (t: number): Marker => ({ t, event: 'prompt' });
const battery = { setV: 4, limitA: 3, battery: 'disconnected' as const };
const dc = { setV: 19, limitA: 4, battery: 'disconnected' as const };
const quiet = (seconds: number, amps = 0.0015): Stroke => ({ seconds, amps });

interface Example {
  pattern: PatternId;
  what: string;
  device: DeviceClass;
  outline: Outline;
  instruments?: SketchInstrument[];
  complaint?: 'no-start' | 'no-charge' | 'slow-charge' | 'drain';
}

const healthyStart: Stroke[] = [
  { seconds: 0.5, amps: 0.08 },
  { seconds: 1.2, amps: 0.25 },
  { seconds: 9, amps: 0.4, burstTo: 1.25, burstS: 1.1 },
  { seconds: 8, amps: 0.2, burstTo: 0.4, burstS: 1.2 },
];

/** Outlines as a technician would draw them; each is seen through at least two instruments. */
const examples: Example[] = [
  {
    pattern: 'no-draw',
    what: 'a dead phone',
    device: 'phone',
    outline: { feed: 'battery', setup: battery, markers: [on(0), press(4)], strokes: [quiet(12, 0)] },
  },
  {
    pattern: 'limit-at-once',
    what: 'a hard short on main',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: { ...battery, limitA: 2 },
      markers: [on(1)],
      strokes: [quiet(1, 0), { seconds: 9, amps: 4 }],
    },
  },
  {
    pattern: 'limit-at-once',
    what: 'a shorted DC input',
    device: 'laptop',
    outline: { feed: 'dc-in', setup: { ...dc, limitA: 1 }, markers: [on(0)], strokes: [{ seconds: 9, amps: 3 }] },
  },
  {
    pattern: 'draw-before-prompt',
    what: 'a resistive short',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(6)],
      strokes: [
        { seconds: 6, amps: 0.28 },
        { seconds: 7, amps: 0.29 },
      ],
    },
  },
  {
    pattern: 'draw-before-prompt',
    what: 'a leak and no answer',
    device: 'tablet',
    outline: { feed: 'battery', setup: battery, markers: [on(0), press(6)], strokes: [{ seconds: 14, amps: 0.07 }] },
    complaint: 'no-start',
  },
  {
    pattern: 'surge-on-prompt',
    what: 'a shorted switched rail',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(4)],
      strokes: [quiet(4), { seconds: 0.3, amps: 0.15 }, { seconds: 9, amps: 3.4 }],
    },
  },
  {
    pattern: 'surge-on-prompt',
    what: 'a surge that times out',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: { ...battery, limitA: 2.5 },
      markers: [on(0), press(4)],
      strokes: [quiet(4), { seconds: 0.2, amps: 0.1 }, { seconds: 2.5, amps: 2.9 }, quiet(6)],
    },
  },
  {
    pattern: 'stall-low',
    what: 'the sequencer waits',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(4)],
      strokes: [quiet(4), { seconds: 11, amps: 0.055 }],
    },
  },
  {
    pattern: 'stall-mid',
    what: 'the loader waits',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(4)],
      strokes: [quiet(4), { seconds: 1, amps: 0.09 }, { seconds: 1.5, amps: 0.2 }, { seconds: 11, amps: 0.33 }],
    },
  },
  {
    pattern: 'restart-loop',
    what: 'the same start every six seconds',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(2)],
      strokes: [
        quiet(2),
        ...repeatStrokes(6, [
          { seconds: 1, amps: 0.1 },
          { seconds: 2.5, amps: 0.35 },
          { seconds: 2.5, amps: 0.002 },
        ]),
      ],
    },
  },
  {
    pattern: 'hiccup',
    what: 'a converter that retries',
    device: 'laptop',
    outline: {
      feed: 'dc-in',
      setup: dc,
      markers: [on(0), press(2)],
      strokes: [
        quiet(2, 0.02),
        ...repeatStrokes(24, [
          { seconds: 0.25, amps: 0.03 },
          { seconds: 0.15, amps: 0.6 },
        ]),
      ],
    },
    instruments: [logger, probe],
  },
  {
    pattern: 'start-then-off',
    what: 'a good start that lets go',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(4)],
      strokes: [
        quiet(4),
        { seconds: 1, amps: 0.12 },
        { seconds: 1.5, amps: 0.4 },
        { seconds: 2, amps: 0.75 },
        quiet(9, 0.001),
      ],
    },
  },
  {
    pattern: 'normal-start',
    what: 'a healthy phone',
    device: 'phone',
    outline: { feed: 'battery', setup: battery, markers: [on(0), press(3)], strokes: [quiet(3), ...healthyStart] },
  },
  {
    pattern: 'idle-drain',
    what: 'asleep and drinking',
    device: 'phone',
    outline: { feed: 'battery', setup: { ...battery, deviceState: 'asleep' }, strokes: [{ seconds: 40, amps: 0.08 }] },
    complaint: 'drain',
  },
  {
    pattern: 'idle-drain',
    what: 'off and leaking, but it starts',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(6)],
      strokes: [{ seconds: 6, amps: 0.07 }, ...healthyStart],
    },
    complaint: 'drain',
  },
  {
    pattern: 'erratic',
    what: 'a loose contact',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(2)],
      strokes: [
        quiet(2),
        { seconds: 1.5, amps: 0.35 },
        quiet(2.6, 0),
        { seconds: 4.2, amps: 0.36 },
        quiet(1.1, 0),
        { seconds: 2, amps: 0.35 },
        quiet(4.3, 0),
        { seconds: 5.4, amps: 0.34 },
        quiet(1.2, 0),
        { seconds: 3, amps: 0.36 },
      ],
    },
  },
  {
    pattern: 'no-attach',
    what: 'no bus voltage',
    device: 'laptop',
    outline: { feed: 'usb-c', strokes: [{ seconds: 12, amps: 0, volts: 0 }] },
    instruments: [meter, coarseMeter],
  },
  {
    pattern: 'attach-cycling',
    what: 'attaches every two seconds',
    device: 'laptop',
    outline: {
      feed: 'usb-c',
      strokes: repeatStrokes(8, [
        { seconds: 1.2, amps: 0.04, volts: 5.1 },
        { seconds: 1.2, amps: 0, volts: 0 },
      ]),
    },
    instruments: [meter, coarseMeter],
  },
  {
    pattern: 'unraised-dark',
    what: 'a dark laptop at 5 V',
    device: 'laptop',
    outline: { feed: 'usb-c', strokes: [{ seconds: 12, amps: 0.008, volts: 5.1 }] },
    instruments: [meter, coarseMeter],
  },
  {
    pattern: 'unraised-low',
    what: 'controllers awake at 5 V',
    device: 'laptop',
    outline: { feed: 'usb-c', strokes: [{ seconds: 12, amps: 0.07, volts: 5.1 }] },
    instruments: [meter, coarseMeter],
  },
  {
    pattern: 'unraised-low',
    what: 'a fifth of an ampere at 5 V',
    device: 'laptop',
    outline: { feed: 'usb-c', strokes: [{ seconds: 12, amps: 0.22, volts: 5.1 }] },
    instruments: [meter, coarseMeter],
  },
  {
    pattern: 'dark-hold',
    what: '20 V and nothing',
    device: 'laptop',
    outline: {
      feed: 'usb-c',
      strokes: [
        { seconds: 1, amps: 0.02, volts: 5 },
        { seconds: 12, amps: 0.004, volts: 20 },
      ],
      setup: { battery: 'disconnected' },
    },
    instruments: [meter, probe],
  },
  {
    pattern: 'dark-hold',
    what: 'a dark DC input',
    device: 'laptop',
    outline: { feed: 'dc-in', setup: dc, markers: [on(0), press(5)], strokes: [quiet(12, 0.003)] },
    instruments: [logger, display],
    complaint: 'no-start',
  },
  {
    pattern: 'standby-hold',
    what: 'ignores the press at 1 W',
    device: 'laptop',
    outline: { feed: 'dc-in', setup: dc, markers: [on(0), press(5)], strokes: [quiet(13, 0.05)] },
    instruments: [logger, display],
  },
  {
    pattern: 'partial-hold',
    what: 'nearly up at 4 W',
    device: 'laptop',
    outline: {
      feed: 'dc-in',
      setup: dc,
      markers: [on(0), press(3)],
      strokes: [quiet(3, 0.03), { seconds: 14, amps: 0.21 }],
    },
    instruments: [logger, display],
  },
  {
    pattern: 'partial-hold',
    what: 'nearly up on USB-C',
    device: 'laptop',
    outline: {
      feed: 'usb-c',
      setup: { battery: 'disconnected' },
      strokes: [
        { seconds: 1, amps: 0.1, volts: 5 },
        { seconds: 14, amps: 0.21, volts: 20 },
      ],
    },
    instruments: [meter, coarseMeter],
    complaint: 'no-start',
  },
  {
    pattern: 'charge-limited',
    what: 'half the current',
    device: 'phone',
    outline: {
      feed: 'usb-c',
      setup: { battery: 'connected', batteryV: 3.7 },
      strokes: [
        { seconds: 1.5, amps: 0.1, volts: 5 },
        { seconds: 25, amps: 0.55, volts: 9 },
      ],
    },
    instruments: [meter, coarseMeter],
    complaint: 'slow-charge',
  },
  {
    pattern: 'charge-refused',
    what: 'runs and takes nothing',
    device: 'phone',
    outline: {
      feed: 'usb-c',
      setup: { battery: 'connected', deviceState: 'running', batteryV: 3.7 },
      strokes: [
        { seconds: 1, amps: 0.01, volts: 5 },
        { seconds: 20, amps: 0.006, volts: 9 },
      ],
    },
    instruments: [meter, coarseMeter],
    complaint: 'no-charge',
  },
  {
    pattern: 'charge-normal',
    what: 'ramps to full current',
    device: 'phone',
    outline: {
      feed: 'usb-c',
      setup: { battery: 'connected', batteryV: 3.7 },
      strokes: [
        { seconds: 1.5, amps: 0.2, volts: 5 },
        { seconds: 4, amps: 0.3, toAmps: 1.65, volts: 9 },
        { seconds: 25, amps: 1.66, volts: 9 },
      ],
    },
    instruments: [meter, coarseMeter],
    complaint: 'slow-charge',
  },
  {
    pattern: 'charge-normal',
    what: 'an e-reader at 5 V',
    device: 'ereader',
    outline: {
      feed: 'usb-c',
      setup: { battery: 'connected', batteryV: 3.6 },
      strokes: [{ seconds: 20, amps: 0.88, volts: 5 }],
    },
    instruments: [meter, coarseMeter],
    complaint: 'no-charge',
  },
  {
    pattern: 'voltage-dropout',
    what: 'the battery connector collapses',
    device: 'phone',
    outline: {
      feed: 'usb-c',
      quantity: 'voltage-only',
      strokes: repeatStrokes(5, [
        { seconds: 3, amps: 0, volts: 4.1 },
        { seconds: 1.5, amps: 0, volts: 2.9 },
      ]),
    },
    instruments: [meter, coarseMeter],
  },
  {
    pattern: 'quiet',
    what: 'not pressed yet',
    device: 'phone',
    outline: { feed: 'battery', setup: battery, markers: [on(0)], strokes: [quiet(15, 0.0018)] },
  },
  {
    pattern: 'voltage-steady',
    what: 'the battery connector holds',
    device: 'phone',
    outline: { feed: 'usb-c', quantity: 'voltage-only', strokes: [{ seconds: 30, amps: 0, volts: 4.12 }] },
    instruments: [meter, coarseMeter],
  },
  {
    pattern: 'normal-start',
    what: 'a healthy start that was switched off three seconds before the recording ends',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(4)],
      strokes: [quiet(4), ...healthyStart, { seconds: 3, amps: 0, volts: 0 }],
    },
  },
  {
    pattern: 'normal-start',
    what: 'a start that was switched off while it still climbed',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(3)],
      strokes: [
        quiet(3),
        { seconds: 0.5, amps: 0.08 },
        { seconds: 0.5, amps: 0.16 },
        { seconds: 0.5, amps: 0.27 },
        { seconds: 0.5, amps: 0.36 },
        { seconds: 0.4, amps: 0.43 },
        { seconds: 2, amps: 0, volts: 0 },
      ],
    },
    instruments: [logger, probe],
  },
  {
    pattern: 'stall-mid',
    what: 'a freeze that was switched off',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(4)],
      strokes: [quiet(4), { seconds: 0.5, amps: 0.1 }, { seconds: 9, amps: 0.33 }, { seconds: 3, amps: 0, volts: 0 }],
    },
  },
  {
    pattern: 'idle-drain',
    what: 'started, put to sleep, still drawing a tenth of its idle and twenty times its rest',
    device: 'phone',
    outline: {
      feed: 'battery',
      setup: battery,
      markers: [on(0), press(4), { t: 24, event: 'note', note: 'asleep' }],
      strokes: [quiet(4), ...healthyStart, { seconds: 30, amps: 0.045 }],
    },
    complaint: 'drain',
  },
  {
    pattern: 'dark-hold',
    what: 'pulses of a tenth of a watt at 20 V',
    device: 'laptop',
    outline: {
      feed: 'usb-c',
      setup: { battery: 'disconnected' },
      strokes: [
        { seconds: 1, amps: 0.01, volts: 5 },
        ...repeatStrokes(10, [
          { seconds: 0.8, amps: 0.002, volts: 20 },
          { seconds: 0.8, amps: 0.006, volts: 20 },
        ]),
      ],
    },
    instruments: [meter, probe],
  },
  {
    pattern: 'start-then-off',
    what: 'a start on the port that its battery does not carry',
    device: 'handheld',
    outline: {
      feed: 'usb-c',
      setup: { battery: 'connected' },
      strokes: [
        { seconds: 0.6, amps: 0.02, volts: 5 },
        { seconds: 2, amps: 0.035, volts: 15 },
        { seconds: 0.5, amps: 0.08 },
        { seconds: 0.6, amps: 0.16 },
        { seconds: 8, amps: 0.25, burstTo: 0.75, burstS: 0.6 },
        { seconds: 22, amps: 0.034 },
      ],
    },
    instruments: [meter, coarseMeter],
    complaint: 'no-start',
  },
  {
    pattern: 'charge-normal',
    what: 'two minutes of precharge, then full current',
    device: 'phone',
    outline: {
      feed: 'usb-c',
      setup: { battery: 'connected' },
      strokes: [
        { seconds: 2, amps: 0.02, volts: 5 },
        { seconds: 110, amps: 0.11, volts: 9 },
        { seconds: 3, amps: 0.3, toAmps: 1.7 },
        { seconds: 300, amps: 1.75 },
      ],
    },
    instruments: [coarseMeter],
    complaint: 'slow-charge',
  },
];

describe.each(examples)(
  '$pattern: $what',
  ({ pattern, device, outline, instruments = [display, logger, probe], complaint }) => {
    test.each(instruments.map((i) => ({ i, name: `${i.rateHz} Hz, ${i.resolutionA * 1000} mA` })))(
      'at $name',
      ({ i }) => {
        const value = caseOf(device, { complaintKind: complaint ?? null });
        for (const seed of [1, 2, 3]) {
          const { run, trace } = sketchRun(outline, i, seed);
          const { patterns } = describeWithPatterns(value, run, trace);
          expect(patterns[0]).toMatchObject({ id: pattern });
          expect(patterns[0].p).toBeGreaterThan(0.4);
        }
      },
    );
  },
);

describe('a power-on marker that is given by hand', () => {
  const pressed = examples.filter((e) => e.outline.markers?.some((m) => m.event === 'prompt'));
  test.each([-0.4, 0.6, 1.7, 2.7])('%d s late shows what one at the very moment shows', (late) => {
    for (const { device, outline, instruments = [display, logger, probe], complaint, what } of pressed)
      for (const i of instruments) {
        const value = caseOf(device, { complaintKind: complaint ?? null });
        const [exact, byHand] = [0, late].map((delay) => {
          const markers = outline.markers?.map((m) =>
            m.event === 'prompt' && delay !== 0 ? { ...m, t: m.t + delay, said: m.t + delay } : m,
          );
          const { run, trace } = sketchRun({ ...outline, markers }, i);
          return describeWithPatterns(value, run, trace).patterns[0];
        });
        expect([what, i.rateHz, byHand.id]).toEqual([what, i.rateHz, exact.id]);
      }
  });
  test('has a step of its own: the one of a part that came off before is not that of the next', () => {
    const strokes = [quiet(4, 0.7), quiet(10, 0.1)];
    const markers: Marker[] = [
      on(0),
      { t: 4.3, event: 'part-off', note: 'one', said: 4.3 },
      { t: 6.2, event: 'part-off', note: 'two', said: 6.2 },
    ];
    const { run, trace } = sketchRun({ feed: 'battery', strokes, markers, setup: battery }, logger);
    const { shape } = describeWithPatterns(caseOf('phone'), run, trace);
    const off = shape.markers.filter((m) => m.event === 'part-off');
    expect(off[0].t).toBeCloseTo(4, 0);
    expect(off[1].t).toBe(6.2);
  });

  test('stands where it was said where nothing answers it, and its own step is told with both times', () => {
    const at = (strokes: Stroke[], said: number) => {
      const markers: Marker[] = [on(0), { t: said, event: 'prompt', said }];
      const { run, trace } = sketchRun({ feed: 'battery', strokes, markers, setup: battery }, logger);
      return describeWithPatterns(caseOf('phone'), run, trace).shape;
    };
    const dead = at([quiet(12, 0)], 6);
    expect(dead.markers.find((m) => m.event === 'prompt')?.t).toBe(6);
    const found = at([quiet(4), ...healthyStart], 6.1);
    expect(found.markers.find((m) => m.event === 'prompt')?.t).toBeCloseTo(4, 0);
    expect(found.warnings.join(' ')).toMatch(
      /The marker for power-on was given at 6\.1 s; its step is at (3\.9|4(\.0)?\d?) s/,
    );
    // Four seconds late is no slip of the hand: it is taken as it is said.
    expect(at([quiet(4), { seconds: 20, amps: 0.3 }], 8).features.promptT).toBe(8);
  });
});

test.each([display, logger, probe])('a start that repeats with bursts in it is a loop, not a swing (%#)', (i) => {
  const piece: Stroke[] = [
    { seconds: 1.2, amps: 0.002 },
    { seconds: 0.4, amps: 0.13 },
    { seconds: 0.9, amps: 0.3 },
    { seconds: 3.6, amps: 0.45, burstTo: 0.85, burstS: 0.3 },
  ];
  const markers: Marker[] = [{ t: 4, event: 'prompt' }];
  const { run, trace } = sketchRun(
    { feed: 'battery', strokes: [quiet(4), ...repeatStrokes(6, piece)], markers, setup: battery },
    i,
  );
  expect(describeWithPatterns(caseOf('phone'), run, trace).patterns[0].id).toBe('restart-loop');
});

test('every pattern but unrecognised has an example', () => {
  const covered = new Set(examples.map((e) => e.pattern));
  expect(patternIds.filter((id) => !covered.has(id))).toEqual(['unrecognised']);
});

describe('unrecognised', () => {
  const wave = (f: (t: number) => number, seconds = 40): Stroke[] =>
    Array.from({ length: seconds * 20 }, (_, k) => ({ seconds: 0.05, amps: Math.max(0, f(k / 20)) }));
  const nonsense: [string, Stroke[]][] = [
    ['a sine', wave((t) => 0.5 + 0.4 * Math.sin((2 * Math.PI * t) / 5))],
    ['a slow sine', wave((t) => 0.3 + 0.3 * Math.sin((2 * Math.PI * t) / 17))],
    ['a ramp that never ends', wave((t) => 0.02 * t)],
    ['a triangle', wave((t) => 0.8 * Math.abs(((t / 4) % 2) - 1))],
  ];
  test.each(nonsense)('%s', (_, strokes) => {
    for (const instrument of [logger, coarseMeter]) {
      const { run, trace } = sketchRun({ feed: 'battery', strokes, setup: battery }, instrument);
      const { patterns } = describeWithPatterns(caseOf('phone'), run, trace);
      expect(patterns[0].id).toBe('unrecognised');
    }
  });

  const heater = repeatStrokes(8, [
    { seconds: 20, amps: 0.8 },
    { seconds: 15, amps: 0 },
  ]);
  const lamp: Stroke[] = [
    quiet(1),
    { seconds: 0.3, amps: 2.4, toAmps: 1.1 },
    { seconds: 0.5, amps: 1.1, toAmps: 0.6 },
    { seconds: 38, amps: 0.6 },
  ];
  test.each<[string, Stroke[], Marker[]]>([
    ['a thermostat that switches by itself', heater, []],
    ['a thermostat that a press does not impress', [quiet(1), ...heater], [{ t: 30, event: 'prompt' }]],
    [
      'a lamp that a press does not impress',
      lamp,
      [
        { t: 1, event: 'output-on' },
        { t: 10, event: 'prompt' },
      ],
    ],
  ])('%s', (_, strokes, markers) => {
    for (const instrument of [logger, probe]) {
      const { run, trace } = sketchRun({ feed: 'battery', strokes, markers, setup: battery }, instrument);
      const { patterns } = describeWithPatterns(caseOf('phone'), run, trace);
      expect(patterns[0].id).toBe('unrecognised');
    }
  });

  test('a start-up that falls from its rush into a hold is no lamp', () => {
    const strokes = [quiet(3), { seconds: 0.4, amps: 0.5 }, { seconds: 20, amps: 0.12 }];
    const markers: Marker[] = [
      { t: 0.1, event: 'output-on' },
      { t: 3, event: 'prompt' },
    ];
    const { run, trace } = sketchRun({ feed: 'battery', strokes, markers, setup: battery }, logger);
    expect(describeWithPatterns(caseOf('phone'), run, trace).patterns[0].id).not.toBe('unrecognised');
  });

  test('a run without a single value', () => {
    const { run, trace } = sketchRun({ feed: 'battery', strokes: [quiet(5)] }, logger);
    const empty = { ...trace, v: trace.v.map(() => NaN), i: trace.i.map(() => NaN) };
    expect(describeWithPatterns(caseOf('phone'), run, empty).patterns[0].id).toBe('unrecognised');
  });

  test('a log that reads more than its limit allows', () => {
    const { run, trace } = sketchRun({ feed: 'battery', strokes: [quiet(3), { seconds: 8, amps: 2 }] }, logger);
    const impossible = { ...run, setup: { ...run.setup, limitA: 1 } };
    const { shape, patterns } = describeWithPatterns(caseOf('phone'), impossible, { ...trace, limitA: 1 });
    expect(shape.features.contradictions[0]).toMatch(/limited to 1\.00 A/);
    expect(patterns[0].id).toBe('unrecognised');
  });
});

test('probabilities of every run sum to one', () => {
  for (const { device, outline } of examples) {
    const { run, trace } = sketchRun(outline, logger);
    const { patterns } = describeWithPatterns(caseOf(device), run, trace);
    expect(patterns).toHaveLength(patternIds.length);
    expect(patterns.reduce((sum, p) => sum + p.p, 0)).toBeCloseTo(1, 9);
  }
});
