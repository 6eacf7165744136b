import fc from 'fast-check';
import { circuitIds } from '../catalogue/index.ts';
import type { Action, Case } from '../case/index.ts';
import { assess, historyOf } from '../diagnosis/index.ts';
import { actionOf, typedCase } from '../testing/cases.ts';
import { assembliesOf, isLeftOut, isOwn, type Assembly } from './index.ts';
import { runKind } from './run.ts';
import { sayLeftOut, sayReason } from '../reasons/index.ts';

const loop = 'battery 4V: 0 | prompt (0.2 0.6 0) loop 3s';
const start = '0 | prompt 0.1 0.3 0.9 0.5 1.2 0.6 1.1 0.4 0.9 0.3 hold';
const dark = (more = ''): string => `usb-c port 1${more}: 5V 0.005 hold`;

/** A case of typed lines, each after the change of its place in a list; null before any. */
function caseWith(lines: [line: string, after?: string][], actions: Action[]): Case {
  const { value } = typedCase(
    'phone',
    lines.map(([line]) => line),
  );
  return { ...value, actions, runs: value.runs.map((r, k) => ({ ...r, after: lines[k][1] ?? null })) };
}

function assembled(lines: [line: string, after?: string][], actions: Action[] = []) {
  const value = caseWith(lines, actions);
  const epochOf = (after: string | null): number => actions.findIndex((a) => a.id === after) + 1;
  return { ...assembliesOf(value, epochOf), value };
}

const filled = (assembly: Assembly): Record<string, string> => Object.fromEntries(assembly);

