import type { CircuitId } from '../catalogue/index.ts';
import { plainReading, type Reading } from '../case/index.ts';
import { voltageQuestion, type Question } from '../observation/index.ts';
import { deadUnits } from '../testing/scenes.ts';
import { believe, historyOf } from './index.ts';

const laptop = deadUnits.find((s) => s.value.device.class === 'laptop') ?? deadUnits[0];
const { history } = historyOf(laptop.value, laptop.shapes);
const at = (circuit: CircuitId): number => history.space.hypotheses.findIndex((h) => h.circuit === circuit);
const asked = (circuit: CircuitId): Question =>
  voltageQuestion(history, { where: 'a pad', circuit, state: null, phase: 'after' });

test('every voltage of a phase rests on how far the ladder stands: its values sum to one and say the same of every point', () => {
  const [main, run] = [asked('rail.main'), asked('rail.run')];
  expect(main.rests?.fact).toBe(run.rests?.fact);
  expect(main.rests?.values).toEqual(run.rests?.values);
  history.space.hypotheses.forEach((_, h) => {
    expect(main.rests?.values.reduce((sum, by) => sum + by[h], 0)).toBeCloseTo(1, 9);
    expect(Object.values(run.outcomes).reduce((sum, by) => sum + by[h], 0)).toBeCloseTo(1, 9);
  });
});

test('what lies before the break stands, whatever is behind it', () => {
  const { outcomes } = asked('rail.main');
  expect(outcomes.present[at('rail.standby')]).toBeGreaterThan(0.9);
  expect(outcomes.present[at('rail.main')]).toBeLessThan(outcomes.present[at('rail.standby')]);
});

test('stands here, missing there: what lies between leads, more than by either alone', () => {
  const volts = (where: string, circuit: CircuitId, value: number): Reading => ({
    ...plainReading,
    where,
    circuit,
    mode: 'voltage',
    unit: 'V',
    value,
    reference: value > 0 ? value : 3.3,
  });
  const p = (readings: Reading[], ...circuits: CircuitId[]): number => {
    const { posterior, history: of } = believe({ ...laptop.value, readings }, laptop.shapes);
    return posterior.reduce((sum, x, h) => (circuits.includes(of.space.hypotheses[h].circuit) ? sum + x : sum), 0);
  };
  const here = volts('main system rail', 'rail.main', 12.4);
  const there = volts('always-on line', 'rail.always-on', 0);
  const before: CircuitId[] = ['input.port', 'input.protection', 'charge.charger', 'rail.main'];
  expect(p([here, there], 'rail.always-on', 'pmic')).toBeGreaterThan(p([there], 'rail.always-on', 'pmic'));
  expect(p([here, there], ...before)).toBeLessThan(p([there], ...before) / 2);
});
