import knex, { type Knex } from 'knex';
import { DatabaseLink, type LinkEvents, type LinkState } from './database-link.ts';
import { DatabaseKeeper, markInterruptedOf, type Keeper } from '../store/keeper.ts';
import { loadKept, type KeptBench } from './roster.ts';

/** How a recorder stands to whoever keeps the record. */
export interface Link {
  readonly state: LinkState;
  /** In words; empty while the record is ours to write. */
  readonly why: string;
  /** Resolves after the first attempt, whatever came of it. */
  start(): Promise<void>;
  stop(): Promise<void>;
}

/** Where a recorder's record is kept: a database that it reaches itself, or a server elsewhere. */
export interface Backend {
  readonly keeper: Keeper;
  link(events: LinkEvents): Link;
  loadKept(): Promise<KeptBench>;
  /**
   * Ends recordings that an earlier recorder left open.
   *
   * @param live those that go on
   * @returns their ids
   */
  endLeft(live: readonly number[]): Promise<number[]>;
  close(): Promise<void>;
}

/** The record in a database of one's own. */
export class DatabaseBackend implements Backend {
  private readonly db: Knex;
  readonly keeper: Keeper;

  constructor(private readonly url: string) {
    this.db = knex({ client: 'pg', connection: url, pool: { min: 0, max: 6 }, acquireConnectionTimeout: 3000 });
    this.keeper = new DatabaseKeeper(this.db);
  }

  link(events: LinkEvents): Link {
    return new DatabaseLink(this.url, events);
  }

  loadKept(): Promise<KeptBench> {
    return loadKept(this.db);
  }

  endLeft(live: readonly number[]): Promise<number[]> {
    return markInterruptedOf(this.db, null, live);
  }

  close(): Promise<void> {
    return this.db.destroy();
  }
}
