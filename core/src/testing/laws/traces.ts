import type { DeviceClass, Feed, PatternId } from '../../catalogue/index.ts';
import { classes, classIds, round, seenAt } from './bench.ts';
import { chance, type Chance } from './chance.ts';
import { claim, patternOf, type Claim } from './claims.ts';
import { bare, type Draft } from './draft.ts';
import { law, type Law } from './law.ts';

/** What a recording is called does not hang on the clock, the meter, the marks or the silence around it. */
const drawn: Partial<Record<Feed, readonly PatternId[]>> = Object.fromEntries(
  Object.entries(seenAt).map(([feed, kinds]) => [feed, [...kinds, 'normal-start']]),
);
/** The patterns that a slow meter may take each one for. */
const beside: Partial<Record<PatternId, readonly PatternId[]>> = {
  'no-draw': ['quiet', 'stall-low'],
  'stall-low': ['stall-mid', 'no-draw'],
  'stall-mid': ['stall-low', 'normal-start'],
  'restart-loop': ['hiccup', 'start-then-off'],
  hiccup: ['restart-loop', 'surge-on-prompt'],
  'start-then-off': ['normal-start', 'restart-loop'],
  'normal-start': ['stall-mid', 'start-then-off'],
  'draw-before-prompt': ['idle-drain', 'limit-at-once'],
  'limit-at-once': ['surge-on-prompt', 'draw-before-prompt'],
  'surge-on-prompt': ['limit-at-once', 'start-then-off'],
  'dark-hold': ['standby-hold', 'no-draw'],
  'standby-hold': ['dark-hold', 'partial-hold'],
  'partial-hold': ['standby-hold', 'stall-mid'],
};

interface Subject {
  class: DeviceClass;
  feed: Feed;
  kind: PatternId;
}

interface Device extends Subject {
  setV: number;
  limitA: number;
  /** Seconds. */
  on: number;
  press: number;
  /** Amperes and volts at a time, with times and currents scaled. */
  at: (t: number, scale: Scale) => { a: number; v: number };
}

interface Scale {
  time: number;
  level: number;
}
const asItIs: Scale = { time: 1, level: 1 };
const seconds = 19;

/** Draws a device of some pattern on a bench supply. */
function deviceFor(r: Chance, which: (s: Subject) => boolean = () => true): Device {
  const all = classIds.flatMap((id) =>
    classes[id].feeds.flatMap((feed) => (drawn[feed] ?? []).map((kind) => ({ class: id, feed, kind }))),
  );
  const kind = r.pick([...new Set(all.filter(which).map((s) => s.kind))]);
  const s = r.pick(all.filter((x) => which(x) && x.kind === kind));
  const c = classes[s.class];
  const setV = round(r.between(...(c.volts[s.feed] ?? [5, 5])), s.feed === 'battery' ? 1 : 0);
  const peak = r.between(...c.peakW) / setV;
  const settled = Math.min(r.between(...c.settledW) / setV, 0.65 * peak);
  const limitA = r.pick([...c.limits.filter((l) => l > 1.5 * peak), Math.ceil(1.6 * peak)]);
  const on = 1;
  const press = on + r.between(1.5, 3);
  const rest = s.feed === 'dc-in' ? r.between(0.35, 0.5) / setV : 0.0012;
  const collapsed = Math.min(limitA * r.between(0.15, 0.4), 0.3 * setV);
  const after = afterPress(r, s.kind, { peak, settled, rest, setV });
  const early = r.between(0.15, 0.45) * limitA;
  const wait = r.between(0.15, 0.4);
  const at = (t: number, { time, level }: Scale): { a: number; v: number } => {
    if (t < on) return { a: 0, v: 0 };
    const since = (t - press) / time - wait;
    const isLimited = s.kind === 'limit-at-once' || (s.kind === 'surge-on-prompt' && since >= 0);
    if (isLimited) return { a: limitA, v: collapsed };
    if (s.kind === 'no-draw') return { a: 0, v: setV };
    if (s.kind === 'draw-before-prompt') return { a: early * level, v: setV };
    const isHeld = ['dark-hold', 'standby-hold', 'partial-hold'].includes(s.kind);
    return { a: level * (since < 0 && !isHeld ? rest : after(since)), v: setV };
  };
  return { ...s, setV, limitA, on, press, at };
}

