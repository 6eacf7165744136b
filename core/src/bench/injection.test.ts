import fc from 'fast-check';
import {
  capacitorAdvice,
  checkInjection,
  leakAt,
  operatingPoint,
  planInjection,
  type InjectionOf,
} from './injection.ts';
import policy from './injection.json';

const main: InjectionOf = {
  nominalV: 3.8,
  coreBehind: false,
  feedsProcessor: false,
  isMain: true,
  ohm: 0.4,
  leadsOhm: 0.2,
  capacitors: 12,
  school: 'step',
  maxV: 30,
  maxA: 5,
};

const anyPlan = fc.record({
  nominalV: fc.option(fc.double({ min: 0.4, max: 40, noNaN: true })),
  coreBehind: fc.boolean(),
  feedsProcessor: fc.boolean(),
  isMain: fc.boolean(),
  ohm: fc.double({ min: 0, max: 500, noNaN: true }),
  leadsOhm: fc.double({ min: 0, max: 2, noNaN: true }),
  capacitors: fc.option(fc.nat(40)),
  school: fc.constantFrom('step' as const, 'rated' as const),
  maxV: fc.double({ min: 0.5, max: 60, noNaN: true }),
  maxA: fc.double({ min: 0.05, max: 10, noNaN: true }),
});

describe('where a supply comes to rest', () => {
  test('worked: 0.9 V over 0.4 ohm and 0.2 ohm of leads is 1.5 A, 0.9 W in the defect, 0.45 W in the leads', () => {
    const point = operatingPoint(0.9, 3, 0.4, 0.2);
    expect(point.amps).toBeCloseTo(1.5);
    expect(point.defectW).toBeCloseTo(0.9);
    expect(point.leadsW).toBeCloseTo(0.45);
    expect(point.limiting).toBe(false);
  });

  test('the power at the terminals is what turns warm in defect and leads', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.01, max: 40, noNaN: true }),
        fc.double({ min: 0.01, max: 5, noNaN: true }),
        fc.double({ min: 0, max: 100, noNaN: true }),
        fc.double({ min: 0.001, max: 5, noNaN: true }),
        (setV, limitA, ohm, leads) => {
          const p = operatingPoint(setV, limitA, ohm, leads);
          expect(p.amps).toBeLessThanOrEqual(limitA);
          expect(p.terminalV).toBeLessThanOrEqual(setV * (1 + 1e-9));
          expect(p.terminalV * p.amps).toBeCloseTo(p.defectW + p.leadsW, 6);
        },
      ),
    );
  });
});

