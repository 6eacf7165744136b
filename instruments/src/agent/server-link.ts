import { Pauses } from '../transport/index.ts';
import { Pause } from '../instrument/index.ts';
import type { Link } from '../recorder/backend.ts';
import type { LinkEvents, LinkState } from '../recorder/database-link.ts';
import { ServerProblem, type Server } from './server.ts';

/** What the server wants done. */
export interface Command {
  /** Null where nobody waits for an answer. */
  id: string | null;
  path: string;
  body: unknown;
}

interface Greeting {
  /** What the server's clock showed, ISO. */
  now: string;
}

/** The server beats more often than this. */
const silentMs = 6000;
/** Commands that are remembered, so that one that comes by two ways is done once. */
const remembered = 500;

interface ServerLinkOptions {
  name: string;
  lease: string;
  greeted: (greeting: Greeting, tookMs: number) => void;
  command: (command: Command) => Promise<void>;
  say: (text: string) => void;
}

/** Holds a bench's place at its server: says hello, then listens for what is to be done, and begins anew when that breaks. */
export class ServerLink implements Link {
  state: LinkState = 'away';
  why = 'not asked yet';
  private running = false;
  private done: Promise<void> = Promise.resolve();
  private readonly pause = new Pause();
  /** Ends the stream of commands; a signal that is given to fetch may be forgotten once the answer has begun. */
  private cut: () => void = () => undefined;
  private readonly seen: string[] = [];

  constructor(
    private readonly server: Server,
    private readonly options: ServerLinkOptions,
    private readonly events: LinkEvents,
    private readonly pauses = new Pauses({ min: 300, max: 4000 }),
  ) {}

  start(): Promise<void> {
    this.running = true;
    return new Promise((resolve) => {
      this.done = this.go(resolve);
    });
  }

  async stop(): Promise<void> {
    this.running = false;
    this.cut();
    this.pause.cut();
    await this.done;
  }

  private async go(tried: () => void): Promise<void> {
    while (this.running) {
      try {
        await this.hold(tried);
        this.lose('away', 'the server ended the connection');
      } catch (error) {
        const isOther = error instanceof ServerProblem && error.status === 409;
        this.lose(isOther ? 'held by another' : 'away', error instanceof Error ? error.message : String(error));
      }
      tried();
      if (this.running) await this.pause.wait(this.pauses.next());
    }
  }

  private lose(state: LinkState, why: string): void {
    const isNews = this.state === 'ours' || why !== this.why;
    [this.state, this.why] = [state, why];
    if (!this.running || !isNews) return;
    this.options.say(`Not connected: ${why}`);
    this.events.lost(state, why);
  }

  private async hold(tried: () => void): Promise<void> {
    const { name, lease } = this.options;
    const began = performance.now();
    const greeting = await this.server.post<Greeting>('/api/bench/hello', {
      name,
      lease,
      now: new Date().toISOString(),
    });
    this.options.greeted(greeting, performance.now() - began);
    if (!this.running) return;
    const stream = await this.server.stream(`/api/bench/commands?lease=${encodeURIComponent(lease)}`);
    const reader = stream.getReader();
    this.cut = () => void reader.cancel().catch(() => undefined);
    if (!this.running) return this.cut();
    // The record is there: what waited on disk is handed over before anything else is asked of us.
    this.state = 'ours';
    this.why = '';
    try {
      await this.events.gained();
    } catch (error) {
      this.cut();
      throw error;
    }
    this.pauses.reset();
    this.options.say('Connected.');
    tried();
    let timer: NodeJS.Timeout | undefined;
    const alive = (): void => {
      clearTimeout(timer);
      timer = setTimeout(() => this.cut(), silentMs);
    };
    try {
      alive();
      await this.read(reader, alive);
    } finally {
      clearTimeout(timer);
      this.cut();
    }
  }

  private async read(reader: ReadableStreamDefaultReader<Uint8Array>, alive: () => void): Promise<void> {
    const decoder = new TextDecoder();
    let text = '';
    while (this.running) {
      const { done, value } = await reader.read();
      if (done) return;
      alive();
      text += decoder.decode(value, { stream: true });
      const events = text.split('\n\n');
      text = events.pop() ?? '';
      for (const event of events) {
        const data = /^data: (.*)$/m.exec(event)?.[1];
        if (data) this.take(JSON.parse(data) as Command);
      }
    }
  }

  private take(command: Command): void {
    if (command.id !== null) {
      if (this.seen.includes(command.id)) return;
      this.seen.push(command.id);
      if (this.seen.length > remembered) this.seen.shift();
    }
    void this.options.command(command);
  }
}
