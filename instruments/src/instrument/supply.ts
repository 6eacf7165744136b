import { readNumber, readScpiError, readSwitch, type ScpiDialect, type SelfLimit } from '../dialect/index.ts';
import type { Transport } from '../transport/index.ts';
import { AnswerProblem, ScpiLine, type LineOptions } from './scpi-line.ts';

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

const maxErrors = 32;

/**
 * A bench supply that speaks SCPI. Whatever was set is read back from the instrument and never assumed.
 */
export class ScpiSupply {
  private readonly line: ScpiLine;

  constructor(
    transport: Transport,
    readonly dialect: ScpiDialect,
    options: LineOptions = {},
  ) {
    this.line = new ScpiLine(transport, dialect, options);
  }

  get isOpen(): boolean {
    return this.line.isOpen;
  }

  /** Lines that came without having been asked for. */
  get unasked(): number {
    return this.line.unasked;
  }

  /**
   * Connects, clears old errors, and asks who is there.
   *
   * @returns what the supply says of itself
   * @throws {ConnectionProblem} where it cannot be reached
   * @throws {AnswerProblem} where it does not answer
   */
  open(): Promise<string> {
    return this.line.open();
  }

  close(): void {
    this.line.close();
  }

  /**
   * Sets voltage and limit and reads both back.
   *
   * @throws {AnswerProblem} where the supply refuses or answers something else than what was set
   */
  async set(volts: number, limitA: number): Promise<void> {
    const { dialect } = this;
    const put = (command: string, value: number): Promise<void> =>
      this.line.tell(command.replace('{value}', value.toFixed(dialect.decimals)));
    this.line.doubt();
    // The limit first: a higher voltage never meets an old, higher limit.
    await put(dialect.setLimit, limitA);
    await put(dialect.setVolts, volts);
    await this.refuseErrors();
    await this.readBack('the limit', dialect.askLimit, limitA, 'A', dialect.resolutionA);
    await this.readBack('the voltage', dialect.askVolts, volts, 'V', dialect.resolutionV);
  }

  /**
   * Tells the supply to switch off by itself: above a voltage, above a current, and when nobody speaks to it. What its make
   * cannot do is left out.
   *
   * @param to volts, amperes, and seconds of silence
   * @returns what it does by itself from now on
   * @throws {AnswerProblem} where it refuses what its make can do, or reads back something else
   */
  async watchItself(to: { volts: number; amps: number; silentS: number }): Promise<SelfWatch> {
    const { overVolts, overAmps, watchdog, resolutionV, resolutionA } = this.dialect;
    this.line.doubt();
    const put = async (what: string, limit: SelfLimit | null, value: number, unit: string, step: number) => {
      if (limit === null) return null;
      await this.line.tell(limit.set.replace('{value}', String(Number(value.toFixed(this.dialect.decimals)))));
      await this.refuseErrors();
      await this.readBack(what, limit.ask, value, unit, step);
      return value;
    };
    return {
      overV: await put('the over-voltage limit', overVolts, to.volts, 'V', resolutionV),
      overA: await put('the over-current limit', overAmps, to.amps, 'A', resolutionA),
      silentS: await put('the communication watchdog', watchdog, to.silentS, 's', 1),
    };
  }

  /** What the supply is set to, as it says itself. */
  async settings(): Promise<{ volts: number; limitA: number; on: boolean }> {
    this.line.doubt();
    const volts = await this.askNumber(this.dialect.askVolts);
    const limitA = await this.askNumber(this.dialect.askLimit);
    return { volts, limitA, on: await this.isOn() };
  }

  /**
   * Switches the output and reads back that it did.
   *
   * @throws {AnswerProblem} where the supply says that its output stands otherwise
   */
  async switchOutput(on: boolean): Promise<void> {
    this.line.doubt();
    await this.line.tell(on ? this.dialect.outputOn : this.dialect.outputOff);
    // How the output stands is asked first: an answer to another question that went wrong must not hide that it is off.
    const is = await this.isOn();
    if (on) await this.refuseErrors();
    else await this.errors().catch(() => []);
    if (is !== on) throw new AnswerProblem(`the output should be ${on ? 'on' : 'off'}, but the supply says it is not`);
  }

  async isOn(): Promise<boolean> {
    const answer = await this.line.ask(this.dialect.askOutput, (line) => readSwitch(line) !== null);
    const on = readSwitch(answer);
    if (on === null) throw this.notAnAnswer(`"${answer.slice(0, 80)}" does not tell whether the output is on`);
    return on;
  }

  /**
   * Volts and amperes; in one answer where the supply can, so that they belong together.
   *
   * @throws {AnswerProblem} where the answer is no measurement
   */
  async measure(): Promise<SupplyMeasurement> {
    const { measureBoth, measureVolts, measureAmps } = this.dialect;
    if (measureBoth === null)
      return { volts: await this.askNumber(measureVolts), amps: await this.askNumber(measureAmps) };
    const answer = await this.line.ask(measureBoth);
    const [volts, amps, ...more] = answer.split(/[;,]/).map(readNumber);
    if (volts === null || volts === undefined || amps === null || amps === undefined || more.length > 0)
      throw this.notAnAnswer(`"${answer.slice(0, 80)}" is not a voltage and a current`);
    return { volts, amps };
  }

  /** Whether it holds its voltage or its limit; null where this make cannot say. */
  async mode(): Promise<'cv' | 'cc' | 'off' | null> {
    const { mode } = this.dialect;
    if (mode === null) return null;
    const bits = await this.askNumber(mode.ask);
    return bits & (1 << mode.ccBit) ? 'cc' : bits & (1 << mode.cvBit) ? 'cv' : 'off';
  }

  /** Empties the error queue. */
  async errors(): Promise<string[]> {
    const { askError } = this.dialect;
    const found: string[] = [];
    while (askError !== null && found.length < maxErrors) {
      const error = readScpiError(await this.line.ask(askError));
      if (error === null) break;
      found.push(error);
    }
    return found;
  }

  private async refuseErrors(): Promise<void> {
    const errors = await this.errors();
    if (errors.length > 0) throw new AnswerProblem(`the supply refused: ${errors.slice(0, 3).join('; ')}`);
  }

  private async readBack(what: string, query: string, wanted: number, unit: string, step: number): Promise<void> {
    const is = await this.askNumber(query);
    if (Math.abs(is - wanted) > step + 1e-9)
      throw new AnswerProblem(`${what} was set to ${wanted} ${unit}, but the supply says ${is} ${unit}`);
  }

  private async askNumber(query: string): Promise<number> {
    const answer = await this.line.ask(query);
    const value = readNumber(answer);
    if (value === null) throw this.notAnAnswer(`"${answer.slice(0, 80)}" is not a number (asked ${query})`);
    return value;
  }

  private notAnAnswer(message: string): AnswerProblem {
    this.line.doubt();
    return new AnswerProblem(message);
  }
}
