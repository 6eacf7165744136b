import { spawn, type ChildProcess } from 'node:child_process';
import type { Socket } from 'node:net';
import type { AskedDialect } from '../dialect/index.ts';
import type { InstrumentSpec } from '../instrument/spec.ts';
import policy from './policy.json';

/** A supply whose output may be on, with all that it takes to switch it off. */
export interface WatchedSupply {
  spec: InstrumentSpec;
  dialect: AskedDialect;
  networks: readonly string[];
  /** Whose it is: for the record, should the watchdog have to switch it off. */
  of: { jobId: number | null; person: number | null; recording: number | null };
}

/** What the recorder tells its watchdog, one line of JSON each. */
export type GuardLine = { kind: 'on'; supplies: WatchedSupply[] } | { kind: 'beat' } | { kind: 'bye' };

/**
 * The recorder's side of its watchdog: a small process that outlives the recorder, knows which outputs may be on, and
 * switches them off when the recorder dies or hangs. It is started again when it ends.
 */
export class Guard {
  private child: ChildProcess | null = null;
  private supplies: WatchedSupply[] = [];
  private readonly timer: NodeJS.Timeout;
  private stopped = false;
  /** Beats since it answered last. */
  private unanswered = 0;
  private hasAnswered = false;

  /**
   * @param program the watchdog's compiled entry
   * @param deeds file in which it leaves what it did for the next recorder
   */
  constructor(
    private readonly program: string,
    readonly deeds: string,
  ) {
    this.begin();
    this.timer = setInterval(() => this.beat(), policy.beatMs);
  }

  /** Whether somebody would switch off if this process were gone. */
  get isThere(): boolean {
    const { child } = this;
    const runs = child?.exitCode === null && child.signalCode === null && child.stdin?.writable === true;
    return runs && this.unanswered <= (this.hasAnswered ? policy.silentTurns : policy.startTurns);
  }

  get pid(): number | undefined {
    return this.child?.pid;
  }

  /** Supplies that may be on from now on. To be told before an output is switched on. */
  watch(supplies: WatchedSupply[]): void {
    this.supplies = supplies;
    this.tell({ kind: 'on', supplies });
  }

  /** All outputs are off and nobody has to be watched over any more. */
  stop(): void {
    this.stopped = true;
    clearInterval(this.timer);
    this.tell({ kind: 'bye' });
    this.child?.stdin?.end();
  }

  /** One that runs and does not answer is ended, so that another takes its place. */
  private beat(): void {
    if (++this.unanswered > (this.hasAnswered ? 2 * policy.silentTurns : policy.startTurns))
      this.child?.kill('SIGKILL');
    this.tell({ kind: 'beat' });
  }

  private begin(): void {
    [this.unanswered, this.hasAnswered] = [0, false];
    const child = spawn(process.execPath, [this.program], {
      // A group of its own: what ends the recorder's group leaves it alone.
      detached: true,
      stdio: ['pipe', 'pipe', 'inherit'],
      env: { ...process.env, UMBRAL_WATCHED_PID: String(process.pid), UMBRAL_WATCHDOG_DEEDS: this.deeds },
    });
    child.unref();
    child.stdin.on('error', () => undefined);
    child.stdout.on('data', () => ([this.unanswered, this.hasAnswered] = [0, true]));
    // What it answers keeps nobody running.
    (child.stdout as Socket).unref();
    child.once('error', () => undefined);
    child.once('exit', () => {
      if (this.stopped) return;
      setTimeout(() => !this.stopped && this.begin(), policy.restartMs).unref();
    });
    this.child = child;
    this.tell({ kind: 'on', supplies: this.supplies });
  }

  private tell(line: GuardLine): void {
    if (this.child?.stdin?.writable) this.child.stdin.write(`${JSON.stringify(line)}\n`);
  }
}
