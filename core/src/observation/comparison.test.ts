import type { Case, Contract } from '../case/index.ts';
import { assess, believe, historyOf } from '../diagnosis/index.ts';
import { typedCase } from '../testing/cases.ts';
import { comparisonKind, recoversBeside } from './comparison.ts';
import { contractKind } from './contract.ts';
import { isLeftOut } from './index.ts';

const said = (lines: string[], deviceClass: Case['device']['class'] = 'laptop'): string[] => {
  const { value, shapes } = typedCase(deviceClass, lines);
  return comparisonKind.entries(historyOf(value, shapes).history).map((e) => (isLeftOut(e) ? e.leftOut : e.sentence));
};
const dark = (more = ''): string => `usb-c port 1${more}: 5V 0.005 hold`;

describe('two runs of one state that differ in one thing', () => {
  test.each([
    ['ports that read the same', [dark(), 'usb-c port 2: 5V 0.005 hold'], /ports read the same/],
    ['one odd port', [dark(), 'usb-c port 2: 5V 0.3 9V 1 20V 2.2 hold'], /ports read differently/],
    ['a flipped plug', [dark(), dark(' flipped')], /the same with the plug flipped/],
    [
      'parts unplugged, nothing changes',
      ['battery 4V: 0.07 hold', 'battery 4V unplugged flex: 0.07 hold'],
      /nothing changes/,
    ],
    [
      'parts unplugged, it recovers',
      [
        'battery 4V: 0.07 hold | prompt 0.07 hold',
        'battery 4V unplugged flex: 0 | prompt 0.1 0.3 0.9 0.5 1.2 0.6 1.1 0.4 0.9 0.3 hold',
      ],
      /it recovers/,
    ],
  ])('%s', (_, lines, expected) =>
    expect(said(lines, lines[0].startsWith('battery') ? 'phone' : 'laptop').join('\n')).toMatch(expected),
  );

  test('two things at once are no comparison, and neither are two healthy runs', () => {
    expect(said([dark(), 'usb-c port 1 flipped no-battery: 5V 0.005 hold'])).toEqual([]);
    const fine = 'usb-c port 1: 5V 0.3 9V 1 20V 2.2 hold';
    expect(said([fine, fine.replace('port 1', 'port 1 flipped')])).toEqual([]);
  });

  test('a run that works without a part tells of the part and not of a healthy device', () => {
    const { value, shapes } = typedCase('phone', [
      'battery 4V: 0.07 hold | prompt 0.07 hold',
      'battery 4V unplugged flex: 0 | prompt 0.1 0.3 0.9 0.5 1.2 0.6 1.1 0.4 0.9 0.3 hold',
    ]);
    const { history } = historyOf(value, shapes);
    expect(history.seen.map((s) => recoversBeside(history, s))).toEqual([false, true]);
    const belief = believe(value, shapes);
    expect(belief.weighed.filter((w) => w.kind === 'run').map((w) => w.source)).toEqual(['run:r1']);
    expect(belief.now.works).toBeLessThan(0.1);
  });
});

describe('the contract that a meter decoded', () => {
  const predicted = (line: string, contract: Contract) => {
    const { value, shapes } = typedCase('laptop', [line]);
    value.runs[0].contract = contract;
    return { a: assess(value, shapes), entries: contractKind.entries(historyOf(value, shapes).history) };
  };
  const p = (a: ReturnType<typeof assess>, id: string): number => a.circuits.find((c) => c.id === id)?.p ?? 0;

  test('an accepted offer proves the port controller, none accuses it', () => {
    const line = 'usb-c port 1: 5V 0.07 hold';
    const none = predicted(line, { kind: 'none', volts: null, amps: null });
    const offer = predicted(line, { kind: 'pd', volts: 5, amps: 3 });
    expect(p(offer.a, 'usbc.controller')).toBeLessThan(p(none.a, 'usbc.controller'));
    expect(p(offer.a, 'input.port')).toBeLessThan(p(none.a, 'input.port'));
  });
  test('on another feed it is said and not used', () => {
    const { entries, a } = predicted('dc-in 19V: 50mA hold', { kind: 'pd', volts: 20, amps: 3 });
    expect(entries.every(isLeftOut)).toBe(true);
    expect(a.warnings.join()).toMatch(/a contract needs USB-C/);
  });
});
