import { checkTypes, isCheck } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';

/** Depth up to which nothing inside was touched but the pack's connector and the display's. */
const outsideDepth = 1;

/** A case as it stood before anything inside was touched: its runs, what was looked at from outside, and no outcome. */
export function outsideOnly(value: Case): Case {
  return {
    ...value,
    runs: value.runs.filter((r) => r.after === null && r.setup.unplugged.length === 0),
    checks: value.checks.filter((c) => c.after === null && isCheck(c.id) && checkTypes[c.id].depth <= outsideDepth),
    readings: [],
    injections: [],
    actions: [],
    proofs: [],
    outcome: null,
  };
}
