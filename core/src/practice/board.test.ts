import { shippedProfiles } from '../twin/index.ts';
import { parseFault } from '../twin/index.ts';
import { leadsOhm, SimulatedBoard } from './board.ts';

const phone = shippedProfiles.find((p) => p.id === 'tallgate-moorcall-2') ?? shippedProfiles[0];
const boardWith = (fault: string): SimulatedBoard => new SimulatedBoard(phone, [parseFault(phone, fault)], 3);

describe('probes at the opened board', () => {
  test('a good rail stands where it is made for, within a percent; a shorted one does not', () => {
    const { volts, low } = boardWith('none').volts('io', 'after');
    expect(Math.abs(volts / 1.8 - 1)).toBeLessThan(0.01);
    expect(low).toBeNull();
    expect(boardWith('short:io=0.1').volts('io', 'after').volts).toBeLessThan(0.2);
    expect(boardWith('none').volts('io', 'before').volts).toBeLessThan(0.2);
  });

  test('a device that starts over and over has rails that come and go', () => {
    const comesAndGoes = (fault: string): string[] =>
      phone.rails.filter((r) => boardWith(fault).volts(r.id, 'after').low !== null).map((r) => r.id);
    expect(comesAndGoes('none')).toEqual([]);
    expect(comesAndGoes('mute:gauge')).toContain('io');
  });

  test('to ground it is the short with the leads in it, on its own rail alone', () => {
    const board = boardWith('short:io=0.4');
    expect(board.ohms('io')).toBeCloseTo(0.4 + leadsOhm, 1);
    expect(board.ohms('memory')).toBeGreaterThan(100);
    expect(() => board.ohms('nowhere')).toThrow(/no rail "nowhere"/);
  });

  test('a fed rail warms at the fault, as far as it can be seen', () => {
    const board = boardWith('short:io=0.4');
    expect(board.heat('io', 1.8, 1)).toMatchObject({ hot: 'io', outcome: 'one-spot' });
    expect(board.heat('io', 0.1, 0.3).hot).toBeNull();
    expect(board.heat('memory', 1.1, 1).hot).toBeNull();
    const { amps, terminalV } = board.fed('io', 1.8, 1);
    expect(amps).toBe(1);
    expect(terminalV).toBeCloseTo(0.55, 1);
  });
});
