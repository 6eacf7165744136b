import fc from 'fast-check';
import { parseSweep, type Sweep } from './sweep.ts';

const ohms = { mode: 'resistance', leadsOhm: null, nominalV: null } as const;
const points = (sweep: Sweep) => (sweep.ok ? sweep.points.map((p) => [p.where, p.reading.value]) : sweep.error);

test('many points at once, and the one that stands out among them', () => {
  const sweep = parseSweep('coil1 45, coil2 90, coil3 0.4', ohms);
  expect(points(sweep)).toEqual([
    ['coil1', 45],
    ['coil2', 90],
    ['coil3', 0.4],
  ]);
  expect(sweep).toMatchObject({ standsOut: ['coil3 reads 0.40 ohm where the others read about 67.5 ohm.'] });
});

test('names of several words, units, open lines, swings and lines as they are typed', () => {
  const sweep = parseSweep('coil by the fan plug 4.7k; upper pad OL\nmain rail v 12.1', ohms);
  expect(points(sweep)).toEqual([
    ['coil by the fan plug', 4700],
    ['upper pad', null],
    ['main rail', 12.1],
  ]);
  const volts = parseSweep('run 5 V 0.8~1.2, standby 3.3 V 3.28', { ...ohms, mode: 'voltage' });
  expect(volts).toMatchObject({
    points: [
      { where: 'run 5 V', reading: { swing: { low: 0.8, high: 1.2 } } },
      { where: 'standby 3.3 V', reading: { value: 3.28 } },
    ],
  });
});

test.each([
  ['coil1 45, coil2', /^point 2, "coil2": expected a name and a value/],
  ['coil1 45, coil2 9 amps', /^point 2, /],
  ['coil1 45, coil1 46', /^point 2: coil1 is entered twice/],
  ['', /^nothing entered/],
])('%j says where it stops making sense', (text, says) => {
  const sweep = parseSweep(text, ohms);
  expect(sweep.ok ? '' : sweep.error).toMatch(says);
});

test('what was typed comes back, in its order, whatever the names', () => {
  const name = fc.stringMatching(/^[a-z][a-z0-9]{0,8}( [a-z]{2,6})?$/);
  fc.assert(
    fc.property(
      fc.uniqueArray(name, { minLength: 1, maxLength: 12, selector: (n) => n.toLowerCase() }),
      fc.array(fc.integer({ min: 1, max: 9999 }), { minLength: 12, maxLength: 12 }),
      (names, values) => {
        const sweep = parseSweep(names.map((n, k) => `${n} ${values[k]}`).join(', '), ohms);
        expect(points(sweep)).toEqual(names.map((n, k) => [n, values[k]]));
      },
    ),
  );
});
