import { unknownSetup } from '@umbral/core';
import fc from 'fast-check';
import { heldFor, settingNotes } from './set-to.ts';

const off = { t: 0, volts: 3.85, limitA: 2, on: false };
const on = { t: 1, volts: 3.85, limitA: 2, on: true };
const typed = { ...unknownSetup, setV: 3.85, limitA: 2 };

test('a run has what the supply was set to with its output on, for the longest time', () => {
  expect(heldFor([], 10)).toBeNull();
  expect(heldFor([off], 10)).toBeNull();
  expect(heldFor([off, on], 10)).toEqual({ volts: 3.85, limitA: 2 });
  const less = { t: 8, volts: 3.85, limitA: 0.5, on: true };
  expect(heldFor([off, on, less], 10)).toEqual({ volts: 3.85, limitA: 2 });
  expect(heldFor([off, on, less], 60)).toEqual({ volts: 3.85, limitA: 0.5 });
  // Off in between counts for neither; the same setting again counts for itself.
  expect(heldFor([on, { ...off, t: 2 }, { ...less, t: 20 }, { ...on, t: 23 }], 26)).toEqual({ volts: 3.85, limitA: 2 });
});

test('whatever it was set to, what is held is one of its settings with the output on', () => {
  const setting = fc.record({
    t: fc.double({ min: 0, max: 1000, noNaN: true }),
    volts: fc.constantFrom(3.8, 9, 19),
    limitA: fc.constantFrom(0.5, 2),
    on: fc.boolean(),
  });
  fc.assert(
    fc.property(fc.array(setting), fc.double({ min: 0, max: 2000, noNaN: true }), (list, end) => {
      const setTo = [...list].sort((a, b) => a.t - b.t);
      const held = heldFor(setTo, end);
      const possible = setTo.filter((s) => s.on).map(({ volts, limitA }) => ({ volts, limitA }));
      if (possible.length === 0) expect(held).toBeNull();
      else expect(possible).toContainEqual(held);
    }),
  );
});

test('what was typed otherwise, and what was set anew, is said', () => {
  expect(settingNotes([off, on], 10, typed)).toEqual([]);
  expect(settingNotes([off, on], 10, unknownSetup)).toEqual([]);
  expect(settingNotes([off], 10, { ...typed, limitA: 0.5 })).toEqual([]);
  expect(settingNotes([off, on], 10, { ...typed, limitA: 0.5 })).toEqual([
    'The supply was set to 3.85 V with a limit of 2 A, not to what the form said. This run uses what the supply reported.',
  ]);
  const less = { t: 8, volts: 3.85, limitA: 0.5, on: true };
  expect(settingNotes([off, on, less], 10, typed)).toEqual([
    'At 8.0 s the supply was set to 3.85 V with a limit of 500 mA.',
  ]);
});
