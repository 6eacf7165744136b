import settings from './bounded.json';
import type { ConnectionEvents, Transport } from './transport.ts';

/**
 * Time that may go into what instruments send, of all connections of this process together. An instrument may always have a
 * little; what it sends beyond that is read as long as there is time for it, and left out and counted after that. So nobody
 * who floods one connection takes the time of the others.
 */
export class ReadingTime {
  private windowAt = -Infinity;
  private spentMs = 0;

  /** @param now milliseconds, never going back */
  constructor(private readonly now: () => number = () => performance.now()) {}

  /** Whether there is time for more in one turn of the process: others wait for its end, however slow a single piece is. */
  turn(): () => boolean {
    const began = this.now();
    return () => this.now() - began <= settings.ownMs;
  }

  /** What one connection may have. */
  share(): (work: () => void, bytes: number) => boolean {
    let [window, bytesRead, ownMs] = [-Infinity, 0, 0];
    return (work, bytes) => {
      const began = this.now();
      if (began - this.windowAt >= settings.windowMs) [this.windowAt, this.spentMs] = [began, 0];
      if (window !== this.windowAt) [window, bytesRead, ownMs] = [this.windowAt, 0, 0];
      const isFree = bytesRead + bytes <= settings.freeBytes;
      if (!isFree && (ownMs >= settings.ownMs || this.spentMs >= settings.allMs)) return false;
      work();
      const took = this.now() - began;
      bytesRead += bytes;
      ownMs += took;
      this.spentMs += took;
      return true;
    };
  }
}

const ofThisProcess = new ReadingTime();

/** The events of a connection, told in small pieces and within the time that is there for it. */
export function boundedEvents(events: ConnectionEvents, time = ofThisProcess): ConnectionEvents {
  const inTime = time.share();
  return {
    data: (piece, ageS) => {
      const turn = time.turn();
      for (let at = 0; at < piece.length; at += settings.pieceBytes) {
        const part = piece.subarray(at, at + settings.pieceBytes);
        if (turn() && inTime(() => events.data(part, ageS), part.length)) continue;
        events.left?.(piece.length - at);
        return;
      }
    },
    closed: (reason) => events.closed(reason),
  };
}

/** A transport none of whose instruments takes more time than there is for it. */
export const bounded = (transport: Transport): Transport => ({
  where: transport.where,
  isSerial: transport.isSerial,
  line: transport.line,
  connect: (events) => transport.connect(boundedEvents(events)),
});
