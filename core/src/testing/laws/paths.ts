import { circuitIds, type PatternId } from '../../catalogue/index.ts';
import { failing, round, type Bench, type Situation } from './bench.ts';
import type { Chance } from './chance.ts';
import { among, atLeast, atMost, claim, isShortWork, isStart, leader, leaders, now, p, proposals } from './claims.ts';
import { action, bare, diode, grow, ohms, run, volts, type Draft, type Entry } from './draft.ts';
import { law, type Law } from './law.ts';

/** Where the current goes: what stands here and is missing there, what is shorted, what warms. */
const neverShorted = [
  'input.port',
  'battery.pack',
  'seq.power-good',
  'firmware',
  'joint.stack',
  'display',
  'button',
  'none',
  'unmodelled',
];
export const shortable = circuitIds.filter((id) => !neverShorted.includes(id));
const spots = [
  'capacitor beside the earpiece plug',
  'small capacitor left of the big coil',
  'C12',
  'speck between the two shields',
  'capacitor under the camera plug',
  'C2207',
];
const shortedBy: Partial<Record<PatternId, readonly string[]>> = {
  'limit-at-once': ['rail.main'],
  'draw-before-prompt': ['rail.boost', 'rail.main', 'rail.always-on'],
  'surge-on-prompt': ['rail.run'],
};

export interface Shorted {
  b: Bench;
  base: Draft;
  where: string;
  circuit: string | null;
  short: Entry;
  /** Circuits that would be shorted with such a draw. */
  fits: readonly string[];
  about: string;
}

/** A dead device with a hard short at a place whose circuit is named, or is not. */
export function shorted(r: Chance, isNamed = r.yes(0.4)): Shorted {
  const b = failing(r, (s) => shortedBy[s.kind] !== undefined);
  const fits = shortedBy[b.kind] ?? [];
  const circuit = isNamed ? r.pick(fits) : null;
  const where = r.pick(spots);
  const how = r.pick(['ohm', 'ohm', 'beep', 'short', 'diode']);
  const value = round(b.kind === 'draw-before-prompt' ? r.between(0.6, 1) : r.between(0.1, 0.9), 1);
  const short =
    how === 'ohm'
      ? ohms(where, circuit, value)
      : how === 'diode'
        ? diode(where, circuit, r.pick([0, 0.001, 0.002]))
        : ohms(where, circuit, null, { says: how });
  const base = grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())] });
  return {
    b,
    base,
    where,
    circuit,
    short,
    fits,
    about: `${b.class}, ${b.line()}; ${where} (${circuit}) ${how} ${value}`,
  };
}

interface Ladder {
  where: (s: Situation) => boolean;
  on: readonly string[];
  path: readonly string[];
  readings: (r: Chance, b: Bench) => Entry[];
}

