import type { PatternId } from '../../catalogue/index.ts';
import { failing, round, start, type Bench, type Situation } from './bench.ts';
import type { Chance } from './chance.ts';
import { among, atLeast, atMost, claim, falls, isStart, leaders, now, p, patternOf, proposals } from './claims.ts';
import { action, bare, check, grow, ohms, run, volts, type Draft, type Entries } from './draft.ts';
import { law, type Law } from './law.ts';

/** What a repair, a start, a picture and nothing at all say of the device as it is now. */
const parts: Readonly<Record<string, string>> = {
  'rail.main': 'shorted capacitor on main',
  'rail.boost': 'boost rail capacitor',
  'rail.always-on': 'always-on converter',
  'rail.standby': 'standby converter',
  'rail.run': 'run rail converter',
  'charge.charger': 'charger chip',
  'input.protection': 'input fuse',
  'core.supply': 'core transistor pair',
  'core.storage': 'storage chip',
  'core.memory': 'memory chip',
  firmware: 'boot memory',
  pmic: 'power chip',
  'usbc.controller': 'port controller',
  mgmt: 'management controller',
  radio: 'radio chip',
  'periph.board': 'side board',
  'joint.stack': 'joints',
  'battery.pack': 'pack connector',
  button: 'button flex',
};
/** The first suspects of each pattern. */
const suspects: Partial<Record<PatternId, readonly string[]>> = {
  'no-draw': ['input.protection', 'battery.pack', 'button'],
  'limit-at-once': ['rail.main', 'charge.charger', 'input.protection'],
  'draw-before-prompt': ['rail.main', 'rail.boost', 'rail.always-on'],
  'surge-on-prompt': ['rail.run', 'core.supply', 'rail.standby'],
  'stall-low': ['pmic', 'rail.standby', 'rail.run'],
  'stall-mid': ['core.storage', 'core.memory', 'firmware'],
  'restart-loop': ['radio', 'periph.board', 'joint.stack'],
  'start-then-off': ['core.supply', 'pmic'],
  hiccup: ['rail.run', 'core.supply', 'rail.standby'],
  'unraised-dark': ['usbc.controller', 'input.protection', 'rail.always-on'],
  'unraised-low': ['mgmt', 'pmic'],
  'dark-hold': ['charge.charger', 'rail.main', 'rail.always-on'],
  'standby-hold': ['rail.standby', 'rail.always-on', 'mgmt'],
  'partial-hold': ['rail.run', 'core.supply'],
};
const measuredFirst: Partial<Record<PatternId, string>> = {
  'limit-at-once': 'rail.main',
  'draw-before-prompt': 'rail.boost',
  'surge-on-prompt': 'rail.run',
};

interface Repaired {
  b: Bench;
  done: Draft;
  circuit: string;
  kind: string;
  /** Where a short was measured before; null where none was. */
  shortAt: string | null;
  about: string;
}

function repaired(r: Chance, where: (s: Situation) => boolean = () => true): Repaired {
  const b = failing(r, where);
  const shorted = measuredFirst[b.kind];
  const isMeasured = shorted !== undefined && r.yes();
  const fits = (suspects[b.kind] ?? []).filter((id) => !(b.class === 'console' && id.startsWith('charge.')));
  const circuit = isMeasured ? shorted : r.pick(fits);
  const kind =
    circuit === 'firmware'
      ? 'reload-firmware'
      : circuit === 'joint.stack'
        ? 'reflow'
        : isMeasured && r.yes(0.25)
          ? 'remove'
          : 'replace';
  const shortAt = isMeasured ? `${parts[circuit]}, to ground` : null;
  const done = grow(bare(b.class, b.expect), {
    runs: [run('r1', b.feed, b.line())],
    readings: shortAt ? [ohms(shortAt, circuit, 0.4)] : [],
    actions: [action('a1', kind, { circuit, target: parts[circuit], ...(kind === 'remove' && { stays: 'off' }) })],
  });
  return { b, done, circuit, kind, shortAt, about: `${b.class}, ${b.line()}; ${kind} ${circuit}` };
}

