import { circuitIds, type PatternId } from '../../catalogue/index.ts';
import { charge, failing, healthy, start, type Bench, type Situation } from './bench.ts';
import type { Chance } from './chance.ts';
import { atLeast, atMost, claim, falls, keepsOrder, leader, leaders, now, p } from './claims.ts';
import { action, bare, grow, run, type Draft, type Entry } from './draft.ts';
import { law, type Law } from './law.ts';

/** Whole things that are swapped, unplugged or taken apart: what came out decides. */
const apart = ['input.port', 'battery.pack', 'periph.board', 'display', 'button', 'none', 'unmodelled'];
const onBoard = circuitIds.filter((id) => !apart.includes(id));
/** Nothing that is plugged in changes these. */
const withoutLoad: readonly PatternId[] = ['no-draw', 'dark-hold', 'unraised-low'];
const failsUnderLoad = (s: Situation): boolean => !withoutLoad.includes(s.kind);

interface Unit {
  name: string;
  action: Entry;
  /** Circuits that lie in it, and those beside it that may follow. */
  holds: readonly string[];
  beside: readonly string[];
  /** Circuits that are as good an answer once it has cured. */
  also?: readonly string[];
  isOutside?: boolean;
  powered: string;
  setups?: readonly [Entry, Entry];
  where: (s: Situation) => boolean;
}

const good = 'one that is known to be good';
const units: readonly Unit[] = [
  {
    name: 'pack',
    action: { kind: 'replace', unit: 'pack', target: `battery pack, ${good}` },
    holds: ['battery.pack'],
    beside: [],
    powered: 'with-battery',
    where: ({ feed, kind }) => feed === 'usb-c' && ['unraised-dark', 'dark-hold'].includes(kind),
  },
  {
    name: 'display',
    action: { kind: 'replace', unit: 'display', target: `display, ${good}` },
    holds: ['display'],
    beside: ['periph.board', 'rail.boost'],
    powered: '',
    setups: [{ display: 'connected' }, { display: 'known-good' }],
    where: (s) => s.class !== 'console' && s.feed !== 'usb-c' && failsUnderLoad(s),
  },
  {
    name: 'charger',
    action: { kind: 'replace', unit: 'charger', target: 'charger and cable, known to be good' },
    holds: [],
    beside: ['none', 'input.port'],
    isOutside: true,
    powered: 'with-battery',
    setups: [{ charger: 'own' }, { charger: 'known-good' }],
    where: ({ feed, kind }) => feed === 'usb-c' && ['unraised-dark', 'unraised-low'].includes(kind),
  },
  {
    name: 'board',
    action: { kind: 'replace', unit: 'board', target: 'main board, one that runs in another unit' },
    holds: onBoard,
    beside: onBoard,
    powered: '',
    where: () => true,
  },
  {
    name: 'port board',
    action: { kind: 'replace', unit: 'flex', circuit: 'input.port', target: 'charging port board with its flex, new' },
    holds: ['input.port'],
    beside: ['periph.board', 'usbc.controller', 'input.protection'],
    also: ['periph.board'],
    powered: 'with-battery',
    where: (s) => s.feed === 'usb-c' && ['phone', 'tablet', 'ereader'].includes(s.class),
  },
  {
    name: 'side board',
    action: { kind: 'replace', circuit: 'periph.board', target: `side board with the keys, ${good}` },
    holds: ['periph.board'],
    beside: ['display', 'button'],
    powered: '',
    where: failsUnderLoad,
  },
];

interface Swap {
  unit: Unit;
  b: Bench;
  before: Draft;
  after: (read: string) => Draft;
  about: string;
}

function swapped(r: Chance, from: readonly Unit[] = units): Swap {
  const unit = r.pick(from);
  const b = failing(r, unit.where);
  const setup = (k: 0 | 1): Entry => (unit.setups ? { setup: unit.setups[k] } : {});
  const before = grow(
    bare(b.class, b.expect, { complaintKind: b.feed === 'usb-c' && r.yes() ? 'no-charge' : 'no-start' }),
    {
      runs: [run('r1', b.feed, b.line(unit.powered), setup(0))],
    },
  );
  const after = (read: string): Draft =>
    grow(before, {
      actions: [{ id: 'a1', ...unit.action }],
      runs: [run('r2', b.feed, `${b.powered(unit.powered)}: ${read}`, { after: 'a1', ...setup(1) })],
    });
  return { unit, b, before, after, about: `${b.class}, ${b.line(unit.powered)}; ${unit.name} swapped` };
}

