import { LineCutter } from '../transport/lines.ts';
import { textOf } from '../transport/transport.ts';
import { FrameCutter, frameReader, type FrameDialect } from './frames.ts';
import { lineReader, type LineDialect } from './line-stream.ts';
import { readingReader, type MeterReading, type ReadingDialect } from './readings.ts';

/** One measurement as the meter meant it. Volts, amperes, seconds of its own clock; NaN where it leaves a value out. */
export interface MeterValues {
  volts: number;
  amps: number;
  seconds: number | null;
}

/** Takes what arrives from a meter apart, in whatever pieces it arrives. */
export interface Decoder {
  push(piece: Uint8Array): void;
  /** Lines or frames that were no measurement, and beginnings of frames that were not whole. */
  readonly wrong: number;
}

/**
 * @param onValues told of every measurement, in order
 * @param onReading told of what a multimeter shows
 */
export function decoderFor(
  dialect: LineDialect | FrameDialect | ReadingDialect,
  onValues: (values: MeterValues) => void,
  onReading: (reading: MeterReading) => void = () => undefined,
): Decoder {
  let refused = 0;
  const tell = (values: MeterValues | null): void => {
    if (values) onValues(values);
    else refused++;
  };
  if (dialect.format !== 'umbral-frames/1') {
    const cutter = new LineCutter(
      dialect.format === 'umbral-lines/1' ? valuesOf(dialect, tell) : readingsOf(dialect, onReading, () => refused++),
    );
    return {
      push: (piece) => cutter.push(textOf(piece)),
      get wrong() {
        return refused + cutter.dropped;
      },
    };
  }
  const read = frameReader(dialect);
  const cutter = new FrameCutter(dialect, (frame) => tell(read(frame)));
  return {
    push: (piece) => cutter.push(piece),
    get wrong() {
      return refused + cutter.broken;
    },
  };
}

function valuesOf(dialect: LineDialect, tell: (values: MeterValues | null) => void): (line: string) => void {
  const read = lineReader(dialect);
  return (line) => tell(read(line));
}

function readingsOf(
  dialect: ReadingDialect,
  onReading: (reading: MeterReading) => void,
  refuse: () => void,
): (line: string) => void {
  const read = readingReader(dialect);
  return (line) => {
    const reading = read(line);
    if (reading) onReading(reading);
    else refuse();
  };
}
