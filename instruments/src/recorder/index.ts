export { Recorder, type BenchSettings, type RecorderOptions } from './recorder.ts';
export { markInterrupted, Recording, type Gap, type RecordingOf, type RecordingOptions } from './recording.ts';
export { noCalibration, readInstrument, type InstrumentSpec } from './spec.ts';
export { loadRoster, simulatedInstruments, type Roster, type SimulatedPorts } from './roster.ts';
export { type Armed, type Averaged, type Bounds, type StationState } from './station.ts';
