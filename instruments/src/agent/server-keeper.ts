import { KeeperRefusal, type BenchEvent, type Keeper, type RecordingOf } from '../recorder/index.ts';
import type { StoredBlock } from '../store/samples.ts';
import type { Notes } from '../store/spool.ts';
import { ServerProblem, type Server } from './server.ts';

/** Answers that asking again does not change. */
const forGood = new Set([400, 404, 409, 413, 422]);

/** Keeps recordings at a server elsewhere. */
export class ServerKeeper implements Keeper {
  constructor(
    private readonly server: Server,
    private readonly lease: string,
  ) {}

  begin(instrumentKey: string, of: RecordingOf, startedAt: Date, key?: string): Promise<number> {
    return this.keep({ does: 'begin', instrument: instrumentKey, of, startedAt: startedAt.toISOString(), key });
  }

  block(id: number, seq: number, { samples, ...block }: StoredBlock): Promise<void> {
    return this.keep({ does: 'block', id, seq, block: { ...block, samples: samples.toString('base64') } });
  }

  notes(id: number, { markers, gaps, setTo }: Notes): Promise<void> {
    return this.keep({ does: 'notes', id, markers, gaps, setTo });
  }

  end(id: number, state: 'finished' | 'interrupted', at: Date, problem: string | null): Promise<void> {
    return this.keep({ does: 'end', id, state, at: at.toISOString(), problem });
  }

  event(event: BenchEvent): Promise<void> {
    return this.keep({ does: 'event', event });
  }

  private async keep<T>(what: object): Promise<T> {
    try {
      return await this.server.post<T>('/api/bench/keep', { lease: this.lease, ...what });
    } catch (error) {
      if (error instanceof ServerProblem && error.status !== null && forGood.has(error.status))
        throw new KeeperRefusal(error.message);
      throw error;
    }
  }
}