const isDarkLaptop = (s: Situation): boolean => s.class === 'laptop' && s.kind === 'dark-hold';
const inRun = { state: 'run', prompted: true };
const ladders: readonly Ladder[] = [
  {
    where: (s) => isDarkLaptop(s) && s.feed === 'dc-in',
    on: ['input.protection'],
    path: ['input.port', 'input.protection', 'charge.charger', 'rail.main', 'battery.pack', 'rail.always-on'],
    readings: (r, b) => [
      volts('input plug, inside', 'input.port', b.setV - 0.1),
      volts('behind the input fuse', 'input.protection', round(r.between(0, 0.1))),
      ohms('behind the input fuse', 'input.protection', r.whole(4, 30) * 1000),
    ],
  },
  {
    where: isDarkLaptop,
    on: ['charge.charger'],
    path: ['input.port', 'input.protection', 'usbc.controller', 'charge.charger', 'rail.main', 'rail.always-on'],
    readings: (r, b) => [
      volts('charger input, behind the fuse', 'input.protection', b.setV),
      volts('main system rail, behind the charger', 'rail.main', round(r.between(0, 0.3))),
      ohms('main system rail, behind the charger', 'rail.main', r.whole(3, 20) * 1000),
    ],
  },
  {
    where: (s) => s.class === 'phone' && s.kind === 'unraised-dark',
    on: ['charge.port-ic', 'input.protection'],
    path: ['input.port', 'input.protection', 'charge.port-ic', 'charge.charger', 'rail.main', 'battery.pack'],
    readings: (r) => [
      volts('bus voltage before the port switch', 'input.port', 5.1),
      volts('behind the port switch', 'charge.port-ic', round(r.between(0, 0.08))),
      ohms('behind the port switch', 'charge.port-ic', r.whole(8, 90) * 1000),
    ],
  },
  {
    where: isDarkLaptop,
    on: ['rail.always-on'],
    path: ['input.protection', 'charge.charger', 'rail.main', 'rail.always-on', 'rail.standby'],
    readings: (r) => [
      volts('main system rail', 'rail.main', r.pick([8.3, 12.4])),
      volts('always-on 3.3 V', 'rail.always-on', round(r.between(0, 0.05))),
      ohms('always-on 3.3 V', 'rail.always-on', r.whole(4, 30) * 1000),
    ],
  },
  {
    where: (s) => s.class === 'laptop' && s.kind === 'partial-hold',
    on: ['core.supply', 'seq.power-good'],
    path: ['rail.main', 'rail.run', 'core.supply', 'core.soc', 'seq.power-good'],
    readings: (r) => [
      volts('main system rail at the core transistors', 'rail.main', r.pick([8.3, 12.4, 19])),
      volts('run 5 V', 'rail.run', 5.02, inRun),
      volts('core line behind the coil', 'core.supply', round(r.between(0, 0.03)), inRun),
      ohms('core line behind the coil', 'core.supply', r.whole(12, 40), { reference: 25 }),
    ],
  },
  {
    where: (s) => s.class === 'tablet' && s.kind === 'unraised-dark',
    on: ['input.port', 'periph.board'],
    path: ['input.port', 'periph.board', 'input.protection', 'usbc.controller', 'charge.port-ic', 'charge.charger'],
    readings: (r) => [
      volts('plug end of the port flex', 'input.port', 5.1),
      volts('board end of the port flex', 'input.port', round(r.between(0, 0.05))),
      ohms('board end of the port flex', 'input.port', r.whole(9, 90) * 1000),
    ],
  },
];

interface Rail {
  on: string;
  name: string;
  v: number;
  state: 'always' | 'standby' | 'run';
  /** What makes it, switches it on, or pulls it down. */
  group: readonly string[];
  kinds: readonly PatternId[];
}

const rails: readonly Rail[] = [
  {
    on: 'rail.always-on',
    name: 'always-on 3.3 V',
    v: 3.3,
    state: 'always',
    group: ['rail.always-on', 'pmic'],
    kinds: ['dark-hold', 'no-draw'],
  },
  {
    on: 'rail.standby',
    name: 'standby 3.3 V',
    v: 3.3,
    state: 'standby',
    group: ['rail.standby', 'rail.always-on', 'pmic', 'mgmt', 'seq.power-good'],
    kinds: ['standby-hold', 'stall-low'],
  },
  {
    on: 'rail.run',
    name: 'run 1.8 V',
    v: 1.8,
    state: 'run',
    group: ['rail.run', 'pmic', 'seq.power-good', 'core.supply'],
    kinds: ['partial-hold', 'stall-low', 'stall-mid'],
  },
  {
    on: 'rail.boost',
    name: 'boosted 5.5 V',
    v: 5.5,
    state: 'always',
    group: ['rail.boost', 'pmic', 'display'],
    kinds: ['stall-low'],
  },
  {
    on: 'core.supply',
    name: 'core line',
    v: 0.9,
    state: 'run',
    group: ['core.supply', 'seq.power-good', 'pmic', 'rail.run'],
    kinds: ['partial-hold', 'stall-mid'],
  },
];
const feedOf = {
  always: [],
  standby: [volts('always-on 3.3 V', 'rail.always-on', 3.31, { state: 'always' })],
  run: [volts('standby 5 V', 'rail.standby', 5.03, { state: 'standby' })],
};
const mainV = (b: Bench): number => {
  if (b.class === 'console') return 12.1;
  if (b.class === 'laptop') return 12.4;
  return b.feed === 'battery' ? b.setV : 4;
};

