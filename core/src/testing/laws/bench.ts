import { feeds, type DeviceClass, type Feed, type PatternId } from '../../catalogue/index.ts';
import windows from './bench.json';
import type { Chance } from './chance.ts';

/** Made-up devices on a bench: what a class starts with, and failing and healthy runs as people type them. */
export interface ClassWindows {
  feeds: Feed[];
  /** Watts of a healthy start, at its peak and once it has settled, well inside what is usual for its class. */
  peakW: [number, number];
  settledW: [number, number];
  /** Volts of the bench supply, by feed. */
  volts: Partial<Record<Feed, [number, number]>>;
  limits: number[];
  /** Volts that the port settles on, and the watts of a charge there. */
  portV: number;
  chargeW: [number, number];
}

export const classes = windows as unknown as Record<DeviceClass, ClassWindows>;
export const classIds = Object.keys(classes) as DeviceClass[];

/** A figure with so many digits, as a display shows it. */
export const round = (x: number, digits = 2): number => Number(x.toFixed(digits));
/** Amperes as a display shows them: milliamperes below 0.1 A, hundredths above. */
export const amp = (a: number): number => round(a, a < 0.1 ? 3 : 2);

/** What can be seen of a failing device at each feed. */
export const seenAt: Partial<Record<Feed, PatternId[]>> = {
  battery: [
    'no-draw',
    'limit-at-once',
    'draw-before-prompt',
    'surge-on-prompt',
    'stall-low',
    'stall-mid',
    'restart-loop',
    'start-then-off',
    'hiccup',
  ],
  'dc-in': ['limit-at-once', 'dark-hold', 'standby-hold', 'partial-hold'],
};
const seenAtPort: Partial<Record<DeviceClass, PatternId[]>> = {
  handheld: ['unraised-dark', 'dark-hold', 'standby-hold'],
  laptop: ['unraised-dark', 'unraised-low', 'dark-hold', 'standby-hold', 'partial-hold'],
};

export interface Situation {
  class: DeviceClass;
  feed: Feed;
  kind: PatternId;
}

/** Every class, feed and failing pattern that go together. */
export const situations: Situation[] = classIds.flatMap((id) =>
  feeds
    .filter((feed) => classes[id].feeds.includes(feed))
    .flatMap((feed) =>
      (seenAt[feed] ?? seenAtPort[id] ?? ['unraised-dark' as const]).map((kind) => ({ class: id, feed, kind })),
    ),
);

/** A failing device on a bench. */
export interface Bench extends Situation {
  setV: number;
  limitA: number;
  peakW: number;
  settledW: number;
  /** What was read, the part behind the colon of a typed line. */
  read: string;
  /** How it was powered, the part before the colon. */
  powered: (extra?: string) => string;
  line: (extra?: string) => string;
  expect: Record<string, number>;
}

/** Puts a failing device of a chosen kind on the bench. */
export function failing(r: Chance, where: (s: Situation) => boolean = () => true): Bench {
  const s = r.pick(situations.filter(where));
  const c = classes[s.class];
  const peakW = r.between(...c.peakW);
  const settledW = Math.min(r.between(...c.settledW), 0.72 * peakW);
  const volts = c.volts[s.feed];
  const setV = volts ? round(r.between(...volts), s.feed === 'battery' ? 1 : 0) : c.portV;
  const limitA = r.pick([...c.limits.filter((l) => l * setV > 1.15 * peakW), Math.max(...c.limits)]);
  const read = readOf(r, s, { setV, limitA, peakA: peakW / setV });
  const powered = (extra = ''): string => {
    const feed = s.feed === 'usb-c' ? 'usb-c port 1' : `${s.feed} ${setV}V limit ${limitA}A`;
    return extra ? `${feed} ${extra}` : feed;
  };
  const known: Record<string, number> =
    s.feed === 'usb-c'
      ? { contractV: setV }
      : s.feed === 'battery'
        ? { batteryV: setV, startPeakA: round(peakW / setV) }
        : { dcV: setV };
  return {
    ...s,
    setV,
    limitA,
    peakW,
    settledW,
    read,
    powered,
    line: (extra) => `${powered(extra)}: ${read}`,
    expect: s.feed === 'usb-c' || r.yes() ? known : {},
  };
}

