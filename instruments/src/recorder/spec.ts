import * as yup from 'yup';

/** An instrument of this bench, as the settings hold it. */
export interface InstrumentSpec {
  key: string;
  name: string;
  kind: 'supply' | 'meter';
  transport: { kind: 'tcp'; host: string; port: number } | { kind: 'serial'; path: string; baudRate: number };
  /** Id of the commands or lines that it speaks. */
  dialect: string;
  /** `shown = true * gain + offset`, found by calibrating once. Volts, amperes. */
  calibration: { gainV: number; offsetV: number; gainA: number; offsetA: number };
  /** It is connected to a virtual device, which the interface may work on. */
  simulated: boolean;
}

export const noCalibration: InstrumentSpec['calibration'] = { gainV: 1, offsetV: 0, gainA: 1, offsetA: 0 };

const words = () => yup.string().strict().min(1).max(120).required();
const number = (least: number, most: number) => yup.number().strict().min(least).max(most).required();
const specSchema = yup
  .object({
    key: words().matches(/^[a-z0-9-]+$/),
    name: words(),
    kind: yup.string().oneOf(['supply', 'meter']).required(),
    transport: yup.lazy((value: { kind?: unknown } | undefined) =>
      value?.kind === 'serial'
        ? yup
            .object({
              kind: yup.string().oneOf(['serial']).required(),
              path: words(),
              baudRate: number(300, 4_000_000),
            })
            .noUnknown()
            .strict()
        : yup
            .object({ kind: yup.string().oneOf(['tcp']).required(), host: words(), port: number(1, 65_535).integer() })
            .noUnknown()
            .strict(),
    ),
    dialect: words(),
    calibration: yup
      .object({
        gainV: number(0.5, 2),
        offsetV: number(-5, 5),
        gainA: number(0.5, 2),
        offsetA: number(-1, 1),
      })
      .default(noCalibration),
    simulated: yup.boolean().default(false),
  })
  .noUnknown()
  .strict();

/**
 * Reads the instruments of a bench.
 *
 * @throws {RangeError} with the instrument, the key that is wrong and what was expected
 */
export function readInstruments(value: unknown): InstrumentSpec[] {
  if (!Array.isArray(value)) throw new RangeError('instruments: expected a list');
  const specs = value.map((one: unknown, k): InstrumentSpec => {
    try {
      const read = specSchema.validateSync(one, { abortEarly: false });
      return specSchema.cast(read) as InstrumentSpec;
    } catch (error) {
      if (error instanceof yup.ValidationError) throw new RangeError(`instruments[${k}]: ${error.errors.join('; ')}`);
      throw error;
    }
  });
  specs.forEach((spec, k) => {
    if (specs.findIndex((s) => s.key === spec.key) !== k)
      throw new RangeError(`instruments[${k}].key: "${spec.key}" stands twice`);
  });
  return specs;
}