export const worksLaws: readonly Law[] = [
  law(
    'healthy-however-typed',
    'A normal start is a normal start, however many numbers are typed, in amps or milliamps, with or without a press.',
    (r) => {
      const { b, done, circuit, kind, about } = repaired(
        r,
        (s) => s.feed !== 'usb-c' || ['laptop', 'handheld'].includes(s.class),
      );
      const read = start(r, b, { numbers: r.whole(3, 8), isPressed: r.yes(0.7), isMilli: r.yes(0.4) });
      const typed = `${b.powered()}: ${read}${r.yes(0.25) ? ' hold' : ''}`;
      return {
        about: `${about}; then ${typed}`,
        cases: { it: grow(done, { runs: [run('r2', b.feed, typed, { after: 'a1' })] }) },
        judge: ({ it: a }) => [
          atLeast('works', now(a, 'works'), 0.75, patternOf(a, 1).id),
          atLeast(circuit, p(a, circuit), kind === 'reflow' ? 0.45 : 0.6, leaders(a)),
          claim('a proof or closing is next', a.next[0].kind === 'stop' || isStart(a.next[0]), proposals(a)),
        ],
      };
    },
  ),
  law(
    'untried-is-not-working',
    'A device that nobody has switched on since the change is not known to work, and nothing went away by itself.',
    (r) => {
      const { done, circuit, shortAt, about } = repaired(r);
      const free = shortAt && r.yes(0.7) ? [ohms(shortAt, circuit, r.whole(3, 30) * 1000, { after: 'a1' })] : [];
      return {
        about: `${about}${free.length > 0 ? '; free now' : ''}`,
        cases: { it: grow(done, { readings: free }) },
        judge: ({ it: a }) => [
          atMost('works', now(a, 'works'), 0.6),
          claim('a start or a proof is proposed', among(a, isStart), proposals(a)),
          claim('not by itself', !/by itself|went away/i.test(JSON.stringify([a.warnings, a.conclusion])), ''),
        ],
      };
    },
  ),
  law(
    'a-picture-is-a-picture',
    'A picture means that it works, and a logo before the picture takes nothing away.',
    (r) => {
      const { b, done, about } = repaired(r);
      const isSeen = r.yes(0.4) && (b.feed !== 'usb-c' || b.class === 'laptop');
      const tried = isSeen
        ? grow(done, { runs: [run('r2', b.feed, `${b.powered()}: ${start(r, b)}`, { after: 'a1' })] })
        : done;
      const picture = check('screen', 'image', { after: 'a1' });
      return {
        about,
        cases: {
          picture: grow(tried, { checks: [picture] }),
          both: grow(tried, { checks: [check('screen', 'logo', { after: 'a1' }), picture] }),
        },
        judge: ({ picture: x, both: y }) => [
          atLeast('picture', now(x, 'works'), 0.75),
          atLeast('logo, then picture', now(y, 'works'), now(x, 'works') - 0.02),
        ],
      };
    },
  ),
  law('no-look-revives', 'A good rail, a lit lamp or a good reading nearby does not make a dead device work.', (r) => {
    const b = failing(r);
    const seen = r.pick(lookedAt(r, b));
    return {
      about: `${b.class}, ${b.line()}; ${JSON.stringify(seen)}`,
      cases: { it: grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())], ...seen }) },
      judge: ({ it: a }) => [atMost('works', now(a, 'works'), 0.1), atMost('none', p(a, 'none'), 0.15, leaders(a))],
    };
  }),
  law(
    'moved-and-not-normal',
    'The current fell but is not normal: it does not work yet, and the part that came off is not cleared.',
    (r) => {
      const b = failing(r, (s) => s.kind === 'limit-at-once' && s.feed === 'battery');
      const circuit = r.pick(['rail.main', 'charge.charger']);
      const before = grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())] });
      const left = round(r.between(0.12, 0.3) * b.limitA);
      const after = grow(before, {
        actions: [action('a1', 'remove', { circuit, target: parts[circuit], stays: 'off' })],
        runs: [run('r2', b.feed, `${b.powered()}: ${left} hold`, { after: 'a1' })],
      });
      return {
        about: `${b.class}, ${b.line()}; ${circuit} off, ${left} A`,
        cases: { before, after },
        judge: ({ before: x, after: a }) => [
          atMost('works', now(a, 'works'), 0.1),
          atLeast('what came off', p(a, circuit), 0.5 * p(x, circuit), leaders(a)),
          claim('no proof comes first', a.next[0].kind !== 'verify', proposals(a)),
        ],
      };
    },
  ),
  law(
    'done-in-vain',
    'It fails the same way after a repair, so it does not work and the replaced part is less likely.',
    (r) => {
      const b = failing(r, (s) => s.kind !== 'limit-at-once');
      const circuit = r.pick(['charge.charger', 'pmic', 'rail.run', 'core.supply']);
      const before = grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())] });
      const after = grow(before, {
        actions: [action('a1', 'replace', { circuit, target: 'chip of that circuit' })],
        runs: [run('r2', b.feed, b.line(), { after: 'a1' })],
      });
      return {
        about: `${b.class}, ${b.line()}; ${circuit} replaced`,
        cases: { before, after },
        judge: ({ before: x, after: y }) => [atMost('works', now(y, 'works'), 0.05), falls([circuit], x, y, 0.9)],
      };
    },
  ),
];

/** What can be looked at on a device that does not start, and is well. */
function lookedAt(r: Chance, b: Bench): Entries[] {
  const isQuiet = ['no-draw', 'dark-hold', 'unraised-dark', 'limit-at-once'].includes(b.kind);
  const main = b.class === 'console' ? 12.1 : b.class === 'laptop' ? 12.4 : b.setV;
  const pack = round(r.between(3.7, 4.1), 1) * (b.class === 'laptop' ? 3 : 1);
  return [
    { readings: [ohms('capacitor next to it', null, r.whole(2, 80) * 1000)] },
    { readings: [ohms('C13', null, null, { says: 'ok' })] },
    { checks: [check('visual', 'clean')] },
    ...(isQuiet
      ? []
      : [
          { readings: [volts('main system rail', 'rail.main', main)] },
          { readings: [volts('standby 3.3 V', 'rail.standby', 3.31, { state: 'standby' })] },
        ]),
    ...(b.kind === 'limit-at-once'
      ? []
      : [{ readings: [ohms('main system rail', 'rail.main', null, { says: 'not-short' })] }]),
    ...(b.kind === 'unraised-dark'
      ? [{ readings: [volts('bus voltage at the plug', 'input.port', 5.08, { feed: 'usb-c' })] }]
      : []),
    ...(b.class === 'console'
      ? []
      : [{ readings: [volts('pack on the bench, alone', 'battery.pack', pack, { powered: false })] }]),
    ...(['standby-hold', 'partial-hold'].includes(b.kind) ? [{ checks: [check('charge-indicator', 'on')] }] : []),
    ...(b.feed === 'usb-c' ? [{ checks: [check('known-good-charger', 'same')] }] : []),
  ];
}
