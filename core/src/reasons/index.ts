/** Why a belief moved: reasons as data, and the one place that has words for them. */
export {
  moves,
  type Difference,
  type Level,
  type MovedWord,
  type Reason,
  type WeighedEvidence,
  type WhyLeftOut,
} from './reason.ts';
export { sayEvidence, sayLeftOut, sayReason } from './say-reason.ts';
