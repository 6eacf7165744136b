import fc from 'fast-check';
import { outlinePath, packOutline, typicalOutline } from './outline';

test('the highest place is the highest letter, nothing is nothing', () => {
  expect(packOutline([0, 0.25, 1])).toBe('0iz');
  expect(packOutline([])).toBe('');
  expect(packOutline([0, 0])).toBe('00');
});

test('a path begins and ends on the baseline', () => {
  expect(outlinePath('0z')).toBe('M0 28V28.0H75.0V3.0H150.0V28Z');
  expect(outlinePath('')).toBe('');
});

test('the typical outline lies between the lowest and the highest at every place', () => {
  const outline = fc
    .array(fc.double({ min: 0, max: 3, noNaN: true }), { minLength: 1, maxLength: 64 })
    .map(packOutline);
  fc.assert(
    fc.property(fc.array(outline, { minLength: 1, maxLength: 9 }), (list) => {
      const typical = typicalOutline(list);
      expect(typical).toHaveLength(48);
      const all = list.join('').split('').sort();
      for (const letter of typical) {
        expect(letter >= all[0]).toBe(true);
        expect(letter <= all[all.length - 1]).toBe(true);
      }
    }),
  );
  expect(typicalOutline([])).toBe('');
});
