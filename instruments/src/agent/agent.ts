import { randomUUID } from 'node:crypto';
import { mkdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ValidationError } from 'yup';
import { writeWhole } from '../../plain/write-whole.cjs';
import { Refusal } from '../http.ts';
import type { Backend } from '../recorder/backend.ts';
import { Recorder } from '../recorder/index.ts';
import type { KeptBench } from '../recorder/roster.ts';
import type { Guard } from '../watchdog/guard.ts';
import { Server, ServerProblem, type ServerAccess } from './server.ts';
import { ServerKeeper } from './server-keeper.ts';
import { ServerLink, type Command } from './server-link.ts';
import { Uplink } from './uplink.ts';

export interface AgentOptions extends ServerAccess {
  /** As it stands on the screens. */
  name: string;
  /** For what is kept while the server is away. */
  folder: string;
  say: (text: string) => void;
  /** Who switches off when this process dies; null for tests of the rest. */
  guard?: Guard | null;
}

/** By what a server knows this bench's folder again after a restart; one process at a time has the folder. */
function leaseOf(folder: string): string {
  const path = join(folder, 'lease');
  try {
    const known = readFileSync(path, 'utf8').trim();
    if (/^[\w-]{8,80}$/.test(known)) return known;
  } catch {
    // There is none yet.
  }
  const made = randomUUID();
  writeWhole(path, made);
  return made;
}

/** Beyond this the server's time is used, seconds; and beyond the other the bench's clock is said to be wrong. */
const noticedS = 0.5;
const wrongClockS = 2;

/** The recorder of a bench on a computer of its own: the same rules for outputs, the record at a server. */
export class Agent {
  private readonly lease: string;
  private readonly server: Server;
  private readonly recorder: Recorder;
  private readonly uplink: Uplink;
  private link: ServerLink | null = null;
  /** What the bench's clock has to be moved by to show the server's time, milliseconds. */
  private clockOffMs = 0;
  /** When the clock that runs evenly began, as the bench's clock was set then. */
  private readonly beganMs = Date.now() - performance.now();

  constructor(private readonly options: AgentOptions) {
    const { folder } = options;
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    this.lease = leaseOf(folder);
    this.server = new Server(options);
    this.recorder = new Recorder({
      record: this.backend(),
      token: randomUUID(),
      port: null,
      folder,
      dialectFolder: join(folder, 'dialects'),
      guard: options.guard,
      clock: {
        now: () => performance.now() / 1000,
        wall: () => new Date(this.beganMs + performance.now() + this.clockOffMs),
      },
    });
    this.uplink = new Uplink(this.server, this.lease, () => this.link?.state === 'ours');
    this.recorder.control.tell(this.uplink.reader);
  }

  /** Resolves after the first attempt to reach the server, whatever came of it. */
  async start(): Promise<void> {
    await this.recorder.start();
    this.uplink.start();
  }

  async stop(giveUp?: AbortSignal): Promise<void> {
    this.uplink.stop();
    await this.recorder.stop(giveUp);
  }

  private backend(): Backend {
    const { server, lease } = this;
    const { name, say } = this.options;
    return {
      keeper: new ServerKeeper(server, lease),
      link: (events) => {
        this.link = new ServerLink(
          server,
          {
            name,
            lease,
            say,
            greeted: ({ now }, tookMs) => this.setClock(Date.parse(now) + tookMs / 2),
            command: (command) => this.do(command),
          },
          events,
        );
        return this.link;
      },
      loadKept: () => server.post<KeptBench>('/api/bench/instruments', { lease }),
      endLeft: (live) => server.post<number[]>('/api/bench/left', { lease, live }),
      close: () => Promise.resolve(),
    };
  }

  /** Everything is stamped with the server's time; a clock that is wrong is said, and costs nothing. */
  private setClock(serverMs: number): void {
    // Held against the clock that runs evenly: the bench's own may have been set meanwhile, and a sleep stops the even one.
    const evenMs = serverMs - (this.beganMs + performance.now());
    // Two clocks that are set by the network agree better than an answer's way can tell.
    this.clockOffMs = Math.abs(evenMs) > 1000 * noticedS ? evenMs : 0;
    const off = Math.round((serverMs - Date.now()) / 1000);
    if (Math.abs(off) > wrongClockS)
      this.options.say(
        `The clock of this computer is ${Math.abs(off)} s ${off > 0 ? 'slow' : 'fast'}. The server's time is used.`,
      );
  }

  private async do({ id, path, body }: Command): Promise<void> {
    let answer: { status: number; value: unknown };
    try {
      const value = await this.recorder.control.handle(path, body);
      answer = value === undefined ? { status: 404, value: { problem: 'not found' } } : { status: 200, value };
    } catch (error) {
      const isExpected = error instanceof Refusal || error instanceof RangeError || error instanceof ValidationError;
      answer = {
        status: isExpected ? 409 : 500,
        value: { problem: error instanceof Error ? error.message : String(error) },
      };
    }
    if (id === null) return;
    await this.server.post('/api/bench/answer', { lease: this.lease, id, ...answer }).catch((error: unknown) => {
      if (!(error instanceof ServerProblem)) throw error;
    });
  }
}
