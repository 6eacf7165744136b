export { Recorder } from './recorder.ts';
export type { BenchSettings, RecorderHealth, RecorderOptions } from './recorder-options.ts';
export { handOverSpool, Recording, type Ending } from './recording.ts';
export {
  DatabaseKeeper,
  KeeperRefusal,
  markInterruptedOf,
  type BenchEvent,
  type Keeper,
  type RecordingOf,
} from '../store/keeper.ts';
export { noCalibration, readInstrument, type InstrumentSpec } from '../instrument/spec.ts';
export { loadKept, rosterOf, type KeptBench, type Roster, type SimulatedPorts } from './roster.ts';
export type { Notes, SetTo } from '../store/spool.ts';
export type { Bounds } from './bounds.ts';
export type { Armed, ArmedHere, Averaged, StationState } from './station-state.ts';
