import { numberFiles } from '@umbral/core';
import { filesOfNumbers, numbersIn, sayNumbers } from './numbers.ts';

describe('the numbers that the engine goes by', () => {
  test('stand in files of which each says what it holds, in what unit, and from where', () => {
    expect(filesOfNumbers().map((f) => f.file)).toEqual(Object.keys(numberFiles).sort());
    for (const { holds, unit, from } of Object.values(numberFiles))
      for (const said of [holds, unit, from]) expect(said).not.toBe('');
  });

  test('are found wherever they stand in a file', () => {
    expect(numbersIn({ a: 1, b: { c: [2, 'x', { d: 3 }] }, e: null })).toEqual([
      { way: 'a', value: 1 },
      { way: 'b.c.0', value: 2 },
      { way: 'b.c.2.d', value: 3 },
    ]);
  });

  test('are listed one by one for a file, and never for one that nobody has', () => {
    expect(sayNumbers(undefined).split('\n')).toHaveLength(Object.keys(numberFiles).length);
    expect(sayNumbers('catalogue/feed-volts')).toMatch(/feed-volts\.json \(3\): volts of .*\n {4}\w+ = \d/);
    expect(sayNumbers('classify/digits').split('\n')).toHaveLength(1);
    expect(() => sayNumbers('no-such')).toThrow('no file of numbers is called "no-such"');
  });
});
