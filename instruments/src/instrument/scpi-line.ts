import type { ScpiDialect } from '../dialect/index.ts';
import { ConnectionProblem, type Connection, type Transport } from '../transport/index.ts';

/** An answer that never came, or that was not one. */
export class AnswerProblem extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'AnswerProblem';
  }
}

export interface LineOptions {
  /** How long an answer may take, milliseconds. */
  timeoutMs?: number;
  /** Called once when an open connection ends, with the reason; null where it was closed from here on purpose. */
  lost?: (reason: string | null) => void;
}

const answerTimeoutMs = 3000;

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
  /** Whether a line may still come, or may have been taken, for another question than its own. */
  private inDoubt = false;
  /** Lines that came without having been asked for. */
  unasked = 0;

  constructor(
    private readonly transport: Transport,
    private readonly dialect: Pick<ScpiDialect, 'terminator' | 'identify' | 'clear'>,
    private readonly options: LineOptions,
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

  /** Before the next answer is believed, the instrument is asked who it is. */
  doubt(): void {
    this.inDoubt = true;
  }

  /** Sends a command; resolves when it is on its way, after everything that was asked before. */
  tell(command: string): Promise<void> {
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
