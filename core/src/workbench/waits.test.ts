import fc from 'fast-check';
import { waitKinds } from '../catalogue/index.ts';
import { usualWait, waitAfter, waitProblem, type PastWait } from './waits.ts';
import settings from './waits.json';

test('worked example: four waits of 40 minutes against a policy of 10, which counts as four', () => {
  const past = Array.from({ length: settings.worth }, (): PastWait => ({ kind: 'cool', minutes: 40 }));
  expect(usualWait('cool', past, { cool: 10 })).toBe(20);
  expect(usualWait('cool', [], { cool: 10 })).toBe(10);
  expect(usualWait('dry', past)).toBe(settings.usualMinutes.dry);
});

test('what is usual lies between the policy and the past, and never moves away from what was met', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...waitKinds),
      fc.array(fc.integer({ min: 1, max: 5000 }), { minLength: 1 }),
      (kind, minutes) => {
        const usual = usualWait(
          kind,
          minutes.map((m) => ({ kind, minutes: m })),
        );
        const prior = settings.usualMinutes[kind];
        expect(usual).toBeGreaterThanOrEqual(Math.floor(Math.min(prior, ...minutes)));
        expect(usual).toBeLessThanOrEqual(Math.ceil(Math.max(prior, ...minutes)));
      },
    ),
  );
});

test('a slip of the finger does not move what is usual', () => {
  expect(usualWait('cool', [{ kind: 'cool', minutes: 0.2 }])).toBe(settings.usualMinutes.cool);
});

test('what begins a wait', () => {
  expect(waitAfter('clean')).toBe('dry');
  expect(waitAfter('reflow')).toBe('cool');
  expect(waitAfter('disconnect')).toBeNull();
});

test('a wait that is none says so', () => {
  const now = new Date('2026-11-27T10:00:00Z');
  expect(waitProblem(null, new Date('2026-11-27T09:59:00Z'), now)).toContain('has passed');
  expect(waitProblem(0, null, now)).toContain('expected 1 minute to 90 days');
  expect(waitProblem(Number.NaN, null, now)).toContain('expected 1 minute');
  expect(waitProblem(10, null, now)).toBeNull();
});
