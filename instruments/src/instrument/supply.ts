import { readNumber, readScpiError, readSwitch, type ScpiDialect } from '../dialect/index.ts';
import { ConnectionProblem, type Connection, type Transport } from '../transport/index.ts';

/** An answer that never came, or that was not one. */
export class AnswerProblem extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'AnswerProblem';
  }
}

/** What a supply gives at one instant. Volts, amperes. */
export interface SupplyMeasurement {
  volts: number;
  amps: number;
}

const answerTimeoutMs = 3000;
const maxErrors = 32;

/** How often a question that safety hangs on is put before its answer counts as none. */
const attempts = 3;

/** After a line that was dropped: how long until an identity that never came is asked for again. */
const quietMs = 500;

interface Waiting {
  /** Whether a line can be the answer; others are dropped. */
  accepts: (line: string) => boolean;
  dropped?: () => void;
  resolve: (line: string) => void;
  reject: (error: Error) => void;
  timer: NodeJS.Timeout;
}

/**
 * A bench supply that speaks SCPI. One query is under way at a time; whatever was set is read back from the instrument
 * and never assumed. A supply that does not answer in time is disconnected, so that a late answer is never taken for
 * that of another question; one that answers too often, or something else than was asked, is first asked who it is, and
 * what comes before that answer is dropped.
 */
export class ScpiSupply {
  private connection: Connection | null = null;
  private waiting: Waiting | null = null;
  private forget: (() => void) | null = null;
  private queue: Promise<unknown> = Promise.resolve();
  private identity = '';
  /** Whether a line may still come, or may have been taken, for another question than its own. */
  private inDoubt = false;
  /** Lines that came without having been asked for. */
  unasked = 0;

  /** @param options.lost called once when an open connection ends, with the reason; null where it was closed from here on purpose */
  constructor(
    private readonly transport: Transport,
    readonly dialect: ScpiDialect,
    private readonly options: { timeoutMs?: number; lost?: (reason: string | null) => void } = {},
  ) {}

  get isOpen(): boolean {
    return this.connection !== null;
  }

  /**
   * Connects, clears old errors, and asks who is there.
   *
   * @returns what the supply says of itself
   * @throws {ConnectionProblem} where it cannot be reached
   * @throws {AnswerProblem} where it does not answer
   */
  async open(): Promise<string> {
    // What an earlier connection still has to say is not for this one.
    let isCurrent = true;
    this.forget?.();
    this.forget = () => (isCurrent = false);
    this.connection = await this.transport.connect({
      line: (line) => isCurrent && this.answered(line),
      closed: (reason) => isCurrent && this.closed(reason),
    });
    if (this.dialect.clear) await this.tell(this.dialect.clear);
    this.inDoubt = false;
    return (this.identity = await this.ask(this.dialect.identify));
  }

  close(): void {
    this.connection?.close();
  }

  /**
   * Sets voltage and limit and reads both back.
   *
   * @throws {AnswerProblem} where the supply refuses or answers something else than what was set
   */
  async set(volts: number, limitA: number): Promise<void> {
    const { dialect } = this;
    const put = (command: string, value: number): Promise<void> =>
      this.tell(command.replace('{value}', value.toFixed(dialect.decimals)));
    this.inDoubt = true;
    // The limit first: a higher voltage never meets an old, higher limit.
    await put(dialect.setLimit, limitA);
    await put(dialect.setVolts, volts);
    await this.refuseErrors();
    await this.readBack('the limit', dialect.askLimit, limitA, 'A', dialect.resolutionA);
    await this.readBack('the voltage', dialect.askVolts, volts, 'V', dialect.resolutionV);
  }

  /** What the supply is set to, as it says itself. */
  async settings(): Promise<{ volts: number; limitA: number; on: boolean }> {
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
    this.inDoubt = true;
    await this.tell(on ? this.dialect.outputOn : this.dialect.outputOff);
    // How the output stands is asked first: an answer to another question that went wrong must not hide that it is off.
    const is = await this.isOn();
    if (on) await this.refuseErrors();
    else await this.errors().catch(() => []);
    if (is !== on) throw new AnswerProblem(`the output should be ${on ? 'on' : 'off'}, but the supply says it is not`);
  }