interface Loose {
  circuit: string;
  words: readonly string[];
  also: readonly string[];
  /** What is left of its odds when nothing changes without it: of several boards only one was unplugged. */
  left: number;
  where: (s: Situation) => boolean;
}

const loose: readonly Loose[] = [
  {
    circuit: 'display',
    words: ['display'],
    also: ['periph.board', 'rail.boost'],
    left: 0.6,
    where: (s) => s.class !== 'console' && s.feed !== 'usb-c' && failsUnderLoad(s),
  },
  {
    circuit: 'periph.board',
    words: ['side board', 'sensor board', 'key board'],
    also: ['display'],
    left: 0.9,
    where: failsUnderLoad,
  },
  {
    circuit: 'battery.pack',
    words: ['battery pack unplugged'],
    also: [],
    left: 0.6,
    where: (s) => s.feed === 'usb-c' && ['laptop', 'handheld'].includes(s.class),
  },
];

interface Unplugging {
  part: Loose;
  b: Bench;
  before: Draft;
  after: (read: string) => Draft;
  about: string;
}

function unplugged(r: Chance): Unplugging {
  const part = r.pick(loose);
  const b = failing(r, part.where);
  const words = r.pick(part.words);
  const isPack = part.circuit === 'battery.pack';
  const isDisplay = part.circuit === 'display';
  const before = grow(bare(b.class, b.expect), {
    runs: [
      run('r1', b.feed, b.line(isPack ? 'with-battery' : ''), isDisplay ? { setup: { display: 'connected' } } : {}),
    ],
  });
  const isChange = isPack || r.yes(0.7);
  const isNamed = isPack || r.yes(0.6);
  const after = (read: string): Draft =>
    grow(before, {
      actions: isChange
        ? [action('a1', 'disconnect', { target: words, ...(isNamed && { circuit: part.circuit }) })]
        : [],
      runs: [
        run('r2', b.feed, `${b.powered(isPack ? 'no-battery' : `unplugged "${words}"`)}: ${read}`, {
          ...(isChange && { after: 'a1' }),
          ...(isDisplay && { setup: { display: 'disconnected' } }),
        }),
      ],
    });
  return {
    part,
    b,
    before,
    after,
    about: `${b.class}, ${b.line()}; ${words} unplugged${isChange ? '' : ' in the run'}`,
  };
}

const runsInUpper = ['core.soc', 'core.memory', 'core.storage', 'firmware', 'core.supply'];