describe('how a device is put together', () => {
  test('what was unplugged is out until it is plugged in, a good thing is in until the own one is back', () => {
    const { things, after } = assembled(
      [[loop]],
      [
        actionOf('a1', 'disconnect', { circuit: null, target: 'sensor board' }),
        actionOf('a2', 'replace', { circuit: null, unit: 'pack', target: 'battery', with: 'good' }),
        actionOf('a3', 'plug', { circuit: null, target: 'sensor board' }),
        actionOf('a4', 'refit', { circuit: null, unit: 'pack', target: 'own battery', with: 'own' }),
      ],
    );
    expect(things.map((t) => t.id)).toEqual(['part:sensor board', 'pack']);
    expect([0, 1, 2, 3, 4].map((epoch) => filled(after(epoch)))).toEqual([
      {},
      { 'part:sensor board': 'none' },
      { 'part:sensor board': 'none', pack: 'good' },
      { pack: 'good' },
      {},
    ]);
  });

  test('a joint is new once it is soldered, and both halves go with the board', () => {
    const { things, after } = assembled(
      [[loop]],
      [
        actionOf('a1', 'split', { circuit: null, unit: 'halves', target: 'boards' }),
        actionOf('a2', 'reflow', { circuit: 'joint.stack', target: 'frame' }),
        actionOf('a3', 'replace', { circuit: null, unit: 'board', target: 'main board', with: 'good' }),
      ],
    );
    const states = (epoch: number): boolean[] => things.map((t) => isOwn(after(epoch), t));
    expect(things.map((t) => t.id)).toEqual(['half:main', 'half:other', 'joint', 'board']);
    expect([1, 2, 3].map(states)).toEqual([
      [true, true, false, true],
      [true, true, false, true],
      [false, false, false, false],
    ]);
  });

  test('a part on a board is no thing of its own', () => {
    const { things } = assembled(
      [[loop]],
      [
        actionOf('a1', 'replace', { circuit: 'periph.board', target: 'capacitor on the side board' }),
        actionOf('a2', 'replace', { circuit: 'battery.pack', target: 'battery connector' }),
        actionOf('a3', 'remove', { circuit: 'rail.run', target: 'C12' }),
      ],
    );
    expect(things).toEqual([]);
  });

  test('ports, plugs and chargers are as the setup has them', () => {
    const { things, value, ofRun } = assembled([[dark()], ['usb-c port 2 flipped: 5V 0.005 hold']]);
    expect(things.map((t) => t.id)).toEqual(['port:2', 'port:1']);
    expect(value.runs.map((r) => filled(ofRun(r)))).toEqual([{ 'port:2': 'none' }, { 'port:1': 'none', side: 'none' }]);
  });

  test('the shares of the things of a circuit never exceed one', () => {
    const targets = ['sensor board', 'camera', 'side board', 'display', 'battery', 'something green'];
    const change = fc.record({
      kind: fc.constantFrom('disconnect', 'replace', 'trial', 'split', 'plug'),
      target: fc.constantFrom(...targets),
      unit: fc.constantFrom(null, 'pack', 'board', 'display', 'charger', 'flex', 'port-board', 'halves', 'button'),
    });
    fc.assert(
      fc.property(fc.array(change, { maxLength: 6 }), (changes) => {
        const actions = changes.map((c, k) =>
          actionOf(`a${k}`, c.kind as Action['kind'], { ...c, circuit: null } as Partial<Action>),
        );
        const { things } = assembled([[dark()], ['usb-c port 2: 5V 0.005 hold']], actions);
        for (const circuit of circuitIds) {
          const shares = things.map((t) => t.share(circuit));
          expect(Math.min(0, ...shares)).toBe(0);
          expect(shares.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(1 + 1e-9);
        }
      }),
    );
  });
});

describe('a run is held against one that failed with the fault in the device', () => {
  const said = (lines: string[], deviceClass: Case['device']['class'] = 'laptop'): string[] => {
    const { value, shapes } = typedCase(deviceClass, lines);
    return runKind
      .entries(historyOf(value, shapes).history)
      .map((e) => (isLeftOut(e) ? sayLeftOut(e) : sayReason(e.reason)));
  };
  test.each([
    ['ports that read the same', [dark(), 'usb-c port 2: 5V 0.005 hold'], /with another port, nothing changes/],
    ['one odd port', [dark(), 'usb-c port 2: 5V 0.3 9V 1 20V 2.2 hold'], /with another port, it recovers/],
    ['a plug turned over', [dark(), dark(' flipped')], /with the plug flipped, nothing changes/],
    [
      'parts unplugged, nothing changes',
      ['battery 4V: 0.07 hold', 'battery 4V unplugged flex: 0.07 hold'],
      /with flex unplugged, nothing changes/,
    ],
    [
      'parts unplugged, it recovers',
      ['battery 4V: 0.07 hold | prompt 0.07 hold', `battery 4V unplugged flex: ${start}`],
      /with flex unplugged, it recovers/,
    ],
  ])('%s', (_, lines, expected) =>
    expect(said(lines, lines[0].startsWith('battery') ? 'phone' : 'laptop').join('\n')).toMatch(expected),
  );

  test('two healthy runs are held against nothing', () => {
    const fine = 'usb-c port 1: 5V 0.3 9V 1 20V 2.2 hold';
    for (const sentence of said([fine, fine.replace('port 1', 'port 1 flipped')])) expect(sentence).toMatch(/^Run r/);
  });

  const p = (a: ReturnType<typeof assess>, id: string): number => a.circuits.find((c) => c.id === id)?.p ?? 0;
  const assessed = (lines: [line: string, after?: string][], actions: Action[] = []): ReturnType<typeof assess> => {
    const { shapes } = typedCase(
      'phone',
      lines.map(([line]) => line),
    );
    return assess(caseWith(lines, actions), shapes);
  };

  test('one that works without a part tells of the part, in whichever order they were made', () => {
    const without = `battery 4V unplugged "side board": ${start}`;
    for (const lines of [
      [loop, without],
      [without, loop],
    ] as const) {
      const a = assessed(lines.map((line): [string] => [line]));
      expect(a.circuits[0].id).toBe('periph.board');
      expect(a.now.find((n) => n.id === 'works')?.p ?? 0).toBeLessThan(0.1);
    }
  });

  test('a good battery cures it, and it fails again on its own one: the battery; it works on its own one: hardly', () => {
    const lines = (last: string): [string, string?][] => [
      ['usb-c port 1 with-battery: 5V 0.005 hold'],
      ['usb-c port 1 with-battery: 5V 0.3 9V 1.4 1.7 hold', 'a1'],
      [`usb-c port 1 with-battery: ${last}`, 'a2'],
    ];
    const swap = [
      actionOf('a1', 'replace', { circuit: null, unit: 'pack', target: 'battery', with: 'good' }),
      actionOf('a2', 'replace', { circuit: null, unit: 'pack', target: 'battery', with: 'own' }),
    ];
    const fails = assessed(lines('5V 0.005 hold'), swap);
    const works = assessed(lines('5V 0.3 9V 1.4 1.7 hold'), swap);
    expect(p(fails, 'battery.pack')).toBeGreaterThan(0.95);
    expect(p(works, 'battery.pack')).toBeLessThan(p(fails, 'battery.pack') - 0.1);
    expect(works.now[0].id).toBe('works');
  });

  test('a good charger cures it: nothing is wrong with the device', () => {
    const a = assessed(
      [['usb-c port 1 with-battery: 5V 0.005 hold'], ['usb-c port 1 with-battery: 5V 0.3 9V 1.4 1.7 hold', 'a1']],
      [actionOf('a1', 'replace', { circuit: null, unit: 'charger', target: 'charger', with: 'good' })],
    );
    expect(a.circuits[0].id).toBe('none');
  });
});
