import fc from 'fast-check';
import { sayMeasured, typeMeasured, type Measured } from '../case/index.ts';
import { readingWords } from '../case/records.ts';
import { parseReading } from './index.ts';

const nothing: Measured = { unit: 'ohm', value: null, ol: false, swing: null, says: null, bound: null };

test('open, swinging, ohms and volts, bounds, and what was said in place of a value', () => {
  const said = (over: Partial<Measured>): string => sayMeasured({ ...nothing, ...over });
  expect(said({ ol: true })).toBe('open line');
  expect(said({ unit: 'V', value: 1, swing: { low: 0.4, high: 1.7 } })).toBe('0.4 to 1.70 V');
  expect(said({ value: 4700 })).toBe('4.70 kohm');
  expect(said({ unit: 'V', value: 1.79 })).toBe('1.79 V');
  expect(said({ value: 1000, bound: 'above' })).toBe('above 1.00 kohm');
  expect(said({ says: 'no-beep' })).toBe('no beep');
  expect(said({})).toBe('');
});

test('what is typed to correct a reading is read as that reading again', () => {
  const ohms = fc.double({ min: 0, max: 1e6, noNaN: true }).map((value) => ({ ...nothing, value }));
  const measured = fc.oneof(
    ohms,
    ohms.chain((m) => fc.constantFrom('above' as const, 'below' as const).map((bound) => ({ ...m, bound }))),
    fc.constantFrom(...readingWords).map((says) => (says === 'open' ? { ...nothing, ol: true } : { ...nothing, says })),
    fc.double({ min: 0, max: 30, noNaN: true }).map((value) => ({ ...nothing, unit: 'V' as const, value })),
  );
  fc.assert(
    fc.property(measured, (m) => {
      const mode = m.unit === 'V' ? 'voltage' : 'resistance';
      const again = parseReading(typeMeasured(m), { mode, leadsOhm: null, nominalV: null });
      expect(again).toMatchObject({
        ok: true,
        reading: { mode, says: m.says, ol: m.ol, bound: m.bound, unit: m.unit },
      });
      if (again.ok && m.value !== null) expect(again.reading.value).toBeCloseTo(m.value, 6);
    }),
  );
});