  async isOn(): Promise<boolean> {
    const answer = await this.ask(this.dialect.askOutput, (line) => readSwitch(line) !== null);
    const on = readSwitch(answer);
    if (on === null) throw this.notAnAnswer(`"${answer.slice(0, 80)}" does not say whether the output is on`);
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
    const answer = await this.ask(measureBoth);
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
      const error = readScpiError(await this.ask(askError));
      if (error === null) break;
      found.push(error);
    }
    return found;
  }

  private async refuseErrors(): Promise<void> {
    const errors = await this.errors();
    if (errors.length > 0) throw new AnswerProblem(`the supply refuses: ${errors.slice(0, 3).join('; ')}`);
  }

  private async readBack(what: string, query: string, wanted: number, unit: string, step: number): Promise<void> {
    const is = await this.askNumber(query);
    if (Math.abs(is - wanted) > step + 1e-9)
      throw new AnswerProblem(`${what} was set to ${wanted} ${unit}, but the supply says ${is} ${unit}`);
  }

  private async askNumber(query: string): Promise<number> {
    const answer = await this.ask(query);
    const value = readNumber(answer);
    if (value === null) throw this.notAnAnswer(`"${answer.slice(0, 80)}" is no number (asked ${query})`);
    return value;
  }

  private tell(command: string): Promise<void> {
    return this.inTurn(() => {
      this.opened().send(command + this.dialect.terminator);
      return Promise.resolve();
    });
  }

  /**
   * @param isAnswer where a wrong answer is asked again at once, before any other question: noise that comes in step
   *   with the questions would meet the same one for ever
   * @throws {AnswerProblem} after the time-out, {@link ConnectionProblem} where the connection ends before
   */
  private ask(query: string, isAnswer: (line: string) => boolean = () => true): Promise<string> {
    return this.inTurn(async () => {
      for (let attempt = 1; ; attempt++) {
        if (this.inDoubt) await this.comeInStep();
        const line = await this.put(query, () => true);
        if (isAnswer(line) || attempt === attempts) return line;
        this.inDoubt = true;
      }
    });
  }

  /** Drops everything until the supply says who it is. */
  private async comeInStep(): Promise<void> {
    this.inDoubt = false;
    let again: NodeJS.Timeout | undefined;
    const dropped = (): void => {
      clearTimeout(again);
      // The answer itself may have been the noise that was dropped.
      again = setTimeout(() => this.connection?.send(this.dialect.identify + this.dialect.terminator), quietMs);
    };
    try {
      await this.put(this.dialect.identify, (line) => line === this.identity, dropped);
    } finally {
      clearTimeout(again);
    }
  }

  private put(query: string, accepts: Waiting['accepts'], dropped?: () => void): Promise<string> {
    return new Promise<string>((resolve, reject) => {
      const connection = this.opened();
      const seconds = (this.options.timeoutMs ?? answerTimeoutMs) / 1000;
      const timer = setTimeout(() => {
        this.waiting = null;
        const problem = `no answer to ${query} within ${seconds} s`;
        reject(new AnswerProblem(problem));
        connection.close();
        this.closed(problem);
      }, 1000 * seconds);
      this.waiting = { accepts, dropped, resolve, reject, timer };
      connection.send(query + this.dialect.terminator);
    });
  }

  private notAnAnswer(message: string): AnswerProblem {
    this.inDoubt = true;
    return new AnswerProblem(message);
  }

  private opened(): Connection {
    if (!this.connection) throw new ConnectionProblem(`${this.transport.where}: not connected`);
    return this.connection;
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.queue.then(work);
    this.queue = turn.catch(() => undefined);
    return turn;
  }

  private answered(line: string): void {
    const { waiting } = this;
    if (!waiting?.accepts(line)) {
      this.unasked++;
      if (waiting) waiting.dropped?.();
      else this.inDoubt = true;
      return;
    }
    this.waiting = null;
    clearTimeout(waiting.timer);
    waiting.resolve(line);
  }

  private closed(reason: string | null): void {
    if (!this.connection) return;
    this.connection = null;
    this.forget?.();
    const { waiting } = this;
    this.waiting = null;
    if (waiting) {
      clearTimeout(waiting.timer);
      waiting.reject(new ConnectionProblem(`${this.transport.where}: ${reason ?? 'closed'}`));
    }
    this.options.lost?.(reason);
  }
}
