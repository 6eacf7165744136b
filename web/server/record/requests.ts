import { ExpectedError } from './errors.ts';

/** The body of a request, block by block. */
export async function* bodyOf(request: Request): AsyncGenerator<Uint8Array> {
  if (!request.body) return;
  const reader = request.body.getReader();
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      yield value;
    }
  } finally {
    await reader.cancel().catch(() => undefined);
  }
}

/** A file name from outside: its last step, without control characters, at most 200 characters. */
export function fileNameOf(request: Request): string {
  const given = new URL(request.url).searchParams.get('name') ?? '';
  const name = (given.split(/[/\\]/).at(-1) ?? '').replace(/\p{C}/gu, '').slice(0, 200);
  return name || 'log.csv';
}

/**
 * @throws {ExpectedError} for what is no JSON
 */
export function jsonParam(request: Request, key: string): unknown {
  const text = new URL(request.url).searchParams.get(key);
  if (text === null) return null;
  try {
    return JSON.parse(text);
  } catch {
    throw new ExpectedError('input', `${key}: expected JSON`);
  }
}

/**
 * The JSON of a request.
 *
 * @throws {ExpectedError} for what is none, or would reach behind objects
 */
export async function jsonOf(request: Request): Promise<unknown> {
  try {
    return JSON.parse(await request.text(), (key, value: unknown) => {
      if (key in Object.prototype) throw new SyntaxError(key);
      return value;
    });
  } catch {
    throw new ExpectedError('input', 'expected JSON');
  }
}

/**
 * The number in a path.
 *
 * @throws {ExpectedError} for what is no number of a job
 */
export function idOf(text: string): number {
  const id = Number(text);
  if (!/^\d{1,9}$/.test(text) || id === 0)
    throw new ExpectedError('missing', `There is no job "${text.slice(0, 20)}".`);
  return id;
}

/** A `Content-Disposition` header for a download: the name as it is, and without anything that a header may not hold. */
export function attachmentHeader(name: string): string {
  const plain = name.replace(/[^\x20-\x7e]|["\\%]/g, '_');
  return `attachment; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(name).replace(/['()*]/g, (c) => `%${c.charCodeAt(0).toString(16)}`)}`;
}