function readOf(
  r: Chance,
  { feed, kind }: Situation,
  { setV, limitA, peakA }: { setV: number; limitA: number; peakA: number },
): string {
  const isRaised = kind !== 'unraised-dark' && kind !== 'unraised-low';
  const before = feed !== 'usb-c' ? '' : isRaised ? `5V ${amp(r.between(0.03, 0.06))} ${setV}V ` : '5V ';
  const hold = (a: number): string =>
    feed === 'usb-c' && r.yes() ? `${before}${a} hold` : `${before}${a} hold | prompt ${a} hold`;
  const share = (low: number, high: number): number => amp(peakA * r.between(low, high));
  const watts = (low: number, high: number): string => hold(amp(r.between(low, high) / setV));
  switch (kind) {
    case 'no-draw':
      return '0 | prompt 0 hold';
    case 'limit-at-once':
      return 'limit';
    case 'draw-before-prompt':
      return `${amp(r.between(0.15, 0.5) * limitA)} hold`;
    case 'surge-on-prompt':
      return '0 | prompt limit';
    case 'stall-low':
      return `0 | prompt ${share(0.05, 0.1)} hold`;
    case 'stall-mid':
      return `0 | prompt ${share(0.07, 0.1)} ${share(0.16, 0.2)} ${share(0.26, 0.36)} hold`;
    case 'restart-loop':
      return `0 | prompt (${share(0.1, 0.15)} ${share(0.3, 0.5)} 0) loop ${r.whole(3, 8)}s`;
    case 'start-then-off':
      return `0 | prompt ${share(0.12, 0.12)} ${share(0.35, 0.5)} ${share(0.85, 1)} ${share(0.5, 0.7)} off`;
    case 'hiccup':
      return `0 | prompt ${share(0.15, 0.3)} pulse ${round(r.between(0.3, 0.6), 1)}s`;
    case 'unraised-dark':
      return hold(amp(r.between(0.005, 0.016)));
    case 'unraised-low':
      return hold(amp(r.between(0.055, 0.12)));
    case 'dark-hold':
      return watts(0.04, 0.16);
    case 'standby-hold':
      return watts(0.7, 1.6);
    default:
      return watts(3.1, 5);
  }
}

/** A healthy start in some numbers: it climbs, then moves, inside the windows of its class. */
export function start(
  r: Chance,
  b: Bench,
  { numbers = r.whole(4, 7), isPressed = true, isMilli = false } = {},
): string {
  const shown = (watts: number): string =>
    isMilli ? `${Math.round((1000 * watts) / b.setV)}mA` : `${amp(watts / b.setV)}`;
  const climb = numbers <= 3 ? [0.35] : numbers === 4 ? [0.3] : numbers === 5 ? [0.12, 0.5] : [0.1, 0.3, 0.68];
  const moving =
    numbers <= 3 ? [1] : numbers === 4 ? [0.95, 1.35] : [1, 1.35, 0.9, 1.2, 0.85].slice(0, numbers - climb.length - 1);
  const watts = [
    ...climb.map((x) => x * b.peakW),
    b.peakW,
    ...moving.map((x) => Math.min(x * b.settledW, 0.93 * b.peakW)),
  ];
  const list = watts.map((x) => shown(x * r.between(0.97, 1.03))).join(' ');
  const press = isPressed ? '| prompt ' : '';
  if (b.feed === 'usb-c') return `5V ${shown(r.between(0.03, 0.07) * b.setV)} ${b.setV}V ${list}`;
  return `${b.feed === 'dc-in' ? shown(r.between(0.35, 0.6)) : '0'} ${press}${list}`;
}

/** A healthy charge at the port. */
export function charge(r: Chance, b: Bench): string {
  const { chargeW, portV } = classes[b.class];
  const a = r.between(...chargeW) / portV;
  return portV === 5
    ? `5V ${amp(a / 3)} ${amp(a / 1.4)} ${amp(a)} hold`
    : `5V ${amp(r.between(0.05, 0.4))} ${portV}V ${amp(a / 2)} ${amp(a / 1.2)} ${amp(a)} hold`;
}

/** A start where a start is seen; a phone at its port shows a charge. */
export const healthy = (r: Chance, b: Bench): string =>
  b.feed === 'usb-c' && !['laptop', 'handheld'].includes(b.class) ? charge(r, b) : start(r, b);
