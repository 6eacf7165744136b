import { eventStream, type EventWriter } from './event-stream.ts';

function opened(beatMs = 10_000) {
  const abort = new AbortController();
  let writer: EventWriter | null = null;
  const ended = jest.fn();
  const stream = eventStream(abort.signal, beatMs, (w) => {
    writer = w;
    w.atEnd(ended);
    w.write('data: 1\n\n');
  });
  return { abort, writer: writer as unknown as EventWriter, ended, reader: stream.getReader() };
}
const textOf = async (reader: ReadableStreamDefaultReader<Uint8Array>): Promise<string> =>
  new TextDecoder().decode((await reader.read()).value);

describe('a stream of events', () => {
  test('gives what is written, and undoes once what was begun when the reader goes', async () => {
    const { writer, ended, reader } = opened();
    expect(await textOf(reader)).toBe('data: 1\n\n');
    await reader.cancel();
    expect(ended).toHaveBeenCalledTimes(1);
    expect(writer.isOver).toBe(true);
    writer.write('data: 2\n\n');
    const late = jest.fn();
    writer.atEnd(late);
    expect(late).toHaveBeenCalledTimes(1);
    expect(ended).toHaveBeenCalledTimes(1);
  });

  test('ends with the request', async () => {
    const { abort, ended, reader } = opened();
    await textOf(reader);
    abort.abort();
    expect((await reader.read()).done).toBe(true);
    expect(ended).toHaveBeenCalledTimes(1);
  });

  test('says now and then that it is still there', async () => {
    const { reader } = opened(5);
    expect([await textOf(reader), await textOf(reader)]).toEqual(['data: 1\n\n', ': beat\n\n']);
    await reader.cancel();
  });
});
