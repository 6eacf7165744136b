import { LineCutter } from '../transport/lines.ts';
import { textOf } from '../transport/transport.ts';
import { FrameCutter, frameReader, type FrameDialect, type Framing } from './frames.ts';
import { lineReader, type LineDialect } from './line-stream.ts';
import { framedReader, isFramed, readingReader, type MeterReading, type ReadingDialect } from './readings.ts';

/** One measurement as the meter meant it. Volts, amperes, seconds of its own clock; NaN where it leaves a value out. */
export interface MeterValues {
  volts: number;
  amps: number;
  seconds: number | null;
}

/** Takes what arrives from a meter apart, in whatever pieces it arrives. */
export interface Decoder {
  push(piece: Uint8Array): void;
  /** Something was left out here: the next piece does not follow on the last. */
  skip(): void;
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
  const told =
    <In, Out>(read: (from: In) => Out | null, tell: (out: Out) => void) =>
    (from: In): void => {
      const out = read(from);
      if (out === null) refused++;
      else tell(out);
    };
  const ofLines = (onLine: (line: string) => void): Decoder => {
    const cutter = new LineCutter(onLine);
    return {
      push: (piece) => cutter.push(textOf(piece)),
      skip: () => cutter.skip(),
      get wrong() {
        return refused + cutter.dropped;
      },
    };
  };
  const ofFrames = (framing: Framing, onFrame: (frame: Uint8Array) => void): Decoder => {
    const cutter = new FrameCutter(framing, onFrame);
    return {
      push: (piece) => cutter.push(piece),
      skip: () => cutter.skip(),
      get wrong() {
        return refused + cutter.broken;
      },
    };
  };
  if (dialect.format === 'umbral-lines/1') return ofLines(told(lineReader(dialect), onValues));
  if (dialect.format === 'umbral-frames/1') return ofFrames(dialect, told(frameReader(dialect), onValues));
  return isFramed(dialect)
    ? ofFrames(dialect.frame, told(framedReader(dialect), onReading))
    : ofLines(told(readingReader(dialect), onReading));
}
