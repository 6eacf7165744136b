import fc from 'fast-check';
import { patternOf, patternProblem } from './pattern.ts';

describe('patterns of taught languages', () => {
  test('match what the language’s own matcher matches', () => {
    const pattern = String.raw`^V=(?<v>[-+\d.]+)\s+I=(?<i>[-+\d.]+)(?: (?<mode>CC|CV))?`;
    fc.assert(
      fc.property(
        fc.float({ noNaN: true }),
        fc.float({ noNaN: true }),
        fc.constantFrom('', ' CC', ' CV', ' x'),
        (v, i, m) => {
          const line = `V=${v} I=${i}${m}`;
          const groups = new RegExp(pattern).exec(line)?.groups;
          expect(patternOf(pattern).exec(line)).toEqual(groups ? { ...groups } : null);
        },
      ),
    );
  });

  test.each([
    ['(?:\\d+,?)+x(?<volts>a)?', '1'.repeat(400)],
    ['(?<volts>(a|a)*)b', 'a'.repeat(400)],
    ['(?<volts>(?:a|aa)+)$', `${'a'.repeat(400)}!`],
    ['^(?<volts>(?:.*.*.*.*.*))=', 'x'.repeat(400)],
  ])('%s takes no time on a text that was made to hurt', (pattern, text) => {
    const matcher = patternOf(pattern);
    const began = process.cpuUsage();
    for (let k = 0; k < 20; k++) matcher.exec(text);
    const { user } = process.cpuUsage(began);
    // Seconds without end with one that goes back; milliseconds here.
    expect(user / 1000).toBeLessThan(2000);
  });

  test.each([
    ['(?=a)(?<v>1)', 'cannot be matched in bounded time'],
    ['(?<v>a)\\1', 'cannot be matched in bounded time'],
    ['(?<v>[0-9]{1,900})(?:[a-f]{900})', 'repeats too much'],
    ['(?<v>1', 'missing closing )'],
    ['(?<w>1)', 'has no group named "v"'],
  ])('%s is refused: %s', (pattern, why) => {
    expect(patternProblem(pattern, ['v'])).toContain(why);
  });
});
