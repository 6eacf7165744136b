import type { DisplayReading, DisplayState, Framing } from '@umbral/core/display';
import type { FoundInPicture, FromReader, ToReader } from './messages';
import settings from './display-watch.json';

/** What a page tells the recorder of a display; times on the page's clock, seconds. */
export interface SeenBody {
  instrument: string;
  by: string;
  at: number;
  samples: [t: number, volts: number | null, amps: number | null][];
  steps: { volts: number | null; amps: number | null };
  why: string;
}

/** How a display is being read. */
export interface WatchSnapshot {
  state: DisplayState | null;
  reading: DisplayReading | null;
  /** Pictures that were read in the last second or so, a second. */
  picturesPerSecond: number;
  /** From taking a picture to its numbers on the screen, seconds; one picture more until they are decided on. */
  delayS: number | null;
  /** No picture has come for a while: what was read last is old. */
  isSilent: boolean;
  /** A saved framing was not found where it was: nothing is told until somebody says that it stands there. */
  isElsewhere: boolean;
  /** Why the recorder does not take what is read; empty where it does. */
  refused: string;
}

export interface Found {
  numbers: FoundInPicture[];
  /** Left and right exchanged it shows more; nobody but a person turns it. */
  readsMirrored: boolean;
}

/** A thread that reads, as far as it is used here. */
export type ReaderThread = Pick<Worker, 'postMessage' | 'terminate' | 'onmessage'>;

interface WatchOptions {
  thread: () => ReaderThread;
  /** @returns why it was refused; null where it was taken */
  tell: (body: SeenBody) => Promise<string | null>;
  /** Seconds. */
  now: () => number;
  /** Why nothing can be read, in words for whoever looks at the recorder. */
  why: (state: DisplayState) => string;
  /** The same where the display is not where it was framed. */
  elsewhere: string;
  /** The same where no picture comes. */
  silent: string;
}

const nothing: WatchSnapshot = {
  state: null,
  reading: null,
  picturesPerSecond: 0,
  delayS: null,
  isSilent: false,
  isElsewhere: false,
  refused: '',
};

/**
 * Hands pictures to the thread that reads, one at a time, and what was read to the recorder, in order, a few times a second. What
 * could not be told waits: its times hold.
 */
export class DisplayWatch {
  private readonly thread: ReaderThread;
  private readonly by = crypto.randomUUID();
  private readonly listeners = new Set<() => void>();
  private current = nothing;
  /** The thread knows what to read: it answers nothing before. */
  private isFramed = false;
  private isReading = false;
  private isTelling = false;
  private waiting: SeenBody['samples'] = [];
  private instrument: string | null = null;
  private found: ((found: Found) => void) | null = null;
  private taken: number[] = [];
  private lastTaken = -Infinity;
  private readonly timer: ReturnType<typeof setInterval>;

  constructor(private readonly options: WatchOptions) {
    this.thread = options.thread();
    this.thread.onmessage = ({ data }: MessageEvent<FromReader>) => this.heard(data);
    this.timer = setInterval(() => {
      this.listen();
      void this.tell();
    }, settings.tellEveryMs);
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  readonly snapshot = (): WatchSnapshot => this.current;

  close(): void {
    clearInterval(this.timer);
    this.thread.terminate();
  }

  /** @param instrument that the recorder is told about; null tells nobody */
  watch(framing: Framing, isKept: boolean, instrument: string | null): void {
    this.instrument = instrument;
    this.waiting = [];
    this.isFramed = true;
    this.ask({ kind: 'framing', framing, isKept });
    this.change({ state: null, reading: null, isElsewhere: false, refused: '' });
  }

  /** Somebody has looked: the display stands where it was framed. */
  standsThere(): void {
    this.change({ isElsewhere: false });
  }

  /** Whether a picture that is there now would be read. */
  isDue(now: number): boolean {
    return this.isFramed && !this.isReading && this.found === null && now - this.lastTaken >= settings.minSpacingS;
  }

  /** @param t when it was taken, on the page's clock */
  take(t: number, picture: ImageBitmap): void {
    this.isReading = true;
    this.lastTaken = this.options.now();
    this.ask({ kind: 'picture', t, picture });
  }

  /**
   * Looks for numbers in pictures of one display; nothing else is read meanwhile.
   *
   * @param isMirrored left and right are exchanged, as a person says
   */
  find(pictures: ImageBitmap[], isMirrored: boolean): Promise<Found> {
    return new Promise((resolve) => {
      this.found = resolve;
      this.ask({ kind: 'find', pictures, isMirrored });
    });
  }

  private ask(message: ToReader): void {
    const carried = 'picture' in message ? [message.picture] : 'pictures' in message ? message.pictures : [];
    this.thread.postMessage(message, carried);
  }

  private heard(message: FromReader): void {
    if (message.kind === 'found') {
      this.found?.(message);
      this.found = null;
    } else if (message.kind === 'again') this.change({ isElsewhere: !message.isFound });
    else this.read(message);
  }

  private read({ t, reading, state }: Extract<FromReader, { kind: 'read' }>): void {
    const now = this.options.now();
    this.isReading = false;
    this.taken = [...this.taken.filter((at) => at > now - settings.rateOverS), now];
    if (reading?.isSample && this.instrument !== null && !this.current.isElsewhere)
      this.waiting = [...this.waiting, [reading.t, reading.volts, reading.amps] as const].slice(
        -settings.maxWaiting,
      ) as SeenBody['samples'];
    this.change({
      state,
      reading,
      isSilent: false,
      picturesPerSecond: this.taken.length / settings.rateOverS,
      delayS: Math.max(0, now - t),
    });
  }

  /** Whether pictures still come; what was read before they stopped is not what the display shows now. */
  private listen(): void {
    const last = this.taken.at(-1);
    // While numbers are looked for nothing is read, and nothing is missing.
    const isSilent = last !== undefined && this.found === null && this.options.now() - last > settings.silentS;
    if (isSilent !== this.current.isSilent) this.change({ isSilent, ...(isSilent && { picturesPerSecond: 0 }) });
  }

  private async tell(): Promise<void> {
    const { state } = this.current;
    if (this.instrument === null || this.isTelling || state === null) return;
    this.isTelling = true;
    const samples = this.waiting;
    this.waiting = [];
    const { stepV: volts, stepA: amps } = state;
    const at = this.options.now();
    const body = { instrument: this.instrument, by: this.by, at, samples, steps: { volts, amps } };
    try {
      this.change({ refused: (await this.options.tell({ ...body, why: this.whyNot(state) })) ?? '' });
    } catch {
      // Told with the next: nothing of it is lost while this page is open.
      this.waiting = [...samples, ...this.waiting].slice(-settings.maxWaiting);
      this.change({ refused: 'The server could not be reached. Readings are sent once it is back.' });
    }
    this.isTelling = false;
  }

  private whyNot(state: DisplayState): string {
    if (this.current.isSilent) return this.options.silent;
    return this.current.isElsewhere ? this.options.elsewhere : this.options.why(state);
  }

  private change(part: Partial<WatchSnapshot>): void {
    this.current = { ...this.current, ...part };
    this.listeners.forEach((listener) => listener());
  }
}
