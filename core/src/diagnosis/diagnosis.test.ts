import { checkTypes, deviceClasses, type CircuitId } from '../catalogue/index.ts';
import { type Action, type Case } from '../case/index.ts';
import { readTypedRun } from '../formats/index.ts';
import { figuresOf, healthyBand } from '../prediction/index.ts';
import { repeatStrokes } from '../sketch/index.ts';
import { actionOf, caseOf, checkOf, readingOf, sketchInstruments, sketchRun, typedCase } from '../testing/cases.ts';
import { assess, describe as describeShape, type Assessment } from './index.ts';
import { sayEvidence } from '../reasons/index.ts';

const assessTyped = (
  lines: string[],
  over: Partial<Case> = {},
  deviceClass: Case['device']['class'] = 'phone',
): Assessment => {
  const { value, shapes } = typedCase(deviceClass, lines, over);
  return assess(value, shapes);
};
const p = (a: Assessment, id: CircuitId): number => a.circuits.find((c) => c.id === id)?.p ?? 0;
const leaders = (a: Assessment, n = 3): string[] => a.circuits.slice(0, n).map((c) => c.id);

test.each(deviceClasses)('a %s has figures', (deviceClass) => {
  const figures = figuresOf(caseOf(deviceClass).device);
  expect(figures.quiescentA).toBeLessThan(figures.idleA);
  expect(figures.idleA).toBeLessThan(figures.startPeakA);
});

describe('one run names the suspects that practitioners name', () => {
  const expected: [string, string, Case['device']['class'], string[]][] = [
    ['limit-at-once', 'battery 4V limit 2A: limit', 'phone', ['rail.main', 'charge.charger', 'input.protection']],
    [
      'draw-before-prompt',
      'battery 4V: 0.28 hold | prompt 0.28 hold',
      'phone',
      ['rail.main', 'rail.boost', 'rail.always-on', 'charge.charger', 'pmic'],
    ],
    ['surge-on-prompt', 'battery 4V limit 3A: 0 | prompt limit', 'phone', ['rail.run', 'core.supply', 'core.soc']],
    ['stall-mid', 'battery 4V: 0 | prompt 0.1 0.25 0.35 hold', 'phone', ['core.storage', 'core.memory', 'firmware']],
    [
      'restart-loop',
      'battery 3.8V: 0 | prompt (0.09 0.3 0) loop 6s',
      'phone',
      ['joint.stack', 'radio', 'battery.pack', 'periph.board', 'firmware'],
    ],
    ['unraised-low', 'usb-c port 1: 5V 0.07 hold', 'laptop', ['mgmt', 'firmware', 'pmic', 'usbc.controller']],
    [
      'unraised-dark',
      'usb-c port 1: 5V 0.005 hold',
      'laptop',
      ['usbc.controller', 'input.protection', 'rail.always-on', 'periph.board'],
    ],
    [
      'standby-hold',
      'dc-in 19V: 50mA hold | prompt 50mA hold',
      'laptop',
      ['rail.standby', 'rail.always-on', 'mgmt', 'button'],
    ],
    [
      'partial-hold',
      'dc-in 19V: 30mA | prompt 210mA hold',
      'laptop',
      ['rail.run', 'seq.power-good', 'core.supply', 'core.soc'],
    ],
    ['no-attach', 'usb-c: 0V hold', 'laptop', ['input.port', 'usbc.controller', 'input.protection']],
    [
      'normal-start',
      'battery 4V: 0 | prompt 0.1 0.3 0.9 0.5 1.2 0.6 1.1 0.4 0.9 0.3 hold',
      'phone',
      ['none', 'display'],
    ],
    ['quiet', 'battery 4V: 0 hold', 'phone', ['none']],
  ];
  test.each(expected)('%s', (pattern, line, deviceClass, first) => {
    const a = assessTyped([line], {}, deviceClass);
    expect(a.runs[0].pattern[0].id).toBe(pattern);
    expect(first).toContain(leaders(a, 1)[0]);
    // All but one of the first suspects are among the leaders, one stranger allowed.
    const named = leaders(a, first.length + 1).filter((id) => first.includes(id));
    expect(named.length).toBeGreaterThanOrEqual(Math.max(1, Math.min(3, first.length - 1)));
  });
});

