import type { Assessment } from '../../diagnosis/index.ts';
import { failing, round, type Bench, type Situation } from './bench.ts';
import type { Chance } from './chance.ts';
import { atLeast, claim, leaders, p, proposals, type Claim } from './claims.ts';
import { entries } from './counting.ts';
import { action, bare, check, grow, ohms, run, volts, type Draft, type Entries } from './draft.ts';
import { law, type Law } from './law.ts';

/** What is proposed next, what is said, and whether truth gathers with facts. */
type Next = Assessment['next'][number];

const holdsData = ['core.storage', 'core.memory', 'core.soc', 'firmware', 'joint.stack'];
const isRisky = ({ check: asked, action: act }: Next): boolean =>
  ['firmware-reload', 'halves-apart'].includes(asked ?? '') ||
  ['burn', 'reload-firmware'].includes(act?.kind ?? '') ||
  (['remove', 'replace', 'reflow'].includes(act?.kind ?? '') && holdsData.includes(act?.circuit ?? ''));

/** A device with a known fault: its first run, and what is found step by step. */
interface Truth {
  circuit: string;
  where: (s: Situation) => boolean;
  powered?: string;
  steps: (r: Chance, b: Bench) => Entries[];
}

const laptopDark = (s: Situation): boolean => s.class === 'laptop' && s.kind === 'dark-hold';
const inRun = { state: 'run', prompted: true };
const truths: readonly Truth[] = [
  {
    circuit: 'rail.main',
    where: (s) => s.kind === 'limit-at-once',
    steps: (r) => [
      { checks: [check('screen', 'dark'), check('peripherals-unplugged', 'same')] },
      { readings: [ohms('main system rail', 'rail.main', round(r.between(0.1, 0.8), 1))] },
    ],
  },
  {
    circuit: 'rail.run',
    where: (s) => s.kind === 'surge-on-prompt',
    steps: (r) => [
      { checks: [check('screen', 'dark')], readings: [ohms('main system rail', 'rail.main', r.whole(4, 30) * 1000)] },
      { readings: [ohms('run 1.8 V', 'rail.run', round(r.between(0.1, 0.8), 1))] },
    ],
  },
  {
    circuit: 'rail.boost',
    where: (s) => s.kind === 'draw-before-prompt',
    steps: (r) => [
      {
        readings: [
          ohms('main system rail', 'rail.main', r.whole(2, 30) * 1000),
          ohms('charger input', 'charge.charger', r.whole(4, 30) * 1000),
        ],
      },
      { readings: [ohms('boost rail', 'rail.boost', round(r.between(0.6, 2.6), 1))] },
    ],
  },
  {
    circuit: 'charge.charger',
    where: laptopDark,
    steps: (r, b) => [
      { checks: [check('charge-indicator', 'off'), check('fan', 'none')] },
      {
        readings: [
          ohms('main system rail', 'rail.main', r.whole(4, 30) * 1000),
          volts('charger input, behind the fuse', 'input.protection', b.setV),
          volts('main system rail', 'rail.main', 0.1),
        ],
      },
    ],
  },
  {
    circuit: 'rail.always-on',
    where: laptopDark,
    steps: (r) => [
      { checks: [check('charge-indicator', 'off')], readings: [volts('main system rail', 'rail.main', 12.4)] },
      {
        readings: [
          volts('always-on 3.3 V', 'rail.always-on', 0.01, { state: 'always' }),
          ohms('always-on 3.3 V', 'rail.always-on', r.whole(4, 30) * 1000),
        ],
      },
    ],
  },
  {
    circuit: 'core.supply',
    where: (s) => ['laptop', 'console'].includes(s.class) && s.kind === 'partial-hold',
    steps: () => [
      {
        checks: [check('fan', 'twitch'), check('screen', 'dark')],
        readings: [volts('run 5 V', 'rail.run', 5.02, inRun), volts('run 3.3 V', 'rail.run', 3.31, inRun)],
      },
      {
        readings: [
          volts('core line', 'core.supply', 0.01, inRun),
          ohms('core line', 'core.supply', 24, { reference: 25 }),
          volts('enable of the core regulator', 'seq.power-good', 3.3, inRun),
        ],
      },
    ],
  },
  {
    circuit: 'core.storage',
    where: (s) => s.class === 'phone' && s.kind === 'stall-mid',
    steps: (_, b) => [
      { checks: [check('host-detects', 'recovery'), check('peripherals-unplugged', 'same')] },
      {
        readings: [volts('core line', 'core.supply', 0.86, inRun), volts('run 1.8 V', 'rail.run', 1.81, inRun)],
        actions: [action('a1', 'reload-firmware', { circuit: 'firmware', target: 'boot data' })],
        runs: [run('r2', b.feed, b.line(), { after: 'a1' })],
      },
    ],
  },
  {
    circuit: 'battery.pack',
    where: (s) => s.class === 'tablet' && s.kind === 'unraised-dark',
    powered: 'with-battery',
    steps: (r) => [
      { checks: [check('known-good-charger', 'same'), check('peripherals-unplugged', 'same')] },
      {
        readings: [volts('pack on the bench, alone', 'battery.pack', round(r.between(0, 1.5)), { powered: false })],
        actions: [action('a1', 'replace', { unit: 'pack', target: 'another pack' })],
        runs: [run('r2', 'usb-c', 'usb-c port 1 with-battery: 5V 0.4 9V 0.9 1.4 hold', { after: 'a1' })],
      },
    ],
  },
];

