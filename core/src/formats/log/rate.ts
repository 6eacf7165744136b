import { findUnit } from '../../quantity/index.ts';

const number = '([\\d]+(?:[.,]\\d+)?)';
const perSecond =
  '(k?hz|/s(?:ec)?|1/s|s-1|k?sps|k?sa/s(?:ec)?|smp/s|samp/s|per sec(?:ond)?|a second|readings a second|readings/s|samples?/s(?:ec)?|samples? per sec(?:ond)?)';

// eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longestLine`
const rateFirst = new RegExp(`(?:rate|freq\\w*|sampling|\\bfs\\b|samples?)[^0-9]*${number}\\s*${perSecond}`, 'i');
const rateAlone = new RegExp(
  `${number}\\s*(?:(?:k?samples?|k?sa|smp|samp|readings?|rows?|values?|points?|s)\\s*(?:/\\s*s(?:ec)?\\b|per sec(?:ond)?|a sec(?:ond)?)|k?sps\\b)`,
  'i',
);
const rateNamed = new RegExp(
  `(?:samples?|readings?|rows?|values?|points?)\\s*(?:per second|a second|/\\s*s(?:ec)?)\\b[^0-9]*${number}`,
  'i',
);
const interval = new RegExp(
  `(?:interval|period|step|spacing|dt|delta t|resolution|every)[^0-9]*${number}\\s*(ms|us|µs|s|sec|seconds?|milliseconds?)\\b`,
  'i',
);
const unitInBrackets = new RegExp(
  // eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longestLine`
  `(?:rate|freq\\w*|interval|period|step)[^0-9]*[([](ms|us|µs|s|sec|k?hz)[)\\]][^0-9]*${number}`,
  'i',
);

/** A line that states a rate is short. */
const longestLine = 200;

const value = (text: string): number => Number(text.replace(',', '.'));

/**
 * The sampling rate that the lines above the readings state, such as `Sample rate: 10 Hz`, `interval = 100 ms`,
 * `Samples per second: 4`, `Interval (ms): 250`.
 *
 * @param preamble lines above the readings
 * @returns readings a second, or null where none is stated
 */
export function statedRate(preamble: readonly string[]): number | null {
  for (const line of preamble) {
    if (line.length > longestLine) continue;
    const rate = rateFirst.exec(line);
    if (rate && value(rate[1]) > 0) return value(rate[1]) * (/^k/i.test(rate[2]) ? 1000 : 1);
    const plain = rateAlone.exec(line) ?? rateNamed.exec(line);
    if (plain && value(plain[1]) > 0) return value(plain[1]) * (/\d\s*k(?:samples?|sa|sps)/i.test(line) ? 1000 : 1);
    const step = interval.exec(line);
    if (step) {
      const seconds = value(step[1]) * (findUnit(step[2])?.factor ?? 1e-3);
      if (seconds > 0) return 1 / seconds;
    }
    const bracketed = unitInBrackets.exec(line);
    if (bracketed && value(bracketed[2]) > 0) {
      const factor = findUnit(bracketed[1])?.factor ?? 1;
      return /hz/i.test(bracketed[1]) ? value(bracketed[2]) * factor : 1 / (value(bracketed[2]) * factor);
    }
  }
  return null;
}
