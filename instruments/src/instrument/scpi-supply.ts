import {
  patternOf,
  readNumber,
  readScpiError,
  readSwitch,
  type Command,
  type NumberForm,
  type Pattern,
  type Query,
  type ScpiDialect,
  type SelfLimit,
} from '../dialect/index.ts';
import { bytesOf, type Transport } from '../transport/index.ts';
import { ScpiLine } from './scpi-line.ts';
import {
  AnswerProblem,
  refuseOther,
  type SelfWatch,
  type Supply,
  type SupplyMeasurement,
  type SupplyOptions,
} from './supply.ts';

const maxErrors = 32;

/** A bench supply that is told and asked by short texts, such as SCPI. */
export class ScpiSupply implements Supply {
  private readonly line: ScpiLine;

  constructor(
    transport: Transport,
    readonly dialect: ScpiDialect,
    options: SupplyOptions = {},
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

  open(): Promise<string> {
    return this.line.open();
  }

  close(): void {
    this.line.close();
  }

  async set(volts: number, limitA: number): Promise<void> {
    const { dialect } = this;
    this.line.doubt();
    // The limit first: a higher voltage never meets an old, higher limit.
    await this.put(dialect.setLimit, limitA, dialect.numbers.amps);
    await this.put(dialect.setVolts, volts, dialect.numbers.volts);
    await this.refuseErrors();
    refuseOther('the limit', await this.askAmps(dialect.askLimit), limitA, 'A', dialect.resolutionA);
    refuseOther('the voltage', await this.askVolts(dialect.askVolts), volts, 'V', dialect.resolutionV);
  }

  async watchItself(to: { volts: number; amps: number; silentS: number }): Promise<SelfWatch> {
    const { overVolts, overAmps, watchdog, resolutionV, resolutionA } = this.dialect;
    this.line.doubt();
    const put = async (what: string, limit: SelfLimit | null, value: number, unit: string, step: number) => {
      if (limit === null) return null;
      await this.line.tell(limit.set.replace('{value}', String(Number(value.toFixed(this.dialect.decimals)))));
      await this.refuseErrors();
      refuseOther(what, await this.askNumber(limit.ask), value, unit, step);
      return value;
    };
    return {
      overV: await put('the over-voltage limit', overVolts, to.volts, 'V', resolutionV),
      overA: await put('the over-current limit', overAmps, to.amps, 'A', resolutionA),
      silentS: await put('the communication watchdog', watchdog, to.silentS, 's', 1),
    };
  }

  async selfWatch(): Promise<SelfWatch> {
    const { overVolts, overAmps, watchdog } = this.dialect;
    const asked = async (limit: SelfLimit | null) => limit && this.askNumber(limit.ask);
    return { overV: await asked(overVolts), overA: await asked(overAmps), silentS: await asked(watchdog) };
  }

  async settings(): Promise<{ volts: number; limitA: number; on: boolean }> {
    this.line.doubt();
    const volts = await this.askVolts(this.dialect.askVolts);
    const limitA = await this.askAmps(this.dialect.askLimit);
    return { volts, limitA, on: await this.isOn() };
  }

  async switchOutput(on: boolean): Promise<void> {
    this.line.doubt();
    await this.tell(on ? this.dialect.outputOn : this.dialect.outputOff);
    // How the output stands is asked first: an answer to another question that went wrong must not hide that it is off.
    const is = await this.isOn();
    if (on) await this.refuseErrors();
    else await this.errors().catch(() => []);
    if (is !== on) throw new AnswerProblem(`the output should be ${on ? 'on' : 'off'}, but the supply says it is not`);
  }

  offBytes(): Uint8Array[] {
    return [this.dialect.outputOff].flat().map((command) => bytesOf(command + this.dialect.terminator));
  }

  async isOn(): Promise<boolean> {
    const { askOutput, outputBit } = this.dialect;
    const read = (answer: string): boolean | null => {
      const part = partOf(answer, askOutput, 'value');
      if (part === null || outputBit === null) return part === null ? null : readSwitch(part);
      const bits = this.bitsIn(part);
      return bits === null ? null : (bits & (1 << outputBit)) !== 0;
    };
    const answer = await this.ask(askOutput, (line) => read(line) !== null);
    const on = read(answer);
    if (on === null) throw this.notAnAnswer(answer, askOutput, 'does not tell whether the output is on');
    return on;
  }

  async measure(): Promise<SupplyMeasurement> {
    const { measureBoth, measureVolts, measureAmps, numbers } = this.dialect;
    if (measureBoth === null)
      return { volts: await this.askVolts(measureVolts), amps: await this.askAmps(measureAmps) };
    const answer = await this.ask(measureBoth);
    const parts =
      typeof measureBoth === 'string'
        ? answer.split(/[;,]/)
        : [partOf(answer, measureBoth, 'volts') ?? '', partOf(answer, measureBoth, 'amps') ?? ''];
    const [volts, amps, ...more] = parts.map(readNumber);
    if (volts === null || volts === undefined || amps === null || amps === undefined || more.length > 0)
      throw this.notAnAnswer(answer, measureBoth, 'is not a voltage and a current');
    return { volts: stepped(volts, numbers.volts), amps: stepped(amps, numbers.amps) };
  }

  async mode(): Promise<'cv' | 'cc' | 'off' | null> {
    const { mode } = this.dialect;
    if (mode === null) return null;
    const answer = await this.ask(mode.ask);
    const bits = this.bitsIn(partOf(answer, mode.ask, 'value') ?? '');
    if (bits === null) throw this.notAnAnswer(answer, mode.ask, 'does not tell how the output is held');
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

  private async tell(command: Command): Promise<void> {
    for (const one of [command].flat()) await this.line.tell(one);
  }

  private put(command: Command, value: number, { scale, width }: NumberForm): Promise<void> {
    const shown = scale === 1 ? value.toFixed(this.dialect.decimals) : String(Math.round(value / scale));
    return this.tell([command].flat().map((one) => one.replace('{value}', shown.padStart(width, '0'))));
  }

  /** Asks; of several questions the last one's answer counts. */
  private async ask(query: Query, isAnswer?: (line: string) => boolean): Promise<string> {
    const asked = [typeof query === 'string' ? query : query.ask].flat();
    for (const one of asked.slice(0, -1)) await this.line.tell(one);
    return this.line.ask(asked[asked.length - 1], isAnswer);
  }

  private async askNumber(query: Query): Promise<number> {
    const answer = await this.ask(query);
    const value = readNumber(partOf(answer, query, 'value') ?? '');
    if (value === null) throw this.notAnAnswer(answer, query, 'is not a number');
    return value;
  }

  private async askVolts(query: Query): Promise<number> {
    return stepped(await this.askNumber(query), this.dialect.numbers.volts);
  }

  private async askAmps(query: Query): Promise<number> {
    return stepped(await this.askNumber(query), this.dialect.numbers.amps);
  }

  private bitsIn(part: string): number | null {
    return this.dialect.bitsAs === 'character' ? (part === '' ? null : part.charCodeAt(0)) : readNumber(part);
  }

  private notAnAnswer(answer: string, query: Query, why: string): AnswerProblem {
    this.line.doubt();
    const asked = [typeof query === 'string' ? query : query.ask].flat().join(', ');
    return new AnswerProblem(`"${answer.slice(0, 80)}" ${why} (asked ${asked})`);
  }
}

const patterns = new WeakMap<object, Pattern>();

function patternIn(query: Exclude<Query, string>): Pattern {
  const known = patterns.get(query) ?? patternOf(query.pattern);
  patterns.set(query, known);
  return known;
}

/** The part of an answer that a question means; null where it has none. */
function partOf(answer: string, query: Query, group: string): string | null {
  return typeof query === 'string' ? answer : (patternIn(query).exec(answer)?.[group] ?? null);
}

/** A number of steps as volts or amperes. */
const stepped = (x: number, { scale }: NumberForm): number => (scale === 1 ? x : Number((x * scale).toPrecision(9)));
