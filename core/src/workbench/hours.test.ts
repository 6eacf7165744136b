import fc from 'fast-check';
import {
  closesAt,
  dayBounds,
  dayOf,
  dueMoment,
  hoursProblem,
  nextWorkday,
  isOpenAt,
  openFrom,
  presenceOf,
  usualHours,
  type WorkingHours,
} from './hours.ts';

const at = (text: string): Date => new Date(text);
const minutes = (spans: readonly (readonly [number, number])[], until: number): number =>
  spans.reduce((sum, [from, to]) => sum + Math.max(0, Math.min(to, until) - from), 0);

test('a Friday afternoon goes on on Monday morning: the shop is closed over the weekend', () => {
  // 27 November 2026 is a Friday; 14:00 in Vienna.
  const friday = at('2026-11-27T13:00:00Z');
  expect(presenceOf(usualHours, friday).slice(0, 2)).toEqual([
    [0, 60],
    [3960, 4200],
  ]);
  expect(isOpenAt(usualHours, at('2026-11-28T10:00:00Z'))).toBe(false);
  expect(openFrom(usualHours, at('2026-11-28T10:00:00Z'))).toEqual(at('2026-11-30T07:00:00Z'));
  expect(openFrom(usualHours, friday)).toEqual(friday);
});

test('the clock is put forward and back: hours stay where the clock says', () => {
  // The last Sunday of March is the 28th in 2027; of October 2026 the 25th.
  const spring = at('2027-03-26T16:00:00Z');
  expect(openFrom(usualHours, spring)).toEqual(at('2027-03-29T06:00:00Z'));
  const autumn = at('2026-10-23T15:00:00Z');
  expect(openFrom(usualHours, autumn)).toEqual(at('2026-10-26T07:00:00Z'));
  const everyDay: WorkingHours = {
    ...usualHours,
    week: Array.from({ length: 7 }, () => [['00:00', '24:00'] as const]),
  };
  // A day that is 23 hours long, and one of 25.
  expect(minutes(presenceOf(everyDay, at('2027-03-27T23:00:00Z'), 1), 2000)).toBe(23 * 60 + 2000 - 1440);
  // From two to three there is nothing on the night in which that hour is skipped.
  const night: WorkingHours = { ...everyDay, week: Array.from({ length: 7 }, () => [['02:00', '03:00'] as const]) };
  expect(presenceOf(night, at('2027-03-27T22:00:00Z'), 1)).toEqual([[1440, Infinity]]);
});

test('closed days, the end of a day, what is due on a day', () => {
  const holiday = { ...usualHours, closed: ['2026-11-30'] };
  expect(openFrom(holiday, at('2026-11-28T10:00:00Z'))).toEqual(at('2026-12-01T07:00:00Z'));
  expect(closesAt(usualHours, at('2026-11-27T09:00:00Z'))).toEqual(at('2026-11-27T14:00:00Z'));
  expect(closesAt(usualHours, at('2026-11-28T09:00:00Z'))).toBeNull();
  expect(dueMoment(usualHours, '2026-11-27')).toEqual(at('2026-11-27T14:00:00Z'));
  expect(dueMoment(usualHours, '2026-11-28').toISOString()).toBe('2026-11-28T22:59:59.999Z');
  expect(dayOf(usualHours, at('2026-11-27T23:30:00Z'))).toBe('2026-11-28');
});

test('a day of the calendar, and the one after it on which the shop is open', () => {
  const { from, to } = dayBounds(usualHours, '2027-03-28');
  expect((to.getTime() - from.getTime()) / 3_600_000).toBe(23);
  expect(nextWorkday(usualHours, '2026-11-27')).toBe('2026-11-30');
  expect(nextWorkday({ ...usualHours, week: Array.from({ length: 7 }, () => []) }, '2026-11-27')).toBeNull();
});

test('what a plan is made in: in order, apart, never without an end, from when the shop opens to when it closes', () => {
  fc.assert(
    fc.property(fc.date({ min: at('2026-01-01'), max: at('2028-01-01'), noInvalidDate: true }), (now) => {
      const spans = presenceOf(usualHours, now);
      for (const [k, [from, to]] of spans.entries()) {
        expect(to).toBeGreaterThan(from);
        if (k > 0) expect(from).toBeGreaterThanOrEqual(spans[k - 1][1]);
      }
      expect(spans.at(-1)?.[1]).toBe(Infinity);
      const after = (minutes: number): Date => new Date(now.getTime() + minutes * 60_000);
      for (const [from, to] of spans.slice(0, -1)) {
        expect(isOpenAt(usualHours, after(from))).toBe(true);
        expect(isOpenAt(usualHours, after(to))).toBe(false);
      }
    }),
    { numRuns: 60 },
  );
});

test.each([
  [{ zone: 'Middle/Earth' }, 'Time zone: "Middle/Earth" is not a time zone'],
  [{ week: [[['08:00', '25:00']]] }, 'expected seven days'],
  [{ week: [[['08:00', '07:00']], [], [], [], [], [], []] }, 'Monday: 08:00 to 07:00 ends before it begins'],
  [{ week: [[], [['8', '12:00']], [], [], [], [], []] }, 'Tuesday: "8" is not a time of day'],
  [
    {
      week: [
        [
          ['08:00', '12:00'],
          ['11:00', '13:00'],
        ],
        [],
        [],
        [],
        [],
        [],
        [],
      ],
    },
    'Monday: 11:00 begins before 12:00',
  ],
  [{ closed: ['2026-02-31'] }, 'Closed: "2026-02-31" is not a date'],
])('hours that are none: %j', (wrong, says) => {
  expect(hoursProblem({ ...usualHours, ...(wrong as Partial<WorkingHours>) })).toContain(says);
  expect(hoursProblem(usualHours)).toBeNull();
});
