import type { AskedDialect } from '../dialect/index.ts';

/** What a supply gives at one instant. Volts, amperes. */
export interface SupplyMeasurement {
  volts: number;
  amps: number;
}

/** When a supply switches off by itself, without being told; null for what its make cannot do. Volts, amperes, seconds. */
export interface SelfWatch {
  overV: number | null;
  overA: number | null;
  /** After so much silence of whoever commands it. */
  silentS: number | null;
}

/** An answer that never came, or that was not one. */
export class AnswerProblem extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'AnswerProblem';
  }
}

export interface SupplyOptions {
  /** How long an answer may take, milliseconds. */
  timeoutMs?: number;
  /** Called once when an open connection ends, with the reason; null where it was closed from here on purpose. */
  lost?: (reason: string | null) => void;
  /** Its address on a bus; that of its dialect where left out. */
  unit?: number | null;
}

/** An instrument that is asked for every value. Whatever is set is read back from it and never assumed. */
export interface Supply {
  readonly dialect: AskedDialect;
  readonly isOpen: boolean;
  /**
   * Connects, and asks who is there.
   *
   * @returns what it says of itself
   * @throws {ConnectionProblem} where it cannot be reached
   * @throws {AnswerProblem} where it does not answer
   */
  open(): Promise<string>;
  close(): void;
  /**
   * Sets voltage and limit and reads both back.
   *
   * @throws {AnswerProblem} where it refuses or answers something else than what was set
   */
  set(volts: number, limitA: number): Promise<void>;
  /**
   * Tells it to switch off by itself: above a voltage, above a current, and when nobody speaks to it. What its make cannot do
   * is left out.
   *
   * @param to volts, amperes, and seconds of silence
   * @returns what it does by itself from now on
   * @throws {AnswerProblem} where it refuses what its make can do, or reads back something else
   */
  watchItself(to: { volts: number; amps: number; silentS: number }): Promise<SelfWatch>;
  /**
   * When it would switch off by itself, as it is set now.
   *
   * @throws {AnswerProblem} where it does not know what its dialect asks
   */
  selfWatch(): Promise<SelfWatch>;
  /** What it is set to, as it says itself. */
  settings(): Promise<{ volts: number; limitA: number; on: boolean }>;
  /**
   * Switches the output and reads back that it did.
   *
   * @throws {AnswerProblem} where it says that its output stands otherwise
   */
  switchOutput(on: boolean): Promise<void>;
  /** What switches its output off when nobody can ask any more: each to be sent as it is. */
  offBytes(): Uint8Array[];
  /**
   * Volts and amperes; in one answer where it can, so that they belong together.
   *
   * @throws {AnswerProblem} where the answer is no measurement
   */
  measure(): Promise<SupplyMeasurement>;
  /** Whether it holds its voltage or its limit; null where this make cannot say. */
  mode(): Promise<'cv' | 'cc' | 'off' | null>;
}

/**
 * @param is what an instrument says that a value is set to
 * @param wanted what was set; both in `unit`
 * @param step the smallest that it shows
 * @throws {AnswerProblem} where the two differ by more than a step
 */
export function refuseOther(what: string, is: number, wanted: number, unit: string, step: number): void {
  if (Math.abs(is - wanted) > step + 1e-9)
    throw new AnswerProblem(`${what} was set to ${wanted} ${unit}, but the supply says ${is} ${unit}`);
}