describe('a plan', () => {
  test('never goes above what the rail is rated for, above 0.8 V where a processor hangs, or above a volt where nobody knows', () => {
    fc.assert(
      fc.property(anyPlan, (of) => {
        const plan = planInjection(of);
        expect(plan.steps.length).toBeGreaterThan(0);
        for (const step of plan.steps) {
          expect(step.setV).toBeLessThanOrEqual((of.nominalV ?? policy.unknownMostV) + 1e-9);
          expect(step.setV).toBeLessThanOrEqual(of.maxV + 1e-9);
          if (of.feedsProcessor) expect(step.setV).toBeLessThanOrEqual(0.8);
          if (of.coreBehind) expect(step.setV).toBeLessThanOrEqual(2);
          expect(step.limitA).toBeLessThanOrEqual(of.maxA);
          expect(step.amps).toBeLessThanOrEqual(step.limitA + 1e-9);
        }
      }),
    );
  });

  test('goes up from step to step, never down', () => {
    fc.assert(
      fc.property(anyPlan, (of) => {
        const { steps } = planInjection(of);
        for (let k = 1; k < steps.length; k++) {
          expect(steps[k].amps).toBeGreaterThan(steps[k - 1].amps);
          expect(steps[k].setV).toBeGreaterThanOrEqual(steps[k - 1].setV);
          expect(steps[k].limitA).toBeGreaterThanOrEqual(steps[k - 1].limitA);
        }
      }),
    );
  });

  test('a better short is never harder to see, as long as it is not better than the leads and the limit allows it', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 50, noNaN: true }),
        fc.double({ min: 1, max: 20, noNaN: true }),
        (ohm, factor) => {
          const watts = (r: number): number => operatingPoint(0.8, 1e6, r, 0.2).defectW;
          expect(watts(ohm)).toBeGreaterThanOrEqual(watts(ohm * factor) - 1e-12);
        },
      ),
    );
  });

  test('starts under a volt when stepping, at the rated voltage when asked for; both end at the same bound', () => {
    const [step, rated] = (['step', 'rated'] as const).map((school) => planInjection({ ...main, school }));
    expect(step.steps[0].setV).toBeCloseTo(0.3);
    expect(rated.steps[0].setV).toBe(3.8);
    expect(rated.steps[0].limitA).toBe(1);
    expect(step.maxV).toBe(rated.maxV);
    expect(step.why).toBe('the rail is rated for 3.80 V');
  });

  test('says when the leads take the power, when nothing will be seen, when a processor hangs on it', () => {
    expect(planInjection({ ...main, ohm: 0.05 }).cautions.join(' ')).toMatch(/leads take more power than the fault/);
    const leak = planInjection({ ...main, ohm: 6, nominalV: 0.9 });
    expect(leak.seenFrom).toBeNull();
    expect(leak.cautions.join(' ')).toMatch(/too little to see/);
    expect(planInjection({ ...main, feedsProcessor: true }).cautions[0]).toMatch(/never above 0.80 V/);
    expect(planInjection({ ...main, nominalV: null }).cautions.join(' ')).toMatch(
      /nominal voltage of this rail is not known/,
    );
    expect(planInjection({ ...main, ohm: 0.001, leadsOhm: 0.001 }).cautions.join(' ')).toMatch(
      /millivolts along the rail/,
    );
  });

  test('refuses what is no resistance and no bound', () => {
    expect(() => planInjection({ ...main, ohm: -1 })).toThrow(RangeError);
    expect(() => planInjection({ ...main, leadsOhm: NaN })).toThrow(RangeError);
    expect(() => planInjection({ ...main, maxV: 0 })).toThrow(RangeError);
    expect(() => planInjection({ ...main, nominalV: 0 })).toThrow(RangeError);
  });
});

describe('what flows against the plan', () => {
  const [step] = planInjection(main).steps;

  test.each([
    [step.amps, 'as-planned'],
    [step.amps * 2, 'more'],
    [step.amps / 2, 'less'],
    [0, 'nothing'],
  ])('%f A: %s', (amps, verdict) => {
    expect(checkInjection(step, 0.2, { volts: 0.3, amps }).verdict).toBe(verdict);
  });

  test('tells the resistance as it looks now', () => {
    expect(checkInjection(step, 0.2, { volts: 0.3, amps: 0.5 }).ohm).toBeCloseTo(0.4);
    expect(checkInjection(step, 0.2, { volts: 0, amps: 0 }).ohm).toBeNull();
  });
});

test('worked: 6 ohm at 0.9 V is 0.15 A and 0.14 W, too little for a camera', () => {
  const leak = leakAt(6, 0.9);
  expect(leak.amps).toBeCloseTo(0.15);
  expect(leak.watts).toBeCloseTo(0.135);
  expect(leak.visible).toBe('no');
  expect(() => leakAt(0, 1)).toThrow(RangeError);
});

test('one of many capacitors may come off, a lone one is put back', () => {
  expect(capacitorAdvice(12).does).toBe('leave-off');
  expect(capacitorAdvice(1).does).toBe('replace');
  expect(capacitorAdvice(2)).toMatchObject({ does: 'replace', why: expect.stringMatching(/only 2/) as string });
  expect(capacitorAdvice(null).does).toBe('replace');
});
