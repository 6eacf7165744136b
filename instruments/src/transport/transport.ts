/** An open way to an instrument. */
export interface Connection {
  /** Sends a text as it is; the caller ends the line. */
  send(text: string): void;
  /** Ends the connection; `closed` is called once, whoever ended it. */
  close(): void;
}

export interface ConnectionEvents {
  line(line: string): void;
  /** @param reason in words; null where it was closed from here */
  closed(reason: string | null): void;
}

/** How an instrument is reached. */
export interface Transport {
  /** In words, for messages. */
  readonly where: string;
  /** @throws {ConnectionProblem} where it cannot be reached */
  connect(events: ConnectionEvents): Promise<Connection>;
}

/** An instrument that cannot be reached, or that was lost. */
export class ConnectionProblem extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'ConnectionProblem';
  }
}