const standing: readonly {
  on: string;
  kinds: readonly PatternId[];
  list: (b: Bench) => [string, number][];
  state: string | null;
}[] = [
  {
    on: 'rail.main',
    kinds: ['dark-hold', 'standby-hold', 'partial-hold', 'stall-low', 'stall-mid', 'unraised-dark'],
    list: (b) => [['main system rail', mainV(b)]],
    state: null,
  },
  {
    on: 'rail.always-on',
    kinds: ['dark-hold', 'standby-hold', 'unraised-low'],
    list: () => [
      ['always-on 3.3 V', 3.31],
      ['clock supply', 3.05],
    ],
    state: 'always',
  },
  {
    on: 'rail.standby',
    kinds: ['standby-hold', 'stall-low'],
    list: () => [
      ['standby 3.3 V', 3.3],
      ['standby 5 V', 5.03],
      ['standby 1.8 V', 1.8],
    ],
    state: 'standby',
  },
  {
    on: 'rail.run',
    kinds: ['partial-hold', 'stall-mid', 'stall-low'],
    list: () => [
      ['run 5 V', 5.02],
      ['run 3.3 V', 3.32],
      ['run 1.8 V', 1.81],
    ],
    state: 'run',
  },
  {
    on: 'rail.boost',
    kinds: ['stall-low', 'stall-mid', 'restart-loop'],
    list: () => [
      ['boosted 5.5 V', 5.48],
      ['audio amplifier supply', 8.1],
    ],
    state: 'always',
  },
];

const warm: readonly { name: string; circuit: string; kinds: readonly PatternId[]; isOnConsoles?: true }[] = [
  { name: 'charger chip', circuit: 'charge.charger', kinds: ['limit-at-once', 'draw-before-prompt'] },
  { name: 'radio amplifier', circuit: 'radio', kinds: ['draw-before-prompt', 'surge-on-prompt'] },
  {
    name: 'power management chip',
    circuit: 'pmic',
    kinds: ['draw-before-prompt', 'surge-on-prompt'],
    isOnConsoles: true,
  },
  { name: 'companion chip', circuit: 'core.chipset', kinds: ['surge-on-prompt'], isOnConsoles: true },
  { name: 'memory chip', circuit: 'core.memory', kinds: ['surge-on-prompt'], isOnConsoles: true },
  { name: 'overvoltage switch at the plug', circuit: 'input.protection', kinds: ['limit-at-once'], isOnConsoles: true },
];