test('a run in which the output was never on says nothing', () => {
  const line = 'battery 4V: 0 | prompt 0.1 0.33 hold';
  const [alone, beside] = [assessTyped([line]), assessTyped([line, 'battery 4V: 0V 0 hold'])];
  expect(beside.circuits.slice(0, 3).map((c) => c.id)).toEqual(alone.circuits.slice(0, 3).map((c) => c.id));
  expect(p(beside, 'unmodelled')).toBeLessThan(p(alone, 'unmodelled') + 0.02);
});

describe('comparisons', () => {
  const dark = (n: string): string => `usb-c ${n}: 5V 0.005 hold`;
  test('the same on every port clears the port', () => {
    const one = assessTyped([dark('port 1')], {}, 'laptop');
    const both = assessTyped([dark('port 1'), dark('port 2')], {}, 'laptop');
    expect(p(both, 'input.port')).toBeLessThan(p(one, 'input.port'));
    expect(p(both, 'usbc.controller')).toBeLessThan(p(one, 'usbc.controller'));
    expect(
      both.circuits
        .find((c) => c.id === 'usbc.controller')
        ?.evidence.some((e) => e.for < 0 && /with another port, nothing changes/.test(sayEvidence(e))),
    ).toBe(true);
  });
  test('one odd port is accused', () => {
    const a = assessTyped(
      [dark('port 1 with-battery'), 'usb-c port 2 with-battery: 5V 0.3 9V 1 20V 2.2 hold'],
      {},
      'laptop',
    );
    const other = assessTyped(['usb-c port 2 with-battery: 5V 0.3 9V 1 20V 2.2 hold'], {}, 'laptop');
    const alone = assessTyped([dark('port 1 with-battery')], {}, 'laptop');
    expect(leaders(a, 1)).toEqual(['usbc.controller']);
    for (const id of ['usbc.controller', 'input.port'] as const)
      expect(p(a, id) / p(a, 'rail.always-on')).toBeGreaterThan(p(alone, id) / p(alone, 'rail.always-on'));
    expect(p(a, 'usbc.controller')).toBeGreaterThan(p(other, 'usbc.controller'));
  });
  test('a plug that reads differently turned over accuses the port', () => {
    const same = assessTyped([dark('port 1'), dark('port 1 flipped')]);
    const differs = assessTyped([dark('port 1'), 'usb-c port 1 flipped: 5V 0.3 9V 1.6 hold']);
    expect(p(differs, 'input.port')).toBeGreaterThan(3 * p(same, 'input.port'));
  });
  test('a repeat is not a second witness', () => {
    const line = 'battery 4V: 0 | prompt 0.1 0.25 0.35 hold';
    const once = assessTyped([line]);
    const thrice = assessTyped([line, line, line]);
    expect(Math.abs(p(thrice, 'core.storage') - p(once, 'core.storage'))).toBeLessThan(0.02);
  });
  test('unplugging that cures it accuses the part, unplugging that changes nothing clears it', () => {
    const leak = 'battery 4V: 0.07 hold | prompt 0.07 hold';
    const cured = assessTyped([
      leak,
      'battery 4V unplugged flex: 0 | prompt 0.1 0.3 0.9 0.5 1.2 0.6 1.1 0.4 0.9 0.3 hold',
    ]);
    const same = assessTyped([leak, 'battery 4V unplugged flex: 0.07 hold | prompt 0.07 hold']);
    expect(leaders(cured, 1)).toEqual(['periph.board']);
    expect(p(same, 'periph.board')).toBeLessThan(p(assessTyped([leak]), 'periph.board'));
  });
  test('the battery taken out that cures it accuses the pack', () => {
    const a = assessTyped(
      [
        'dc-in 19V with-battery: 50mA hold | prompt 50mA hold',
        'dc-in 19V no-battery: 50mA | prompt 0.1 0.5 1.2 0.7 1.4 0.6 1.3 0.5 1.1 0.4 hold',
      ],
      {},
      'laptop',
    );
    expect(leaders(a, 1)).toEqual(['battery.pack']);
  });
  test('a pack that was out when it failed is not to blame', () => {
    const fails = (battery: string): number =>
      p(
        assessTyped([`dc-in 19V ${battery} limit 5A: 0.02 hold | prompt 0.21 0.5 0.9 1.4 0.02 hold`], {}, 'laptop'),
        'battery.pack',
      );
    expect(fails('no-battery')).toBeLessThan(0.5 * fails('with-battery'));
  });
  test('a laptop that drains has no port switch chip to suspect first', () => {
    const line = 'battery 11.4V: 0.05 hold | prompt 0.1 0.4 1.1 0.7 1.6 0.8 1.5 0.6 1.3 0.5 hold';
    expect(leaders(assessTyped([line], { complaintKind: 'drain' }, 'laptop'), 1)).not.toEqual(['charge.port-ic']);
    expect(leaders(assessTyped(['battery 3.9V: 0.03 hold'], { complaintKind: 'drain' }, 'phone'), 1)).toEqual([
      'charge.port-ic',
    ]);
  });
  test('a step at the instant a part comes off counts', () => {
    const outline = {
      feed: 'battery' as const,
      setup: { setV: 4, limitA: 3 },
      strokes: [
        { seconds: 6, amps: 0.15 },
        { seconds: 6, amps: 0.002 },
      ],
      markers: [
        { t: 0, event: 'output-on' as const },
        { t: 6, event: 'part-off' as const, note: 'sensor flex' },
      ],
    };
    const { run, trace } = sketchRun(outline, sketchInstruments.logger);
    const value = caseOf('phone', { runs: [run] });
    const a = assess(value, new Map([['r1', describeShape(value, run, trace, null)]]));
    const [first] = a.circuits.find((c) => c.id === 'periph.board')?.evidence ?? [];
    expect(sayEvidence(first)).toMatch(/sensor flex unplugged in run r1: the draw falls \(150 mA, then 2/);
    expect(leaders(a, 3)).toContain('periph.board');
  });
});

describe('checks, readings, intake', () => {
  const stall = 'battery 4V: 0 | prompt 0.1 0.25 0.35 hold';
  test('the outcome of a check moves its suspects', () => {
    const before = assessTyped([stall]);
    const recovery = assessTyped([stall], { checks: [checkOf('host-detects', 'recovery')] });
    expect(p(recovery, 'core.storage') + p(recovery, 'firmware')).toBeGreaterThan(
      p(before, 'core.storage') + p(before, 'firmware'),
    );
    expect(p(recovery, 'core.soc')).toBeLessThan(p(before, 'core.soc'));
  });
  test('two outcomes of one check that disagree leave it between them', () => {
    const of = (...outcomes: string[]): number =>
      p(assessTyped([stall], { checks: outcomes.map((o) => checkOf('host-detects', o)) }), 'core.storage');
    expect(of('nothing', 'recovery')).toBeGreaterThan(of('nothing'));
    expect(of('nothing', 'recovery')).toBeLessThan(of('recovery'));
  });
  test('one outcome entered three times is hardly more than once', () => {
    const of = (n: number): number =>
      p(
        assessTyped([stall], { checks: Array.from({ length: n }, () => checkOf('host-detects', 'recovery')) }),
        'core.storage',
      );
    expect(Math.abs(of(3) - of(1))).toBeLessThan(0.1);
  });
  test('an unknown check is said and not used', () =>
    expect(assessTyped([stall], { checks: [checkOf('smell', 'smoky')] }).warnings.join()).toMatch(
      /smell: smoky: this check is not known/,
    ));
  test('checks alone give an answer', () =>
    expect(
      assessTyped([], { checks: [checkOf('usb-wakes', 'yes'), checkOf('press-response', 'none')] }).circuits[0].id,
    ).toBe('button'));
  test('a present rail of a high state clears the rails below it', () => {
    const a = assessTyped(
      ['dc-in 19V: 30mA | prompt 210mA hold'],
      {
        readings: [
          readingOf({ mode: 'voltage', value: 3.3, reference: 3.3, state: 'S0', circuit: 'rail.run', prompted: true }),
        ],
      },
      'laptop',
    );
    const b = assessTyped(['dc-in 19V: 30mA | prompt 210mA hold'], {}, 'laptop');
    for (const id of ['rail.standby', 'rail.always-on', 'rail.main'] as const) expect(p(a, id)).toBeLessThan(p(b, id));
  });
  test('a short on a rail names it, or what pulls it down', () => {
    const a = assessTyped(['battery 4V limit 2A: limit'], {
      readings: [readingOf({ mode: 'resistance', value: 0.4, reference: 40_000, circuit: 'rail.main' })],
    });
    expect(leaders(a, 1)).toEqual(['rail.main']);
    expect(p(a, 'rail.main')).toBeGreaterThan(0.6);
  });
  test('ten capacitors on one net are one short', () => {
    const short = readingOf({ mode: 'resistance', value: 0.4, reference: 90, circuit: 'rail.run' });
    const one = p(assessTyped([stall], { readings: [short] }), 'rail.run');
    const ten = p(
      assessTyped([stall], { readings: Array.from({ length: 10 }, (_, k) => ({ ...short, where: `c${k}` })) }),
      'rail.run',
    );
    expect(ten).toBeGreaterThan(one - 0.02);
    expect(Math.log(ten / (1 - ten)) - Math.log(one / (1 - one))).toBeLessThan(3);
  });
  test('the intake is a reason with its weight', () => {
    const a = assessTyped([stall], { intake: { ...caseOf('phone').intake, dropped: true } });
    expect(
      a.circuits
        .find((c) => c.id === 'joint.stack')
        ?.evidence.some((e) => sayEvidence(e).startsWith('It was dropped') && e.for > 2),
    ).toBe(true);
  });
  test('a swollen battery stops everything', () => {
    const a = assessTyped([stall], { intake: { ...caseOf('phone').intake, batterySwollen: true } });
    expect(a.warnings.join()).toMatch(/Swollen battery: stop/);
    expect(a.next[0]).toMatchObject({ kind: 'stop' });
  });
});

describe('interventions', () => {
  const before = readTypedRun('battery 4V limit 2A: 1.2 hold', 'r1').run;
  const healthy = 'battery 4V limit 2A: 0 | prompt 0.1 0.3 0.9 0.5 1.2 0.6 1.1 0.4 0.9 0.3 hold';
  const act = (action: Partial<Action>, line: string | null): Assessment => {
    const lines = [before.typed!, ...(line ? [line] : [])];
    const { value, shapes } = typedCase('phone', lines, {
      actions: [actionOf('a1', 'replace', { circuit: 'charge.charger', runBefore: 'r1', ...action })],
    });
    if (line) value.runs[1].after = 'a1';
    return assess(value, shapes);
  };
  test('a part that cures it was the fault', () => expect(leaders(act({}, healthy), 1)).toEqual(['charge.charger']));
  test('a part that changes nothing is cleared', () =>
    expect(p(act({}, before.typed), 'charge.charger')).toBeLessThan(0.5 * p(act({}, null), 'charge.charger')));
  test('a part taken off accuses also what it feeds', () => {
    const removed = act({ kind: 'remove' }, healthy);
    expect(p(removed, 'rail.main')).toBeGreaterThan(p(act({}, healthy), 'rail.main'));
  });
  test('a donor part is a weaker test', () => {
    const sure = p(act({}, healthy), 'charge.charger');
    expect(p(act({ confounders: ['donor'] }, healthy), 'charge.charger')).toBeLessThan(sure);
  });
  test('a change without a run after it asks for one', () =>
    expect(act({}, null).warnings.join()).toMatch(/Record a run now to see what it did/));
  test('three changes that moved nothing mean that the hypothesis is wrong', () => {
    const kinds = ['charge.charger', 'pmic', 'rail.boost'] as const;
    const { value, shapes } = typedCase(
      'phone',
      Array.from({ length: 4 }, () => before.typed!),
      {
        actions: kinds.map((circuit, k) => actionOf(`a${k}`, 'replace', { circuit })),
      },
    );
    kinds.forEach((_, k) => (value.runs[k + 1].after = `a${k}`));
    expect(assess(value, shapes).warnings.join()).toMatch(
      /3 repairs changed nothing, so the diagnosis is probably wrong/,
    );
  });
});

describe('next tests', () => {
  const stall = 'battery 4V: 0 | prompt 0.1 0.25 0.35 hold';
  test('are ranked by information a minute, and say what each suspect predicts', () => {
    const { next } = assessTyped([stall]);
    expect(next.length).toBeGreaterThan(2);
    for (const s of next.filter((x) => x.kind === 'check')) {
      expect(s.bits).toBeGreaterThan(0);
      expect(s.predicts).toHaveLength(3);
    }
  });
  test('nothing that cannot be undone comes first while something reversible is open', () => {
    for (const line of [stall, 'battery 3.8V: 0 | prompt (0.09 0.3 0) loop 6s', 'battery 4V limit 2A: limit'])
      expect(assessTyped([line]).next[0].depth).toBeLessThan(4);
  });
  test('an answered check is not asked again', () => {
    const [first] = assessTyped([stall]).next;
    const outcome = checkTypes[first.check!].outcomes[0];
    expect(
      assessTyped([stall], { checks: [checkOf(first.check!, outcome)] }).next.some((s) => s.check === first.check),
    ).toBe(false);
  });
  test('a processor that is sure enough brings the advice to stop', () => {
    const outlook = assessTyped(['battery 4V limit 3A: 0 | prompt limit'], {
      checks: [checkOf('heat-view', 'uniform')],
      readings: [
        readingOf({ mode: 'resistance', value: 0.05, reference: 4, circuit: 'core.soc' }),
        readingOf({ mode: 'resistance', value: 80, reference: 82, circuit: 'rail.run' }),
        readingOf({ mode: 'resistance', value: 9, reference: 9, circuit: 'core.supply' }),
      ],
    });
    expect(outlook.circuits[0].id).toBe('core.soc');
    expect(outlook.next[0]).toMatchObject({ kind: 'stop', why: expect.stringMatching(/not economical/) });
  });
});

test('an answer for every class and feed, summing to one', () => {
  const lines = {
    battery: 'battery 4V: 0 | prompt 0.1 0.2 hold',
    'usb-c': 'usb-c: 5V 0.05 hold',
    'dc-in': 'dc-in 12V: 0.05 | prompt 0.3 hold',
  };
  for (const deviceClass of deviceClasses) {
    for (const line of Object.values(lines)) {
      const a = assessTyped([line], {}, deviceClass);
      expect(a.circuits.reduce((sum, c) => sum + c.p, 0)).toBeGreaterThan(0.97);
      expect(a.circuits.reduce((sum, c) => sum + c.p, 0)).toBeLessThanOrEqual(1 + 1e-9);
      expect(a.circuits.some((c) => c.id === 'unmodelled')).toBe(true);
      expect(a.next.length).toBeGreaterThan(0);
      expect(JSON.stringify(a)).not.toMatch(/NaN|Infinity/);
    }
  }
});

test('the healthy band rises from rest to the start peak', () => {
  const { run } = readTypedRun('battery 4V: 0 | prompt 0.1 hold', 'r1');
  const band = healthyBand(caseOf('phone').device, run, 4);
  expect(band[0].high).toBeLessThan(0.01);
  expect(Math.max(...band.map((b) => b.high))).toBeGreaterThan(1);
  for (const step of band) expect(step.low).toBeLessThanOrEqual(step.high);
});

test('pulses of the feed itself accuse what stands before the load', () => {
  const pulses = repeatStrokes(60, [
    { seconds: 0.2, amps: 0.9, volts: 19 },
    { seconds: 0.3, amps: 0.01, volts: 3 },
  ]);
  const { run, trace } = sketchRun({ feed: 'dc-in', strokes: pulses }, sketchInstruments.logger);
  const value = caseOf('laptop', { runs: [run] });
  const a = assess(value, new Map([[run.id, describeShape(value, run, trace, null)]]));
  expect(a.runs[0].pattern[0].id).toBe('hiccup');
  expect(a.circuits[0].id).toBe('input.protection');
});
