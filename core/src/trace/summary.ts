import type { Summary, Trace } from './types.ts';

/** Figures of a corrected trace: plain means over the rows that have a value. */
export function summariseTrace(trace: Trace): Summary {
  const { t, v, i } = trace;
  let sumA = 0;
  let countA = 0;
  let maxA = -Infinity;
  let sumV = 0;
  let countV = 0;
  for (let k = 0; k < t.length; k++) {
    const a = i[k];
    if (a === a) {
      sumA += a;
      countA++;
      if (a > maxA) maxA = a;
    }
    const u = v[k];
    if (u === u) {
      sumV += u;
      countV++;
    }
  }
  return {
    rows: t.length,
    firstS: t.length === 0 ? null : t[0],
    lastS: t.length === 0 ? null : t[t.length - 1],
    meanA: countA === 0 ? null : sumA / countA,
    maxA: countA === 0 ? null : maxA,
    meanV: countV === 0 ? null : sumV / countV,
  };
}
