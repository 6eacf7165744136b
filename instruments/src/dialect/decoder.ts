import { LineCutter } from '../transport/lines.ts';
import { textOf } from '../transport/transport.ts';
import { FrameCutter, frameReader, type FrameDialect } from './frames.ts';
import { lineReader, type LineDialect } from './line-stream.ts';

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

/** @param onValues told of every measurement, in order */
export function decoderFor(dialect: LineDialect | FrameDialect, onValues: (values: MeterValues) => void): Decoder {
  let refused = 0;
  const tell = (values: MeterValues | null): void => {
    if (values) onValues(values);
    else refused++;
  };
  if (dialect.format === 'umbral-lines/1') {
    const read = lineReader(dialect);
    const cutter = new LineCutter((line) => tell(read(line)));
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
