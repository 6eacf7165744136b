export { comparedNames, compareRuns, type Compared, type RunComparison, type RunDifference } from './comparing.ts';
export { functionsOf, usualFunctions } from './functions.ts';
export { judgeRise, judgeRun, passLimit, type Judgement, type PassLimit } from './judge.ts';
export { proofState, type ProofState, type ProtocolState, type SinceChange } from './state.ts';
export { leftOff, openProofs, protocolsOf } from './open.ts';
export {
  protocols,
  worksFrom,
  type DeviceFunction,
  type FunctionLists,
  type ProtocolDefinition,
  type Step,
} from './protocol.ts';
export { stepsOf } from './steps.ts';
