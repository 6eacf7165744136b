/** One reader of a stream of events, for as long as it listens. */
export interface EventWriter {
  /** Whole events, as text. What is written to a reader that has gone ends the stream. */
  write(text: string): void;
  /** Does something when the reader goes; at once where it has gone already. */
  atEnd(end: () => void): void;
  readonly isOver: boolean;
}

const headers = { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' };

/** An answer that is a stream of events. */
export function eventAnswer(body: ReadableStream<Uint8Array> | string): Response {
  return new Response(body, { headers });
}

/**
 * A stream of server-sent events that lasts until its reader goes.
 *
 * @param beatMs how often a comment says that we are still there, milliseconds
 * @param begin writes from now on, and says what is to be undone at the end
 * @see HTML Living Standard, section 9.2, Server-sent events
 */
export function eventStream(
  signal: AbortSignal,
  beatMs: number,
  begin: (writer: EventWriter) => void,
): ReadableStream<Uint8Array> {
  const encoder = new TextEncoder();
  const ends: (() => void)[] = [];
  let isOver = signal.aborted;
  const stop = (): void => {
    isOver = true;
    for (const end of ends.splice(0)) end();
  };
  return new ReadableStream({
    start(controller) {
      const writer: EventWriter = {
        write: (text) => {
          if (isOver) return;
          try {
            controller.enqueue(encoder.encode(text));
          } catch {
            stop();
          }
        },
        atEnd: (end) => void (isOver ? end() : ends.push(end)),
        get isOver() {
          return isOver;
        },
      };
      const beat = setInterval(() => writer.write(': beat\n\n'), beatMs);
      writer.atEnd(() => clearInterval(beat));
      signal.addEventListener('abort', () => {
        stop();
        try {
          controller.close();
        } catch {
          // The reader closed it before.
        }
      });
      begin(writer);
    },
    cancel: stop,
  });
}
