import { sayMinutes } from '@umbral/core/words';
import { countdown, minutesOf } from './wait-length';

test('times as somebody types them, and those that are shown', () => {
  expect(['10', '10 min', '1,5 h', '2 d', '3 Days', ' 90m '].map(minutesOf)).toEqual([10, 10, 90, 2880, 4320, 90]);
  expect(minutesOf('')).toBeNull();
  for (const m of [10, 60, 240, 4320]) expect(minutesOf(sayMinutes(m))).toBe(m);
});

test.each(['soon', '-5', '1:30', '5 weeks', '1 2'])('no time: %s', (typed) => {
  expect(() => minutesOf(typed)).toThrow(`"${typed}" is not a time; expected one such as 10 min`);
});

test('a clock that counts down, and says for how long it has been over', () => {
  const now = 1_000_000;
  expect(countdown(now + 249_000, now)).toBe('4:09');
  expect(countdown(now + 3_750_000, now)).toBe('1:02:30');
  expect(countdown(now + 3 * 86_400_000, now)).toBe('3 days');
  expect(countdown(now - 180_000, now)).toBe('over for 3 min');
  // The clock of the computer jumped back: it shows what is left by it, and nothing that is no time.
  expect(countdown(now, now - 60_000)).toBe('1:00');
});
