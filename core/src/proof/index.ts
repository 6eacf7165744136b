export { comparedNames, compareRuns, type RunComparison } from './comparing.ts';
export { functionsOf, usualFunctions } from './functions.ts';
export { changesLeft, deviceState, isUntried, isWorking, type DeviceState } from './device-state.ts';
export { judgeRise, judgeRun, passLimit } from './judge.ts';
export { proofState, type ProofState, type SinceChange } from './state.ts';
export { leftOff, openProofs, protocolsOf } from './open.ts';
export { protocols, type DeviceFunction, type FunctionLists, type ProtocolDefinition, type Step } from './protocol.ts';
export { stepsOf } from './steps.ts';
