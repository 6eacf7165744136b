import { amp, failing, round, type Bench } from './bench.ts';
import type { Chance } from './chance.ts';
import { atMost, claim, close, leader, leaders, now, p, sameLeader } from './claims.ts';
import { action, bare, check, diode, grow, ohms, run, volts, type Entries, type Entry } from './draft.ts';
import { law, type Law } from './law.ts';
import { shorted } from './paths.ts';

/** Counting once: what is said twice, in another order, in other words or at another time is the same fact. */

/** Checks and readings that fit a failing device and contradict nothing. */
export function entries(
  r: Chance,
  b: Bench,
  { checks = 3, readings = 2 } = {},
): { checks: Entry[]; readings: Entry[] } {
  const isQuiet = ['no-draw', 'dark-hold', 'unraised-dark'].includes(b.kind);
  const hasFan = ['laptop', 'console'].includes(b.class);
  const looks = [
    check('screen', 'dark'),
    check('visual', 'clean'),
    check('peripherals-unplugged', 'same'),
    ...(b.feed === 'usb-c'
      ? [check('known-good-charger', 'same'), check('flipped-plug', 'same'), check('host-detects', 'nothing')]
      : []),
    ...(b.class !== 'console' && b.kind !== 'restart-loop' ? [check('battery-disconnected', 'same')] : []),
    ...(isQuiet ? [check('press-response', 'none')] : []),
    ...(hasFan ? [check('fan', 'none'), check('charge-indicator', isQuiet ? 'off' : 'on')] : []),
  ];
  const measured = [
    ohms('battery connector to ground', 'battery.pack', r.whole(4, 40) * 1000),
    ohms('boost rail capacitor', 'rail.boost', r.whole(6, 60) * 1000),
    ohms('a run 1.8 V coil', 'rail.run', r.whole(900, 9000)),
    diode('standby 3.3 V', 'rail.standby', round(r.between(0.38, 0.46), 3)),
    ...(b.feed === 'dc-in' ? [ohms('input fuse, end to end', 'input.protection', 0.1, { across: true })] : []),
    ...(['stall-mid', 'partial-hold'].includes(b.kind)
      ? [volts('standby 5 V', 'rail.standby', 5.02, { state: 'standby' })]
      : []),
  ];
  return { checks: r.shuffled(looks).slice(0, checks), readings: r.shuffled(measured).slice(0, readings) };
}

const named = (e: Entries): string =>
  [
    ...(e.checks ?? []).map((c) => `${String(c.id)} ${String(c.outcome)}`),
    ...(e.readings ?? []).map((x) => String(x.where)),
  ].join(', ');

const silentWords = [
  'seen by the morning shift',
  'bench 3, Tuesday',
  'used hot air, 350 degrees',
  'new part, not salvaged',
  'device is variant B, 128',
  'no flux was left over',
];

