import { createReadStream, createWriteStream } from 'node:fs';
import { rename, rm, stat } from 'node:fs/promises';
import { basename } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { ReadableStream } from 'node:stream/web';

/** An Umbral that runs elsewhere, and the token that lets a program in. */
interface Access {
  server: string;
  token: string;
}

async function ask(access: Access, path: string, options: RequestInit = {}): Promise<Response> {
  const headers = { authorization: `Bearer ${access.token}` };
  let answer: Response;
  try {
    answer = await fetch(access.server + path, { ...options, headers, redirect: 'error' });
  } catch (error) {
    const { cause } = error as { cause?: Error };
    throw new Error(`${access.server} cannot be reached: ${cause?.message ?? String(error)}`);
  }
  if (answer.ok) return answer;
  const said = (await answer.json().catch(() => ({}))) as { message?: string };
  throw new Error(said.message ?? `${access.server} answers ${answer.status}`);
}

/**
 * Sends a case package.
 *
 * @returns the number of the job that was made of it
 * @throws {Error} with what the server refuses, or that it is not there
 */
export async function push(access: Access, path: string): Promise<number> {
  const { size } = await stat(path);
  const body = Readable.toWeb(createReadStream(path)) as unknown as BodyInit;
  const name = encodeURIComponent(basename(path));
  const options = { method: 'POST', body, duplex: 'half', headers: { 'content-length': String(size) } };
  const answer = await ask(access, `/api/packages?name=${name}`, options as RequestInit);
  return ((await answer.json()) as { value: number }).value;
}

/**
 * Writes a job as a case package.
 *
 * @param out nothing is there before all of it has come
 * @throws {Error} with what the server refuses, or that it is not there
 */
export async function pull(access: Access, job: number, out: string): Promise<void> {
  const answer = await ask(access, `/api/jobs/${job}/package`);
  const beside = `${out}.part`;
  try {
    await pipeline(Readable.fromWeb(answer.body as ReadableStream), createWriteStream(beside));
    await rename(beside, out);
  } catch (error) {
    await rm(beside, { force: true });
    throw error;
  }
}