export const pathLaws: readonly Law[] = [
  law(
    'stands-here-missing-there',
    'Voltage goes in, none comes out, and nothing is shorted there: the part between them is open.',
    (r) => {
      const l = r.pick(ladders);
      const b = failing(r, l.where);
      const readings = l.readings(r, b);
      const line = b.line(b.class === 'laptop' ? 'no-battery' : '');
      const it = grow(bare(b.class, b.expect), {
        runs: [run('r1', b.feed, line)],
        readings: r.yes() ? readings : r.shuffled(readings),
      });
      return {
        about: `${b.class}, ${line}; ${readings.map((x) => `${String(x.where)} ${String(x.value)}`).join(', ')}`,
        cases: { it },
        judge: ({ it: a }) => {
          const best = [...l.path].sort((x, y) => p(a, y) - p(a, x))[0];
          return [
            claim(`${l.on.join(' or ')} leads on the path`, l.on.includes(best), leaders(a)),
            atLeast('what lies between', p(a, ...l.on), 0.3, leaders(a)),
          ];
        },
      };
    },
  ),
  law(
    'missing-rail-is-power',
    'A missing rail points to its converter or its enable before firmware, memory or storage.',
    (r) => {
      const m = r.pick(rails);
      const b = failing(r, (s) => m.kinds.includes(s.kind) && (m.on !== 'rail.always-on' || s.class !== 'console'));
      const missing = round(r.between(0, 0.01) * m.v, 3);
      const isCore = m.on === 'core.supply';
      const it = grow(bare(b.class, b.expect), {
        runs: [run('r1', b.feed, b.line())],
        readings: [
          volts('main system rail', 'rail.main', mainV(b)),
          ...feedOf[m.state],
          volts(m.name, m.on, missing, { state: m.state, prompted: m.state === 'run' }),
          ohms(m.name, m.on, isCore ? r.whole(15, 40) : r.whole(3, 40) * 1000, isCore ? { reference: 25 } : {}),
        ],
      });
      return {
        about: `${b.class}, ${b.line()}; ${m.name} missing, not shorted`,
        cases: { it },
        judge: ({ it: a }) => [
          claim(`${m.group.join(' / ')} leads`, m.group.includes(leader(a)), leaders(a)),
          atMost('information', p(a, 'core.storage', 'core.memory', 'firmware'), 0.3, leaders(a)),
          atLeast('its group', p(a, ...m.group), 0.4, leaders(a)),
        ],
      };
    },
  ),
  law('what-stands-is-cleared', 'A rail at its normal voltage is not shorted, and its converter works.', (r) => {
    const m = r.pick(standing);
    const b = failing(r, (s) => m.kinds.includes(s.kind));
    const list = m.list(b);
    const before = grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())] });
    const after = grow(before, {
      readings: list.map(([where, v]) =>
        volts(where, m.on, round(v * r.between(0.995, 1.005)), { state: m.state, prompted: m.state === 'run' }),
      ),
    });
    // A rail of which there is one is cleared; of several, three were seen.
    const max = (share: number): number =>
      ['rail.main', 'rail.always-on'].includes(m.on) ? 0.05 : Math.max(0.08, 0.35 * share);
    return {
      about: `${b.class}, ${b.line()}; ${list.map(([where]) => where).join(', ')} stand`,
      cases: { before, after },
      judge: ({ before: x, after: a }) => [
        atMost(m.on, p(a, m.on), max(p(x, m.on)), `${p(x, m.on).toFixed(3)} before`),
        claim(
          'it is not measured again next',
          !among(a, (n) => n.kind === 'reading' && n.mode === 'voltage' && n.circuit === m.on),
          proposals(a),
        ),
      ],
    };
  }),
  law(
    'nameless-short',
    'A hard short is the cause even if nobody has named its rail, and it stays the cause once a part is off and the short is gone.',
    (r) => {
      const s = shorted(r);
      const { base, short, where, circuit } = s;
      const free = r.pick([
        ohms(where, circuit, r.whole(2, 40) * 1000),
        ohms(where, circuit, null, { ol: true }),
        diode(where, circuit, round(r.between(0.36, 0.45), 3)),
      ]);
      const part = r.yes() ? where : 'capacitor beside it';
      const one = grow(base, { readings: [short] });
      const off = grow(one, {
        actions: [action('a1', 'remove', { target: part, ...(circuit && { circuit }) })],
        readings: [{ ...free, after: 'a1' }],
      });
      const fed = circuit === 'rail.main' ? ['charge.charger', 'core.supply', 'input.protection'] : [];
      const ids = circuit ? [circuit, ...fed] : shortable;
      return {
        about: `${s.about}; ${part} off, free`,
        cases: { one, off },
        judge: ({ one: a, off: o }) => [
          atLeast('what can be shorted', p(a, ...shortable), 0.8, leaders(a)),
          atLeast('the place', p(a, ...ids), 0.6, leaders(a)),
          claim('injection, heat or taking off', among(a, isShortWork), proposals(a)),
          atMost('works, untried', now(o, 'works'), 0.6),
          atLeast('the place stays the cause', p(o, ...ids), 0.6, leaders(o)),
          claim(
            'a start or fitting the part',
            among(o, (n) => isStart(n) || ['replace', 'refit'].includes(n.action?.kind ?? '')),
            proposals(o),
          ),
        ],
      };
    },
  ),
  law('good-neighbour', 'A good reading somewhere else does not clear a short.', (r) => {
    const s = shorted(r);
    const other = r.pick(['C13', `the other capacitor, right of "${s.where}"`, 'left neighbour']);
    const fine = r.pick([
      ohms(other, null, r.whole(2, 60) * 1000),
      ohms(other, null, null, { says: 'no-beep' }),
      diode(other, null, 0.41),
      ohms(other, null, null, { says: 'not-short' }),
    ]);
    const readings = r.yes(0.8) ? [s.short, fine] : [fine, s.short];
    return {
      about: `${s.about}; ${other} reads well`,
      cases: { it: grow(s.base, { readings }) },
      judge: ({ it: a }) => [
        atMost('works', now(a, 'works'), 0.1),
        atLeast('what can be shorted', p(a, ...shortable), 0.8, leaders(a)),
        claim('injection, heat or taking off', among(a, isShortWork), proposals(a)),
      ],
    };
  }),
  law(
    'what-warms-is-the-target',
    'The part that gets warm under injection is the fault, even if only its name says which circuit it is.',
    (r) => {
      const s = shorted(r, false);
      const hot = r.pick(warm.filter((w) => w.kinds.includes(s.b.kind) && (s.b.class !== 'console' || w.isOnConsoles)));
      const ohm = s.short.mode === 'resistance' && typeof s.short.value === 'number' ? s.short.value : 0.5;
      const isTold = r.yes();
      const it = grow(s.base, {
        readings: [s.short],
        injections: [fed(s.where, round(Math.min(2, 1 / (ohm + 0.3)), 1), hot.name, isTold ? hot.circuit : null)],
      });
      return {
        about: `${s.about}; fed, ${hot.name} warms${isTold ? ', named' : ''}`,
        cases: { it },
        judge: ({ it: a }) => {
          const x = p(a, hot.circuit);
          const isFirst = leader(a) === hot.circuit && x >= 0.5;
          const withRail = x >= 0.3 && p(a, hot.circuit, ...s.fits) >= 0.6;
          return [claim(`${hot.circuit} first, or with its rail`, isFirst || withRail, leaders(a))];
        },
      };
    },
  ),
  law(
    'warm-capacitor',
    'A capacitor that gets warm is on one of the rails. The next step is to remove it or measure there.',
    (r) => {
      const s = shorted(r, false);
      const it = grow(s.base, { readings: [s.short], injections: [fed(s.where, 1.2, s.where, null)] });
      const where = [
        'rail.main',
        'rail.boost',
        'rail.always-on',
        'rail.standby',
        'rail.run',
        'input.protection',
        'core.supply',
        'charge.charger',
      ];
      return {
        about: `${s.about}; fed, it warms`,
        cases: { it },
        judge: ({ it: a }) => [
          atLeast('rails where a capacitor sits', p(a, ...where), 0.6, leaders(a)),
          claim(
            'act or measure there',
            among(a, (n) => ['action', 'reading', 'injection'].includes(n.kind)),
            proposals(a),
          ),
        ],
      };
    },
  ),
];

function fed(rail: string, amps: number, hot: string, hotCircuit: string | null): Entry {
  const usual = { id: 'i1', circuit: null, setV: 1, limitA: 2, leadsOhm: 0.3, heat: 'one-spot', referenceA: null };
  return { ...usual, rail, amps, hot, hotCircuit, after: null };
}