/** Something came off, and what is not to be proposed without it. */
const missing: readonly {
  action: Record<string, unknown>;
  powered: string;
  where: (s: Situation) => boolean;
  asks: (n: Next) => boolean;
}[] = [
  {
    action: { kind: 'remove', circuit: 'rail.main', target: 'capacitor by the charger coil' },
    powered: '',
    where: (s) => ['limit-at-once', 'draw-before-prompt'].includes(s.kind),
    asks: (n) => n.action?.kind === 'remove' && n.action.target === 'capacitor by the charger coil',
  },
  {
    action: { kind: 'disconnect', circuit: 'display', target: 'display' },
    powered: 'unplugged display',
    where: (s) => s.feed !== 'usb-c',
    asks: (n) =>
      n.check === 'screen' || (n.action?.circuit === 'display' && ['disconnect', 'remove'].includes(n.action.kind)),
  },
  {
    action: { kind: 'disconnect', circuit: 'battery.pack', target: 'battery pack' },
    powered: 'no-battery',
    where: (s) => s.feed === 'usb-c',
    asks: (n) =>
      ['charges', 'battery-disconnected'].includes(n.check ?? '') ||
      (n.action?.circuit === 'battery.pack' && ['disconnect', 'remove'].includes(n.action.kind)),
  },
];

export const adviceLaws: readonly Law[] = [
  law('answered-is-not-asked', 'A check or reading is not proposed again until something has changed.', (r) => {
    const b = failing(r, (s) => s.class !== 'console');
    const e = entries(r, b, { checks: 5, readings: 4 });
    const isAsked = (n: Next): boolean =>
      e.checks.some((c) => c.id === n.check) ||
      (n.kind === 'reading' && e.readings.some((x) => x.where === n.where && x.mode === n.mode));
    return {
      about: `${b.class}, ${b.line()}`,
      cases: { it: grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())], ...e }) },
      judge: ({ it: a }) => [claim('none of the first five', !a.next.slice(0, 5).some(isAsked), proposals(a))],
    };
  }),
  law(
    'nothing-on-what-is-off',
    'Nothing is proposed on a part that is off, and the screen is not checked without a display.',
    (r) => {
      const off = r.pick(missing);
      const b = failing(r, (s) => s.class !== 'console' && off.where(s));
      const it = grow(bare(b.class, b.expect), {
        runs: [run('r1', b.feed, b.line()), run('r2', b.feed, b.line(off.powered), { after: 'a1' })],
        actions: [{ id: 'a1', ...off.action }],
      });
      return {
        about: `${b.class}, ${b.line()}; ${String(off.action.target)} off`,
        cases: { it },
        judge: ({ it: a }) => [claim('none of the first five', !a.next.slice(0, 5).some(off.asks), proposals(a))],
      };
    },
  ),
  law('data-wanted', 'Where data is wanted, anything that could lose it comes after the measurements.', (r) => {
    const kinds = ['stall-mid', 'restart-loop', 'start-then-off', 'unraised-low', 'limit-at-once', 'surge-on-prompt'];
    const b = failing(r, (s) => s.class !== 'console' && kinds.includes(s.kind));
    const many = r.pick([0, 3, 6]);
    const e = entries(r, b, { checks: many, readings: many / 2 });
    const checks =
      many > 0 && b.kind === 'stall-mid'
        ? [
            check('host-detects', 'recovery'),
            check('charges', 'yes'),
            ...e.checks.filter((c) => c.id !== 'host-detects'),
          ]
        : e.checks;
    const it: Draft = grow(bare(b.class, b.expect, { intake: { dataWanted: true } }), {
      runs: [run('r1', b.feed, b.line())],
      checks,
      readings: e.readings,
    });
    return {
      about: `${b.class}, ${b.line()}; ${many} checks`,
      cases: { it },
      judge: ({ it: a }) => [claim('not among the first two', !a.next.slice(0, 2).some(isRisky), proposals(a))],
    };
  }),
  law('truth-gathers', 'As findings that fit a fault come in, that fault becomes more likely.', (r) => {
    const { circuit, where, powered = '', steps } = r.pick(truths);
    const b = failing(r, where);
    const s0 = grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line(powered))] });
    const [first, second] = steps(r, b);
    const s1 = grow(s0, first);
    return {
      about: `${circuit}: ${b.class}, ${b.line(powered)}`,
      cases: { s0, s1, s2: grow(s1, second) },
      judge: (a): Claim[] => {
        const [x, y, z] = [a.s0, a.s1, a.s2].map((s) => p(s, circuit));
        const seen = `${x.toFixed(2)} ${y.toFixed(2)} ${z.toFixed(2)}`;
        return [
          claim('not below where it began', z >= x - 0.02, seen),
          claim('no step takes a tenth', y >= x - 0.1 && z >= y - 0.1, seen),
          atLeast('at the end', z, 0.5, leaders(a.s2)),
        ];
      },
    };
  }),
];
