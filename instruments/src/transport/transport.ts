import { LineCutter } from './lines.ts';

/** An open way to an instrument. */
export interface Connection {
  /** Sends bytes, or the characters of a text as one byte each. */
  send(data: string | Uint8Array): void;
  /** Ends the connection; `closed` is called once, whoever ended it. */
  close(): void;
}

export interface ConnectionEvents {
  /**
   * What arrived, in whatever pieces it arrives in.
   *
   * @param ageS how long ago, seconds, where it was passed on; left out for now
   */
  data(piece: Uint8Array, ageS?: number): void;
  /** So many bytes arrived that nobody had time for: what comes next does not follow on what came before. */
  left?(bytes: number): void;
  /** @param reason in words; null where it was closed from here */
  closed(reason: string | null): void;
}

/** How an instrument is reached. */
export interface Transport {
  /** In words, for messages. */
  readonly where: string;
  /** Bytes come as on a serial line: what speaks registers there frames them with a checksum. */
  readonly isSerial?: boolean;
  /** The line itself, where several instruments with addresses of their own may be on it; left out where each has its own. */
  readonly line?: string;
  /** @throws {ConnectionProblem} where it cannot be reached */
  connect(events: ConnectionEvents): Promise<Connection>;
}

/** Events of a connection of which every line is told by itself, one character a byte. */
export function lineEvents(line: (line: string) => void, closed: ConnectionEvents['closed']): ConnectionEvents {
  const cutter = new LineCutter(line);
  return { data: (piece) => cutter.push(textOf(piece)), left: () => cutter.skip(), closed };
}

/** The characters of bytes, one each (Latin-1). */
export const textOf = (bytes: Uint8Array): string => String.fromCharCode(...bytes);

/** The bytes of a text of one byte a character (Latin-1). */
export const bytesOf = (data: string | Uint8Array): Uint8Array =>
  typeof data === 'string' ? Uint8Array.from(data, (c) => c.charCodeAt(0)) : data;

/** An instrument that cannot be reached, or that was lost. */
export class ConnectionProblem extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'ConnectionProblem';
  }
}
