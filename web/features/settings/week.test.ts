import { dayFrom, sayDay } from './week';

test('hours are typed as somebody writes them, and come back the same', () => {
  expect(dayFrom('8-12, 13:00 – 17:30', 'Monday')).toEqual([
    ['08:00', '12:00'],
    ['13:00', '17:30'],
  ]);
  expect(dayFrom('', 'Sunday')).toEqual([]);
  expect(
    sayDay([
      ['08:00', '12:00'],
      ['13:00', '17:00'],
    ]),
  ).toBe('08:00-12:00, 13:00-17:00');
  expect(dayFrom(sayDay([['08:00', '12:00']]), 'Monday')).toEqual([['08:00', '12:00']]);
  expect(() => dayFrom('all day', 'Tuesday')).toThrow('Tuesday: "all day" is not a');
  // What is no time is named by who checks it.
  expect(dayFrom('late-later', 'Monday')).toEqual([['late', 'later']]);
});