export const countingLaws: readonly Law[] = [
  law(
    'said-again',
    'Entering the same thing again adds nothing. A repeated run may only settle a little noise.',
    (r) => {
      const b = failing(r);
      const e = entries(r, b);
      const once = grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())], ...e });
      const times = r.pick([2, 4, 8]);
      const list = r.pick(['runs', 'checks', 'readings'] as const);
      const one = r.pick(once[list] ?? []);
      const again = Array.from({ length: times - 1 }, (_, k) => (list === 'runs' ? { ...one, id: `r${k + 2}` } : one));
      return {
        about: `${b.class}, ${b.line()}; ${named(e)}; ${times} times one of the ${list}`,
        cases: { once, more: grow(once, { [list]: again }) },
        judge: ({ once: x, more }) => [close(x, more, list === 'runs' ? 0.04 : 0.02)],
      };
    },
  ),
  law('another-order', 'Nothing was changed in between, so the order of entries does not matter.', (r) => {
    const b = failing(r);
    const e = entries(r, b, { checks: 4, readings: 3 });
    const runs = [run('r1', b.feed, b.line()), ...(b.feed === 'usb-c' ? [run('r2', b.feed, b.line('flipped'))] : [])];
    const base = bare(b.class, b.expect);
    return {
      about: `${b.class}, ${b.line()}; ${named(e)}`,
      cases: {
        one: grow(base, { runs, ...e }),
        two: grow(base, {
          runs: runs.toReversed(),
          checks: e.checks.toReversed(),
          readings: [...e.readings.slice(1), e.readings[0]],
        }),
      },
      judge: ({ one, two }) => [close(one, two, 0.02)],
    };
  }),
  law(
    'words-that-say-nothing',
    'A note about a tool, a serial number or something that was not done is not a symptom.',
    (r) => {
      const b = failing(r);
      const e = entries(r, b);
      const isChanged = r.yes(0.6);
      const note = r.pick(silentWords);
      const at = r.pick(['intake', 'check', 'reading', 'serial', ...(isChanged ? ['action'] : [])]);
      const told = (list: readonly Entry[], here: string): Entry[] =>
        list.map((x, k) => (at === here && k === 0 ? { ...x, note } : x));
      const changes = isChanged
        ? [
            action('a1', 'replace', {
              circuit: r.pick(['charge.charger', 'rail.run', 'pmic']),
              target: 'chip of that circuit',
            }),
          ]
        : [];
      const runs = [run('r1', b.feed, b.line()), ...(isChanged ? [run('r2', b.feed, b.line(), { after: 'a1' })] : [])];
      const plain = bare(b.class, b.expect);
      const wordy = bare(b.class, b.expect, at === 'intake' ? { intake: { notes: note } } : {});
      const device = at === 'serial' ? { ...wordy.device, serial: `SN-${r.whole(10000, 99999)}-B` } : wordy.device;
      return {
        about: `${b.class}, ${b.line()}; ${named(e)}; ${at}: ${note}`,
        cases: {
          plain: grow(plain, { runs, ...e, actions: changes }),
          wordy: grow(
            { ...wordy, device },
            {
              runs,
              checks: told(e.checks, 'check'),
              readings: told(e.readings, 'reading'),
              actions: told(changes, 'action'),
            },
          ),
        },
        judge: ({ plain: x, wordy: y }) => [close(x, y, 0.01)],
      };
    },
  ),
  law('named-later', 'Naming the circuit of a place later is the same as naming it at once.', (r) => {
    const s = shorted(r, true);
    const fed = {
      id: 'i1',
      rail: s.where,
      setV: 0.9,
      limitA: 2,
      amps: 1.2,
      leadsOhm: 0.3,
      hot: null,
      hotCircuit: null,
      heat: 'leads-only',
      referenceA: null,
      after: null,
    };
    const isFed = r.yes();
    const at = (circuit: string | null): Entries => ({
      readings: [{ ...s.short, circuit }],
      injections: isFed ? [{ ...fed, circuit }] : [],
    });
    const where = r.yes() ? s.where : s.where.toUpperCase();
    return {
      about: `${s.about}${isFed ? ', fed' : ''}`,
      cases: {
        once: grow(s.base, at(s.circuit)),
        later: grow(s.base, { ...at(null), places: [{ where, circuit: s.circuit }] }),
      },
      judge: ({ once, later }) => [close(once, later, 0.02)],
    };
  }),
  law('short-told-two-ways', 'A beep, zero in diode mode and half an ohm all mean the same short.', (r) => {
    const { base, where, circuit, about } = shorted(r);
    const [x, y] = r
      .shuffled([
        ohms(where, circuit, 0.4),
        diode(where, circuit, 0),
        ohms(where, circuit, null, { says: 'beep' }),
        ohms(where, circuit, null, { says: 'short' }),
        ohms(where, circuit, 1, { bound: 'below' }),
      ])
      .map((reading) => grow(base, { readings: [reading] }));
    return {
      about,
      cases: { x, y },
      judge: (a) => [sameLeader(a.x, a.y), close(a.x, a.y, 0.15)],
    };
  }),
  law('missing-told-two-ways', '0 V and less than 0.1 V both mean that the rail is missing.', (r) => {
    const b = failing(r, (s) => ['partial-hold', 'standby-hold', 'stall-low'].includes(s.kind));
    const isRun = b.kind === 'partial-hold';
    const [where, circuit, state] = isRun
      ? ['run 1.8 V', 'rail.run', 'run']
      : ['standby 3.3 V', 'rail.standby', 'standby'];
    const base = grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())] });
    const more = { state, prompted: isRun };
    return {
      about: `${b.class}, ${b.line()}; ${where}`,
      cases: {
        x: grow(base, { readings: [volts(where, circuit, 0, more)] }),
        y: grow(base, { readings: [volts(where, circuit, 0.1, { ...more, bound: 'below' })] }),
      },
      judge: ({ x, y }) => [sameLeader(x, y), close(x, y, 0.15)],
    };
  }),
  law('swing-told-two-ways', 'A voltage that swings is the same fact on a meter and in a voltage-only run.', (r) => {
    const deviceClass = r.pick(['tablet', 'phone', 'handheld'] as const);
    const [high, low] = [round(r.between(3.5, 4.1), 1), round(r.between(0, 0.4), 1)];
    const base = grow(bare(deviceClass, {}, { complaintKind: 'no-charge' }), {
      runs: [run('r1', 'usb-c', `usb-c port 1 with-battery: 5V ${amp(r.between(0.05, 0.1))} hold`)],
    });
    const typed = `usb-c voltage-only no-battery: (${high} ${low}) loop 2s`;
    return {
      about: `${deviceClass}: the battery connector swings from ${low} to ${high} V`,
      cases: {
        x: grow(base, {
          readings: [
            volts('battery connector', 'battery.pack', round((high + low) / 2), {
              swing: { low, high },
              feed: 'usb-c',
            }),
          ],
        }),
        y: grow(base, { runs: [run('r2', 'usb-c', typed, { quantity: 'voltage-only' })] }),
      },
      judge: ({ x, y }) => [sameLeader(x, y), close(x, y, 0.15)],
    };
  }),
  law('three-places-one-net', 'All points of one net read the same to ground, so three of them are one short.', (r) => {
    const { base, short, circuit, about } = shorted(r, true);
    const others = r
      .shuffled(['second capacitor of the same line', 'big coil, far end, same line', 'test pad of the same line'])
      .slice(0, 2)
      .map((where) => ({ ...short, where, circuit }));
    return {
      about,
      cases: { one: grow(base, { readings: [short] }), three: grow(base, { readings: [short, ...others] }) },
      judge: ({ one, three }) => [close(one, three, 0.05)],
    };
  }),
  law(
    'done-elsewhere',
    'A part that was replaced without success elsewhere is cleared as much as one replaced here.',
    (r) => {
      const b = failing(r, (s) => s.class !== 'console');
      const part = r.pick([
        { unit: 'display', target: 'display, new' },
        ...(b.feed === 'usb-c'
          ? [
              { unit: 'pack', target: 'battery pack, new' },
              { circuit: 'input.port', target: 'charging port, new' },
            ]
          : []),
        { circuit: r.pick(['charge.charger', 'pmic']), target: 'chip, new' },
      ]);
      const base = bare(b.class, b.expect, { intake: { priorRepair: true } });
      const line = b.line(b.feed === 'usb-c' ? 'with-battery' : '');
      const done = { actions: [action('a1', 'replace', part)] };
      const after = run('r2', b.feed, line, { after: 'a1' });
      return {
        about: `${b.class}, ${line}; ${part.target}`,
        cases: {
          elsewhere: grow(base, { ...done, runs: [after] }),
          here: grow(base, { ...done, runs: [run('r1', b.feed, line), after] }),
        },
        judge: ({ elsewhere, here }) => [close(elsewhere, here, 0.05), atMost('works', now(elsewhere, 'works'), 0.1)],
      };
    },
  ),
  law('another-notation', '47 mA, 0.047 and 0,047A are the same current.', (r) => {
    const b = failing(r, (s) => !['hiccup', 'limit-at-once', 'no-draw', 'surge-on-prompt'].includes(s.kind));
    const how = r.pick(['mA', 'comma', 'A']);
    const figure = /(?<![\d.])\d{1,6}(?:\.\d{1,6})?(?=[\s)]|$)/g;
    const said = (x: string): string =>
      how === 'mA' ? `${round(1000 * Number(x), 3)}mA` : how === 'comma' ? x.replace('.', ',') : `${x}A`;
    const powered = how === 'comma' ? b.powered().replace('.', ',') : b.powered();
    const other = `${powered}: ${b.read.replace(figure, said)}`;
    const base = bare(b.class, b.expect);
    return {
      about: `${b.line()} / ${other}`,
      cases: {
        one: grow(base, { runs: [run('r1', b.feed, b.line())] }),
        two: grow(base, { runs: [run('r1', b.feed, other)] }),
      },
      judge: ({ one, two }) => [close(one, two, 0.02)],
    };
  }),
  law(
    'ports-compared',
    'If all ports read the same, the fault is behind them. If one differs, the fault belongs to that port.',
    (r) => {
      const b = failing(
        r,
        (s) =>
          s.class === 'laptop' && s.feed === 'usb-c' && ['unraised-dark', 'dark-hold', 'unraised-low'].includes(s.kind),
      );
      const base = bare(b.class, { ...b.expect, ports: 2 });
      const at = (n: number, read: string): Entry => run(`r${n}`, 'usb-c', `usb-c port ${n}: ${read}`);
      const good = `5V 0.05 ${b.setV}V 1.1 ${amp(r.between(1.4, 2.2))} hold`;
      const ofOnePort = ['input.port', 'usbc.controller', 'input.protection'];
      return {
        about: `${b.read}; the other port alike, or ${good}`,
        cases: {
          alone: grow(base, { runs: [at(1, b.read)] }),
          alike: grow(base, { runs: [at(1, b.read), at(2, b.read)] }),
          apart: grow(base, { runs: [at(1, b.read), at(2, good)] }),
        },
        judge: ({ alone, alike, apart }) => [
          atMost('alike: the port', p(alike, 'input.port'), Math.max(0.02, 0.8 * p(alone, 'input.port'))),
          claim(
            'apart: a part of one port leads',
            [...ofOnePort, 'charge.port-ic'].includes(leader(apart)),
            leaders(apart),
          ),
          claim('apart more than alike', p(apart, ...ofOnePort) > p(alike, ...ofOnePort), leaders(alike)),
        ],
      };
    },
  ),
  law('across-a-fuse', 'Across a fuse, a tenth of an ohm is good and open is the fault.', (r) => {
    const b = failing(
      r,
      (s) => (s.feed === 'dc-in' && s.kind === 'dark-hold') || (s.feed === 'battery' && s.kind === 'no-draw'),
    );
    const before = grow(bare(b.class, b.expect), { runs: [run('r1', b.feed, b.line())] });
    const where = b.feed === 'battery' ? 'fuse in the battery line, end to end' : 'input fuse, end to end';
    const read = (value: number | null, more: Entry = {}): Entries => ({
      readings: [ohms(where, 'input.protection', value, { across: true, ...more })],
    });
    return {
      about: `${b.class}, ${b.line()}; ${where}`,
      cases: {
        before,
        good: grow(before, read(round(r.between(0.1, 0.3), 1))),
        open: grow(before, read(null, { ol: true })),
      },
      judge: ({ before: x, good, open }) => [
        atMost('a tenth of an ohm', p(good, 'input.protection'), p(x, 'input.protection') + 0.01),
        claim(
          'open leads with half',
          leader(open) === 'input.protection' && p(open, 'input.protection') >= 0.5,
          leaders(open),
        ),
      ],
    };
  }),
  law(
    'off-and-on-again',
    'Unplugging a board and plugging it back in changes nothing if the fault stays the same.',
    (r) => {
      const b = failing(r, (s) => s.feed !== 'usb-c' && s.class !== 'console');
      const words = r.pick(['side board', 'sensor flex', 'key board']);
      const off = grow(bare(b.class, b.expect), {
        runs: [run('r1', b.feed, b.line()), run('r2', b.feed, b.line(`unplugged "${words}"`), { after: 'a1' })],
        actions: [action('a1', 'disconnect', { circuit: 'periph.board', target: words })],
      });
      const back = grow(off, {
        actions: [action('a2', 'reconnect', { circuit: 'periph.board', target: words, undoes: 'a1' })],
        runs: [run('r3', b.feed, b.line(), { after: 'a2' })],
      });
      return {
        about: `${b.class}, ${b.line()}; ${words} off and on`,
        cases: { off, back },
        judge: ({ off: x, back: y }) => [close(x, y, 0.05)],
      };
    },
  ),
];
