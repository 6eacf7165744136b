import { circuitIds, type CircuitId, type DeviceClass } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';
import { readTypedRun } from '../formats/index.ts';
import { baseRates, circuitIndex } from '../hypotheses/index.ts';
import tables from '../observation/patterns.json';
import { patternTable } from '../observation/pattern-table.ts';
import { actionOf, caseOf, describeWithPatterns, sketchInstruments, sketchRun, typedCase } from '../testing/cases.ts';
import { assess } from './index.ts';

const stall = 'battery 4V limit 2A: 1.2 hold';
const judged = (lines: string[], change: (value: Case) => void = () => {}, over: Partial<Case> = {}) => {
  const { value, shapes } = typedCase('phone', lines, over);
  change(value);
  const { circuits } = assess(value, shapes);
  return (id: CircuitId): number => circuits.find((c) => c.id === id)?.p ?? 0;
};
const logOdds = (p: number): number => Math.log(p / (1 - p));

test('one line that is entered eight times is one fact', () => {
  const [once, often] = [judged([stall]), judged(new Array<string>(8).fill(stall))];
  for (const id of circuitIds) expect(Math.abs(often(id) - once(id))).toBeLessThan(0.025);
});

test('a part that was replaced in vain before it came clears its circuit as one that was replaced here does', () => {
  const actions = [actionOf('a1', 'replace', { circuit: 'charge.charger' })];
  const begun = judged([stall]);
  const here = judged([stall, stall], (value) => (value.runs[1].after = 'a1'), { actions });
  const before = judged([stall], (value) => (value.runs[0].after = 'a1'), { actions });
  const fall = (p: ReturnType<typeof judged>): number =>
    logOdds(begun('charge.charger')) - logOdds(p('charge.charger'));
  expect(fall(before)).toBeGreaterThan(0.7);
  expect(fall(before) / fall(here)).toBeGreaterThan(0.75);
  expect(fall(before) / fall(here)).toBeLessThan(1.33);
});

const row = [45, 18, 18, 8];
const sumOfRow = row.reduce((a, b) => a + b);
const raisedOfRow = row.reduce((sum, x) => sum + x ** tables.sharpness, 0);
test('shares that hold for a class are shares over the base rates of that class, and a console on its own input has its row', () => {
  const asked = { family: 'computer', phase: 'after', asks: 'start', feed: 'dc-in' } as const;
  const shareOf = (deviceClass: DeviceClass, id: CircuitId): number =>
    patternTable({ ...asked, deviceClass })['limit-at-once'][circuitIndex(id)] *
    baseRates(deviceClass)[circuitIndex(id)];
  const ratio = (a: CircuitId, b: CircuitId): number => shareOf('console', a) / shareOf('console', b);
  // The row of the class says 45, 18, 18 and 8; that of the input says 33, 4, 28 and 24.
  expect(ratio('input.protection', 'core.supply')).toBeCloseTo(1, 2);
  expect(ratio('rail.main', 'core.supply')).toBeCloseTo((45 / 18) ** tables.sharpness, 2);
  // The charger is rarer in consoles: its share is said by the row, and is not divided by what is usual elsewhere.
  expect(ratio('charge.charger', 'core.supply')).toBeCloseTo(
    (tables.minOfShare * 8) / (sumOfRow * (18 ** tables.sharpness / raisedOfRow)),
    2,
  );
});

describe('what a line says', () => {
  test('a raised contract without a current is no unknown pattern', () => {
    const { value, shapes } = typedCase('laptop', ['usb-c: 20V hold']);
    const [run] = assess(value, shapes).runs;
    expect(run.pattern.find((p) => p.id === 'unrecognised')?.p ?? 0).toBeLessThan(0.5);
    expect(run.pattern.filter((p) => p.id.startsWith('unraised')).reduce((sum, p) => sum + p.p, 0)).toBeLessThan(0.1);
  });
  test('a bare number far above the limit asks for its unit', () => {
    expect(() => readTypedRun('battery 4V limit 2A: 0 | prompt 190 hold', 'r1')).toThrow(/far above the limit.*190mA/);
    expect(readTypedRun('battery 4V limit 2A: 0 | prompt 190mA hold', 'r1').run.typed).toContain('190mA');
  });
});

test('a draw just under the limit with its voltage held is no limit; one that lets the voltage go is', () => {
  const kindOf = (volts: number): string | undefined => {
    const setup = { setV: 4, limitA: 2 };
    const { run, trace } = sketchRun(
      { feed: 'battery', strokes: [{ seconds: 8, amps: 1.96 }], setup },
      sketchInstruments.logger,
    );
    const given = { ...trace, v: trace.v.map(() => volts) };
    return describeWithPatterns(caseOf('phone'), run, given).shape.segments.at(-1)?.kind;
  };
  expect(kindOf(4)).not.toBe('limit');
  expect(kindOf(2.6)).toBe('limit');
});
