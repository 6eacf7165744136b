/** Says what a server answers that refuses, or that it is not there. */
export class ServerProblem extends Error {
  /** @param status null where it was not reached at all */
  constructor(
    message: string,
    readonly status: number | null,
  ) {
    super(message);
    this.name = 'ServerProblem';
  }
}

export interface ServerAccess {
  server: string;
  token: string;
}

const answerTimeoutMs = 8000;

/** The server of a bench, as its recorder speaks to it. */
export class Server {
  constructor(private readonly access: ServerAccess) {}

  /**
   * Tells the server something.
   *
   * @throws {ServerProblem} with what it refuses, or that it is not there
   */
  async post<T>(path: string, body: unknown): Promise<T> {
    const answer = await this.fetch(path, {
      method: 'POST',
      body: JSON.stringify(body),
      signal: AbortSignal.timeout(answerTimeoutMs),
    });
    return ((await answer.json()) as { value: T }).value;
  }

  /** A stream of events, until it breaks or is cancelled. */
  async stream(path: string): Promise<ReadableStream<Uint8Array>> {
    // The time is for the answer to begin; how long it goes on is for whoever reads it.
    const begin = new AbortController();
    const timer = setTimeout(() => begin.abort(), answerTimeoutMs);
    const answer = await this.fetch(path, { signal: begin.signal }).finally(() => clearTimeout(timer));
    if (!answer.body) throw new ServerProblem('the server sends no data', answer.status);
    return answer.body as ReadableStream<Uint8Array>;
  }

  private async fetch(path: string, options: RequestInit): Promise<Response> {
    const headers = { authorization: `Bearer ${this.access.token}`, 'content-type': 'application/json' };
    let answer: Response;
    try {
      answer = await fetch(this.access.server + path, { ...options, headers, redirect: 'error' });
    } catch (error) {
      const { cause, message } = error as Error & { cause?: Error };
      throw new ServerProblem(`the server cannot be reached: ${cause?.message ?? message}`, null);
    }
    if (answer.ok) return answer;
    const said = (await answer.json().catch(() => ({}))) as { message?: string };
    throw new ServerProblem(said.message ?? `the server answered ${answer.status}`, answer.status);
  }
}