/** Amperes at a time after the device has answered the press. */
function afterPress(
  r: Chance,
  kind: PatternId,
  { peak, settled, rest, setV }: Readonly<Record<'peak' | 'settled' | 'rest' | 'setV', number>>,
): (x: number) => number {
  const moving = Array.from({ length: 64 }, () => r.between(0.62, 1.45));
  const stairs = (x: number): number => {
    const step = [0.5, 1.2, 2, 2.8].findIndex((end) => x < end);
    return step < 0 ? settled * moving[Math.floor((x - 2.8) / 0.6) % 64] : [0.1, 0.3, 0.6, 1][step] * peak;
  };
  const held = r.between(
    ...(({ 'dark-hold': [0.05, 0.14], 'standby-hold': [0.75, 1.5] }[kind as string] ?? [3.3, 4.7]) as [number, number]),
  );
  const [low, first, second, third] = [
    r.between(0.055, 0.1),
    r.between(0.08, 0.12),
    r.between(0.17, 0.23),
    r.between(0.28, 0.36),
  ];
  const [period, fast, duty, steady] = [r.between(3, 6), r.between(0.3, 0.55), r.between(0.3, 0.45), r.between(3.5, 6)];
  switch (kind) {
    case 'stall-low':
      return () => low * peak;
    case 'stall-mid':
      return (x) => (x < 0.6 ? first : x < 1.5 ? second : third) * peak;
    case 'restart-loop':
      return (x) => {
        const part = (x % period) / period;
        return part < 0.35 ? first * peak : part < 0.8 ? 0.45 * peak : rest;
      };
    case 'hiccup':
      return (x) => (x % fast < duty * fast ? 0.3 * peak : rest);
    case 'start-then-off':
      return (x) => (x < steady ? stairs(x) : rest);
    case 'normal-start':
      return stairs;
    default:
      return () => held / setV;
  }
}

interface Recording {
  /** Rows a second. */
  rate: number;
  gain: number;
  offset: number;
  isStated: boolean;
  marks: readonly string[];
  /** Seconds that are cut off at the beginning, and seconds of silence before and after. */
  cut: number;
  lead: number;
  tail: number;
  kind: string;
  scale: Scale;
}
const usual: Recording = {
  rate: 20,
  gain: 1,
  offset: 0,
  isStated: false,
  marks: ['output-on', 'prompt'],
  cut: 0,
  lead: 0,
  tail: 0,
  kind: 'bench-supply',
  scale: asItIs,
};
const insideStep = 20;

/** A case with one recording of the device: averaged to a rate, through an instrument. */
function recorded(d: Device, how: Partial<Recording> = {}): Draft {
  const o = { ...usual, ...how };
  const noise = chance(1);
  const rows = ['t_s,voltage_V,current_A'];
  const put = (t: number, v: number, a: number): number =>
    rows.push(`${t.toFixed(3)},${v.toFixed(2)},${(Math.round(a / 0.001) * 0.001).toFixed(4)}`);
  const silence = Math.max(0, o.offset);
  const before = Math.round(o.lead * o.rate);
  const rowsOfRun = Math.floor((seconds * Math.max(1, o.scale.time) - o.cut) * o.rate);
  for (let k = 0; k < before; k++) put(k / o.rate, 0, silence);
  for (let k = 0; k < rowsOfRun; k++) {
    const within = Array.from({ length: insideStep }, (_, i) =>
      d.at(o.cut + (k + (i + 0.5) / insideStep) / o.rate, o.scale),
    );
    const mean = (key: 'a' | 'v'): number => within.reduce((sum, x) => sum + x[key], 0) / insideStep;
    const isFlat = mean('a') >= d.limitA || mean('a') === 0;
    const a = mean('a') + (isFlat ? 0 : noise.between(-1, 1) * (0.0004 + 0.004 * mean('a')));
    put((before + k) / o.rate, mean('v'), Math.max(0, Math.min(a * o.gain + o.offset, Math.max(d.limitA, a))));
  }
  const off = (before + rowsOfRun) / o.rate;
  for (let k = 0; k < o.tail * o.rate; k++) put(off + k / o.rate, 0, silence);
  const markers = [
    { t: d.on, event: 'output-on' },
    { t: d.press, event: 'prompt' },
  ]
    .filter((m) => o.marks.includes(m.event))
    .map((m) => ({ ...m, t: round(Math.max(0, m.t - o.cut + before / o.rate), 3) }));
  if (o.tail > 0 && o.marks.length > 0) markers.push({ t: round(off, 3), event: 'output-off' });
  const instrument = {
    kind: o.kind,
    rateHz: o.rate,
    averagingS: 1 / o.rate,
    resolutionA: 0.001,
    resolutionV: 0.01,
    ...(o.isStated && { gainA: o.gain, offsetA: o.offset }),
  };
  const setup = { setV: d.setV, limitA: d.limitA, battery: d.class === 'console' ? 'absent' : 'disconnected' };
  return {
    ...bare(d.class),
    runs: [{ id: 'r1', file: 'runs/r1.csv', feed: d.feed, quantity: 'current', instrument, setup, markers }],
    files: { 'runs/r1.csv': `${rows.join('\n')}\n` },
  };
}

