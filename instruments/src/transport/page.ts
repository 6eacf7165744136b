import { boundedEvents } from './bounded.ts';
import { ConnectionProblem, bytesOf, type Connection, type ConnectionEvents, type Transport } from './transport.ts';

/** What a page passed on: how long ago it arrived there, seconds, and its bytes. */
interface PagePiece {
  ageS: number;
  bytes: Uint8Array;
}

const words = {
  nobody: 'no page is connected to it. Press “Connect here” on the computer that it is plugged into',
  silent: 'the page that it is plugged into went away',
};

/** A page that asked for nothing for so long is gone, milliseconds; and how often that is looked at. */
const goneMs = 3000;
const watchEveryMs = 500;

/**
 * The way to an instrument that is plugged into the computer of a page: the page passes its bytes on in both directions, and
 * decodes nothing. One window at a time.
 */
export class PagePort implements Transport {
  readonly where = 'the page';
  readonly isSerial = true;
  private by: string | null = null;
  private lastBy: string | null = null;
  private events: ConnectionEvents | null = null;
  private outgoing: Uint8Array[] = [];
  private wake: (() => void) | null = null;
  private heardAt = -Infinity;
  private timer: NodeJS.Timeout | null = null;
  /** Bytes that the page sends when it loses this recorder: they switch an output off. */
  lastWords: readonly Uint8Array[] = [];
  /** Told when a page has come, so that nobody waits for the next attempt. */
  attached: () => void = () => undefined;

  connect(events: ConnectionEvents): Promise<Connection> {
    if (this.by === null) return Promise.reject(new ConnectionProblem(words.nobody));
    this.events = boundedEvents(events);
    this.outgoing = [];
    return Promise.resolve({
      send: (data) => {
        this.outgoing.push(bytesOf(data));
        this.wake?.();
      },
      close: () => this.end(null),
    });
  }

  /** The window that passed on last. */
  get window(): string | null {
    return this.lastBy;
  }

  /** @returns false where another window has it */
  attach(by: string): boolean {
    if (this.by !== null && this.by !== by) return false;
    this.by = by;
    this.lastBy = by;
    this.heardAt = performance.now();
    this.timer ??= setInterval(() => this.watch(), watchEveryMs).unref();
    this.attached();
    return true;
  }

  /** The page let go of it, or lost it. */
  detach(by: string, why: string): void {
    if (this.by !== by) return;
    this.by = null;
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.end(why);
    this.wake?.();
  }

  /** @returns false for a window that does not have it */
  take(by: string, pieces: readonly PagePiece[]): boolean {
    if (this.by !== by) return false;
    this.heardAt = performance.now();
    for (const { bytes, ageS } of pieces) this.events?.data(bytes, ageS);
    return true;
  }

  /**
   * What is to be sent to the instrument: at once where something waits, else when it comes, or nothing after a while.
   *
   * @returns null for a window that does not have it
   */
  async pull(by: string, waitMs: number): Promise<Uint8Array[] | null> {
    if (this.by !== by) return null;
    this.heardAt = performance.now();
    if (this.outgoing.length === 0)
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, waitMs);
        this.wake = () => {
          clearTimeout(timer);
          resolve();
        };
      });
    this.wake = null;
    if (this.by !== by) return null;
    this.heardAt = performance.now();
    return this.outgoing.splice(0);
  }

  private watch(): void {
    // A page that waits for something to send is there.
    if (this.wake !== null || performance.now() - this.heardAt < goneMs) return;
    if (this.by !== null) this.detach(this.by, words.silent);
  }

  private end(reason: string | null): void {
    const { events } = this;
    this.events = null;
    events?.closed(reason);
  }
}
