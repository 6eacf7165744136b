/** The small part of the core that a page needs in the browser: words and numbers, no engine and no readers. */
export {
  absent,
  countOf,
  formatCurrent,
  formatPercent,
  formatPower,
  formatResistance,
  formatSeconds,
  formatStatedCurrent,
  formatVoltage,
  parseQuantity,
  inSentence,
} from '../quantity/index.ts';
export * from '../catalogue/index.ts';
export {
  emptyIntake,
  markerNames,
  railStates,
  sayMeasured,
  swappedUnits,
  unitNames,
  type ReadingMode,
  type SwappedUnit,
} from '../case/index.ts';
export {
  fitCalibration,
  instrumentKinds,
  markerEvents,
  sayCalibration,
  type CalibratedQuantity,
  type CalibrationPoint,
  type Marker,
  type MarkerEvent,
} from '../trace/index.ts';
export { remarkIds, remarksIn } from '../hypotheses/vocabulary.ts';
export { remarkWords } from '../reasons/say-reason.ts';
export { usualFunctions } from '../proof/functions.ts';
export { sayOutcome } from '../observation/say-outcome.ts';
export { formatMoney, formatPrice } from '../workbench/money.ts';
export { sayMinutes } from '../workbench/say-minutes.ts';
