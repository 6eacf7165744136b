export { Recorder, type RecorderOptions } from './recorder.ts';
export { markInterrupted, Recording, type Gap, type RecordingOf, type RecordingOptions } from './recording.ts';
export { noCalibration, readInstruments, type InstrumentSpec } from './spec.ts';
export { type Armed, type Bounds, type StationState } from './station.ts';
