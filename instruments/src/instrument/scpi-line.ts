import type { ScpiDialect } from '../dialect/index.ts';
import { ConnectionProblem, type Connection, type Transport } from '../transport/index.ts';
import { answerCutter } from './answers.ts';
import { AnswerProblem, type SupplyOptions } from './supply.ts';

const answerTimeoutMs = 3000;

/** How often a question that safety hangs on is put before its answer counts as none. */
const attempts = 3;

/** After a line that was dropped: how long until an identity that never came is asked for again. */
const quietMs = 500;

/** Silence after which nothing more is expected of an instrument that cannot say who it is. */
const silentMs = 150;

interface Waiting {
  /** Whether a line can be the answer; others are dropped. */
  accepts: (line: string) => boolean;
  dropped?: () => void;
  resolve: (line: string) => void;
  reject: (error: Error) => void;
  timer: NodeJS.Timeout;
}

/** How commands and answers are told apart. */
type LineForm = Pick<ScpiDialect, 'name' | 'terminator' | 'identify' | 'clear' | 'answer' | 'echo' | 'pauseMs'>;

/**
 * Commands and questions to one instrument, one at a time. An instrument that does not answer in time is disconnected, so
 * that a late answer is never taken for that of another question; one that answers too often, or something else than was
 * asked, is first asked who it is, and what comes before that answer is dropped.
 */
export class ScpiLine {
  private connection: Connection | null = null;
  private waiting: Waiting | null = null;
  private forget: (() => void) | null = null;
  private queue: Promise<unknown> = Promise.resolve();
  private identity = '';
  private sentAt = -Infinity;
  private echo = '';
  private lostWhy = 'not connected';
  /** Whether a line may still come, or may have been taken, for another question than its own. */
  private inDoubt = false;
  /** Lines that came without having been asked for. */
  unasked = 0;

  constructor(
    private readonly transport: Transport,
    private readonly dialect: LineForm,
    private readonly options: SupplyOptions,
  ) {}

  get isOpen(): boolean {
    return this.connection !== null;
  }

  /**
   * Connects, clears old errors, and asks who is there.
   *
   * @returns what the instrument says of itself
   * @throws {ConnectionProblem} where it cannot be reached
   * @throws {AnswerProblem} where it does not answer
   */
  async open(): Promise<string> {
    // What an earlier connection still has to say is not for this one.
    let isCurrent = true;
    this.forget?.();
    this.forget = () => (isCurrent = false);
    const cutter = answerCutter(this.dialect.answer, (answer) => isCurrent && this.answered(answer));
    this.connection = await this.transport.connect({
      data: (piece) => isCurrent && cutter.push(piece),
      left: () => {
        cutter.skip();
        this.inDoubt = true;
      },
      closed: (reason) => {
        cutter.stop();
        if (isCurrent) this.closed(reason);
      },
    });
    if (this.dialect.clear) await this.tell(this.dialect.clear);
    this.inDoubt = false;
    this.identity = this.dialect.identify === null ? '' : await this.ask(this.dialect.identify);
    return this.identity || this.dialect.name;
  }

  close(): void {
    this.connection?.close();
  }

  /** Before the next answer is believed, the instrument is asked who it is. */
  doubt(): void {
    this.inDoubt = true;
  }

  /** Sends a command; resolves when it is on its way, after everything that was asked before. */
  tell(command: string): Promise<void> {
    return this.inTurn(async () => {
      await this.breathe();
      this.send(command);
    });
  }

  /**
   * @param isAnswer where a wrong answer is asked again at once, before any other question: noise that comes in step
   *   with the questions would meet the same one for ever
   * @throws {AnswerProblem} after the time-out, {@link ConnectionProblem} where the connection ends before
   */
  ask(query: string, isAnswer: (line: string) => boolean = () => true): Promise<string> {
    return this.inTurn(async () => {
      for (let attempt = 1; ; attempt++) {
        if (this.inDoubt) await this.comeInStep();
        const line = await this.put(query, () => true);
        if (isAnswer(line) || attempt === attempts) return line;
        this.inDoubt = true;
      }
    });
  }

  /** Drops everything until the supply says who it is; where it cannot, until it has been silent for a while. */
  private async comeInStep(): Promise<void> {
    this.inDoubt = false;
    const { identify } = this.dialect;
    if (identify === null) {
      for (let heard = -1; heard !== this.unasked;) {
        heard = this.unasked;
        await new Promise((resolve) => setTimeout(resolve, silentMs));
      }
      this.inDoubt = false;
      return;
    }
    let again: NodeJS.Timeout | undefined;
    const dropped = (): void => {
      clearTimeout(again);
      // The answer itself may have been the noise that was dropped.
      again = setTimeout(() => this.connection && this.send(identify), quietMs);
    };
    try {
      await this.put(identify, (line) => line === this.identity, dropped);
    } finally {
      clearTimeout(again);
    }
  }

  private async put(query: string, accepts: Waiting['accepts'], dropped?: () => void): Promise<string> {
    await this.breathe();
    return this.putNow(query, accepts, dropped);
  }

  /** What it needs between two commands. */
  private async breathe(): Promise<void> {
    const left = this.sentAt + this.dialect.pauseMs - performance.now();
    if (left > 0) await new Promise((resolve) => setTimeout(resolve, left));
  }

  private send(command: string): void {
    this.sentAt = performance.now();
    if (this.dialect.echo) this.echo += command;
    this.opened().send(command + this.dialect.terminator);
  }

  private putNow(query: string, accepts: Waiting['accepts'], dropped?: () => void): Promise<string> {
    return new Promise<string>((resolve, reject) => {
      this.opened();
      const seconds = (this.options.timeoutMs ?? answerTimeoutMs) / 1000;
      const timer = setTimeout(() => {
        this.waiting = null;
        const problem = `no answer to ${query} within ${seconds} s`;
        reject(new AnswerProblem(problem));
        this.connection?.close();
        this.closed(problem);
      }, 1000 * seconds);
      this.waiting = { accepts, dropped, resolve, reject, timer };
      this.send(query);
    });
  }

  private opened(): Connection {
    if (!this.connection) throw new ConnectionProblem(`${this.transport.where}: ${this.lostWhy}`);
    return this.connection;
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.queue.then(work);
    this.queue = turn.catch(() => undefined);
    return turn;
  }

  private answered(given: string): void {
    const line = this.withoutEcho(given);
    if (line === '') return;
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

  /** What is left of a line after the commands that the instrument repeats before it answers, in one piece or in several. */
  private withoutEcho(line: string): string {
    const { echo } = this;
    if (echo === '') return line;
    if (echo.startsWith(line)) {
      this.echo = echo.slice(line.length);
      return '';
    }
    this.echo = '';
    return line.startsWith(echo) ? line.slice(echo.length).trim() : line;
  }

  private closed(reason: string | null): void {
    if (!this.connection) return;
    this.connection = null;
    [this.echo, this.lostWhy] = ['', reason ?? 'not connected'];
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
