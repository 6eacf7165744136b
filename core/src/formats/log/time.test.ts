import fc from 'fast-check';
import { MidnightCounter, parseClock, parseDateTime, timeFormOf } from './time.ts';

test('any instant is read back from the ways it is written', () => {
  fc.assert(
    fc.property(fc.date({ min: new Date('2000-01-01'), max: new Date('2099-12-31'), noInvalidDate: true }), (date) => {
      const seconds = date.getTime() / 1000;
      const iso = date.toISOString();
      const month = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'][
        date.getUTCMonth()
      ];
      const [day, clock] = [iso.slice(8, 10), iso.slice(11, 23)];
      const written = [
        iso,
        iso.replace('.', ','),
        iso.replace('T', ' ').replace('Z', ''),
        iso.replace(/[-:]/g, ''),
        `${new Date(date.getTime() + 19_800_000).toISOString().slice(0, -1)}+05:30`,
        `${new Date(date.getTime() - 10_800_000).toISOString().slice(0, -1)}-0300`,
        `${day}.${iso.slice(5, 7)}.${iso.slice(0, 4)} ${clock}`,
        `${day}-${month}-${iso.slice(0, 4)} ${clock}`,
        `${month} ${Number(day)}, ${iso.slice(0, 4)} ${clock}`,
      ];
      for (const text of written) {
        expect([text, timeFormOf(text)]).toEqual([text, 'date-time']);
        expect(parseDateTime(text)).toBeCloseTo(seconds, 3);
      }
    }),
    { numRuns: 300 },
  );
});

test.each([
  ['01:02:03', 3723],
  ['01:02:03.5', 3723.5],
  ['01:02:03,25', 3723.25],
  ['01:02:03:250', 3723.25],
  ['02:03', 123],
  ['11:00:00 PM', 82_800],
  ['12:00:00 am', 0],
  ['1 day, 0:00:01', 86_401],
  ['0 days 00:00:01.5', 1.5],
  ['2.03:00:00', 183_600],
])('the clock %s', (text, seconds) => expect(parseClock(text)).toBeCloseTo(seconds, 6));

test.each(['', 'soon', '99', '12:61:00', '2026-13-40', '31-Foo-2026', 'May', '5:5:5:5:5'])('no time: %j', (text) => {
  expect(Number.isNaN(parseClock(text)) && Number.isNaN(parseDateTime(text))).toBe(true);
});

test('a clock passes midnight, and a row that comes late still belongs to the day before', () => {
  const counter = new MidnightCounter();
  expect([86_398, 86_399, 1, 0, 86_399.5, 2].map((s) => counter.next(s))).toEqual([
    86_398, 86_399, 86_401, 86_400, 86_399.5, 86_402,
  ]);
});
