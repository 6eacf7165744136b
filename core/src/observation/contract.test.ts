import type { Contract } from '../case/index.ts';
import { assess, historyOf } from '../diagnosis/index.ts';
import { typedCase } from '../testing/cases.ts';
import { contractKind } from './contract.ts';
import { isLeftOut } from './index.ts';

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
