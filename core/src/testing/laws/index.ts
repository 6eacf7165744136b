import { adviceLaws } from './advice.ts';
import { countingLaws } from './counting.ts';
import type { Law } from './law.ts';
import { pathLaws } from './paths.ts';
import { traceLaws } from './traces.ts';
import { unitLaws } from './units.ts';
import { worksLaws } from './works.ts';

export { judge, type Law, type Verdict } from './law.ts';

/** Every law: relations between answers to related made-up cases. */
export const laws: readonly Law[] = [
  ...unitLaws,
  ...pathLaws,
  ...countingLaws,
  ...worksLaws,
  ...traceLaws,
  ...adviceLaws,
];
