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
  const name = (given.split(/[/\\]/).at(-1) ?? '').replace(/[\u0000-\u001f\u007f]/g, '').slice(0, 200);
  return name || 'log.csv';
}

export function jsonParam(request: Request, key: string): unknown {
  const text = new URL(request.url).searchParams.get(key);
  if (text === null) return null;
  try {
    return JSON.parse(text);
  } catch {
    throw new ExpectedError('input', `${key}: expected JSON`);
  }
}

/** The number in a path. */
export function idOf(text: string): number {
  const id = Number(text);
  if (!/^\d{1,9}$/.test(text) || id === 0)
    throw new ExpectedError('missing', `There is no job "${text.slice(0, 20)}".`);
  return id;
}

/** Only pages of this application may change anything: a foreign page's request names another origin. */
export function refuseForeign(request: Request): void {
  const origin = request.headers.get('origin');
  const host = request.headers.get('host');
  if (origin !== null && host !== null && new URL(origin).host !== host)
    throw new ExpectedError('input', 'This request comes from another site.');
}