export const unitLaws: readonly Law[] = [
  law(
    'swapped-in-vain',
    'With a known-good unit it fails the same way, so the fault was not in the part that came out.',
    (r) => {
      const { unit, b, before, after, about } = swapped(r);
      return {
        about,
        cases: { before, after: after(b.read) },
        judge: ({ before: x, after: y }) => [
          unit.isOutside
            ? atMost('none', p(y, 'none'), Math.max(0.05, p(x, 'none') + 0.02), leaders(y))
            : falls(unit.holds, x, y, 0.4),
          keepsOrder(x, y, [...unit.holds, ...unit.beside]),
          atMost('works', now(y, 'works'), 0.1),
        ],
      };
    },
  ),
  law(
    'swapped-and-cured',
    'One unit was swapped and it works: the fault was in the part that came out, or outside the device.',
    (r) => {
      const { unit, b, after, about } = swapped(r);
      const read = ['charger', 'pack', 'port board'].includes(unit.name) ? charge(r, b) : healthy(r, b);
      const holds = [...unit.holds, ...(unit.also ?? [])];
      return {
        about: `${about}; then ${read}`,
        cases: { after: after(read) },
        judge: ({ after: a }) =>
          unit.isOutside
            ? [
                atLeast('none', p(a, 'none'), 0.4, leaders(a)),
                claim('none leads', leader(a) === 'none', leaders(a)),
                atLeast('works', now(a, 'works'), 0.6),
              ]
            : [
                atLeast(unit.name, p(a, ...holds), 0.5, leaders(a)),
                claim('the leader lies in it', holds.includes(leader(a)), leaders(a)),
                atLeast('works', now(a, 'works'), 0.6),
                atMost('none', p(a, 'none'), 0.2),
              ],
      };
    },
  ),
  law(
    'unplugged-and-cured',
    'Nothing else was changed, so the fault is in the part that was unplugged or in what feeds it.',
    (r) => {
      const { part, b, after, about } = unplugged(r);
      const read = healthy(r, b);
      const holds = [part.circuit, ...part.also];
      return {
        about: `${about}; then ${read}`,
        cases: { after: after(read) },
        judge: ({ after: a }) => [
          atLeast(holds.join(' + '), p(a, ...holds), 0.5, leaders(a)),
          claim('leads', holds.includes(leader(a)), leaders(a)),
          atMost('none', p(a, 'none'), 0.15, leaders(a)),
        ],
      };
    },
  ),
  law(
    'unplugged-in-vain',
    'Nothing changes without it, so it is cleared. Where there are several boards, only this one is.',
    (r) => {
      const { part, b, before, after, about } = unplugged(r);
      return {
        about,
        cases: { before, after: after(b.read) },
        judge: ({ before: x, after: y }) => [
          falls([part.circuit], x, y, part.left),
          keepsOrder(x, y, [part.circuit, ...part.also]),
          atMost('works', now(y, 'works'), 0.1),
        ],
      };
    },
  ),
  law(
    'half-starts-alone',
    'A half that starts alone has a good processor, memory and storage, and their supplies work.',
    (r) => {
      const b = failing(
        r,
        (s) =>
          s.class === 'phone' &&
          s.feed === 'battery' &&
          ['stall-mid', 'restart-loop', 'start-then-off', 'stall-low'].includes(s.kind),
      );
      const { before, after } = halves(b, 'upper', start(r, b, { numbers: r.whole(5, 7) }));
      return {
        about: `${b.line()}; the upper half alone starts`,
        cases: { before, after },
        judge: ({ before: x, after: y }) => [
          falls(runsInUpper, x, y, 0.5),
          ...runsInUpper.filter((id) => p(x, id) >= 0.03).map((id) => falls([id], x, y, 0.6)),
        ],
      };
    },
  ),
  law(
    'half-fails-alone',
    'A fault that is still there with the boards apart is not in the joint between them.',
    (r) => {
      const b = failing(
        r,
        (s) =>
          s.class === 'phone' &&
          s.feed === 'battery' &&
          ['draw-before-prompt', 'limit-at-once', 'restart-loop', 'surge-on-prompt'].includes(s.kind),
      );
      const half = r.pick(['upper', 'lower']);
      const { before, after } = halves(b, half, b.read);
      const inUpper = ['core.soc', 'core.memory', 'core.storage', 'firmware'];
      return {
        about: `${b.line()}; the ${half} half alone does the same`,
        cases: { before, after },
        judge: ({ before: x, after: y }) => [
          falls(['joint.stack'], x, y, 0.6),
          half === 'lower' ? falls(inUpper, x, y, 0.8) : atMost('radio', p(y, 'radio'), p(x, 'radio') + 0.02),
          atMost('works', now(y, 'works'), 0.1),
        ],
      };
    },
  ),
  law(
    'own-one-back',
    'It still works with the original part back in, so that part is good. Reseating it was the cure.',
    (r) => {
      const { unit, b, before, about } = swapped(
        r,
        units.filter((u) => !u.isOutside && u.name !== 'board'),
      );
      const one = healthy(r, b);
      const setups = unit.setups ? [{ setup: unit.setups[1] }, { setup: unit.setups[0] }] : [{}, {}];
      const line = (read: string): string => `${b.powered(unit.powered)}: ${read}`;
      const both = grow(before, {
        actions: [
          { id: 'a1', ...unit.action },
          action('a2', 'refit', {
            circuit: unit.holds[0],
            target: `the customer's own ${unit.name}, put back`,
            undoes: 'a1',
          }),
        ],
        runs: [
          run('r2', b.feed, line(one), { after: 'a1', ...setups[0] }),
          run('r3', b.feed, line(r.yes() ? one : healthy(r, b)), { after: 'a2', ...setups[1] }),
        ],
      });
      return {
        about: `${about}; cured, own one back, ${one}`,
        cases: { both },
        judge: ({ both: a }) => [
          ...unit.holds.map((id) => atMost(id, p(a, id), id === 'periph.board' ? 0.7 : 0.85, leaders(a))),
          atLeast('works', now(a, 'works'), 0.5),
        ],
      };
    },
  ),
];

function halves(b: Bench, half: string, read: string): { before: Draft; after: Draft } {
  const before = grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())] });
  const after = grow(before, {
    actions: [action('a1', 'isolate', { circuit: 'joint.stack', target: 'stack split, halves apart' })],
    runs: [run('r2', b.feed, `${b.powered(`half ${half}`)}: ${read}`, { after: 'a1' })],
  });
  return { before, after };
}