type Answer = Parameters<typeof patternOf>[0];

const says = (a: Answer): string => `${patternOf(a).id} ${patternOf(a).p.toFixed(2)}`;
const sameName = (a: Answer, b: Answer): Claim =>
  claim('the same name', patternOf(a).id === patternOf(b).id, `${says(a)}, ${says(b)}`);
function nearName(a: Answer, b: Answer): Claim {
  const [x, y] = [patternOf(a), patternOf(b)];
  const isNear = (beside[x.id] ?? []).includes(y.id) && y.p >= 0.3;
  return claim('the same name or one beside it', x.id === y.id || isNear, `${says(a)}, ${says(b)}`);
}
const about = (d: Device): string => `${d.class}, ${d.feed} ${d.setV} V limit ${d.limitA} A, ${d.kind}`;

export const traceLaws: readonly Law[] = [
  law(
    'slower-and-thirstier',
    'Another unit may be slower or draw more. The same fault still shows the same pattern.',
    (r) => {
      const scale = { time: r.between(0.7, 1.4), level: r.between(0.8, 1.25) };
      const d = deviceFor(r, (s) => s.kind !== 'dark-hold' || scale.level < 1.2);
      return {
        about: `${about(d)}; times ${scale.time.toFixed(2)}, currents ${scale.level.toFixed(2)}`,
        cases: { one: recorded(d), two: recorded(d, { scale }) },
        judge: ({ one, two }) => [sameName(one, two)],
      };
    },
  ),
  law('another-meter', 'A slow or slightly inaccurate meter shows the same pattern, or the one next to it.', (r) => {
    const rate = r.pick([1000, 200, 5, 5, 2, 2]);
    const d = deviceFor(r, (s) => !(s.kind === 'hiccup' && rate <= 5));
    const offset = r.pick([0, 0.005, -0.005]);
    const isFine = d.class === 'ereader' || ['no-draw', 'dark-hold', 'stall-low'].includes(d.kind);
    const meter = { rate, gain: r.between(0.99, 1.01), offset, isStated: isFine || r.yes(0.3) };
    return {
      about: `${about(d)}; ${JSON.stringify(meter)}`,
      cases: { one: recorded(d), two: recorded(d, meter) },
      judge: ({ one, two }) => [nearName(one, two)],
    };
  }),
  law(
    'without-marks',
    'A recording shows when the output came on and the button was pressed, even without markers.',
    (r) => {
      const d = deviceFor(r, (s) => s.kind !== 'limit-at-once');
      const how = r.pick([{ marks: [] }, { cut: d.on, marks: [] }, { cut: d.on, marks: ['prompt'] }]);
      return {
        about: `${about(d)}; ${JSON.stringify(how)}`,
        cases: { one: recorded(d), two: recorded(d, how) },
        judge: ({ one, two }) => [nearName(one, two)],
      };
    },
  ),
  law(
    'flat-limit',
    'Flat at the current limit from the first sample is a hard short, on any instrument, with or without markers.',
    (r) => {
      const d = deviceFor(r, (s) => s.kind === 'limit-at-once');
      const meter = { rate: r.pick([1000, 20, 5, 2]), kind: r.pick(['bench-supply', 'dmm', 'current-probe']) };
      const how = r.pick([{ marks: [] }, { cut: d.on, marks: [] }, { cut: d.on, marks: ['prompt'] }]);
      return {
        about: `${about(d)}; ${JSON.stringify({ ...meter, ...how })}`,
        cases: { one: recorded(d, meter), two: recorded(d, { ...meter, ...how }) },
        judge: (a) => [a.one, a.two].map((x) => claim('limit-at-once', patternOf(x).id === 'limit-at-once', says(x))),
      };
    },
  ),
  law('silence-around', 'Zeros before the output comes on and after it goes off say nothing about the device.', (r) => {
    const d = deviceFor(r);
    const marks = r.yes(0.7) ? usual.marks : [];
    const silence = { lead: r.whole(0, 8), tail: r.pick([0, 3, 3]) };
    return {
      about: `${about(d)}; ${JSON.stringify({ marks, ...silence })}`,
      cases: { one: recorded(d, { cut: d.on, marks }), two: recorded(d, { cut: d.on, marks, ...silence }) },
      judge: ({ one, two }) => [sameName(one, two)],
    };
  }),
];
