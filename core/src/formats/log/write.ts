import type { Trace } from '../../trace/index.ts';

export const logHeader = 't_s,voltage_V,current_A\n';

/**
 * Samples as the rows of a CSV under `logHeader`, an empty cell where absent. Yields blocks of text.
 *
 * @param trace seconds, volts, amperes; NaN where absent
 */
export function* writeLog(trace: Pick<Trace, 't' | 'v' | 'i'>): Generator<string> {
  const cell = (x: number, digits: number): string => (Number.isFinite(x) ? String(Number(x.toPrecision(digits))) : '');
  for (let from = 0; from < trace.t.length; from += 10_000) {
    let block = '';
    for (let k = from; k < Math.min(trace.t.length, from + 10_000); k++) {
      block += `${cell(trace.t[k], 12)},${cell(trace.v[k], 7)},${cell(trace.i[k], 7)}\n`;
    }
    yield block;
  }
}
