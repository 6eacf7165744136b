import { EventReader, type EventSink } from '../recorder/event-reader.ts';
import type { Server } from './server.ts';

interface Told {
  event: string;
  value: unknown;
}

interface Samples {
  recording: number;
  from: number;
  t: number[];
  v: number[];
  i: number[];
}

const everyMs = 50;
/** Without news the server is told this often that we are there. */
const idleMs = 1000;

const join = (a: Samples, b: Samples): Samples => ({
  ...a,
  t: [...a.t, ...b.t],
  v: [...a.v, ...b.v],
  i: [...a.i, ...b.i],
});

/** Events that arrived together, as few as they can be: the last state counts, and samples that follow each other are one. */
export function mergeSamples(events: readonly Told[]): Told[] {
  const out: Told[] = [];
  for (const told of events) {
    const last = out.findIndex((o) =>
      told.event === 'samples'
        ? o.event === 'samples' && (o.value as Samples).recording === (told.value as Samples).recording
        : o.event === told.event && told.event !== 'outline',
    );
    if (last < 0) out.push(told);
    else if (told.event === 'samples')
      out[last] = { event: 'samples', value: join(out[last].value as Samples, told.value as Samples) };
    else out[last] = told;
  }
  return out;
}

/** Tells the server what happens at the bench, a few times a second and never twice at once. */
export class Uplink {
  private waiting: Told[] = [];
  private busy = false;
  private sentAt = -Infinity;
  private timer: NodeJS.Timeout | null = null;
  readonly reader: EventReader;

  constructor(
    private readonly server: Server,
    private readonly lease: string,
    private readonly isOpen: () => boolean,
  ) {
    const sink: EventSink = {
      send: (event, value) => void this.waiting.push({ event, value }),
      beat: () => undefined,
      isFull: () => this.waiting.length > 400,
      end: () => undefined,
    };
    this.reader = new EventReader(sink);
  }

  start(): void {
    this.timer = setInterval(() => void this.flush(), everyMs);
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
  }

  private async flush(): Promise<void> {
    if (this.busy || !this.isOpen()) return;
    const isBusy = this.waiting.some((w) => w.event === 'samples' || w.event === 'outline');
    if (!isBusy && performance.now() - this.sentAt < idleMs) return;
    const events = mergeSamples(this.waiting);
    this.waiting = [];
    this.busy = true;
    this.sentAt = performance.now();
    try {
      await this.server.post('/api/bench/live', { lease: this.lease, events });
    } catch {
      // What was not taken is told again from what is still remembered; the record itself goes another way.
      this.reader.startAgain();
      this.waiting = [];
    } finally {
      this.busy = false;
    }
  }
}
