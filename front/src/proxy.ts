import { Agent, request as ask, type IncomingMessage, type OutgoingHttpHeaders, type ServerResponse } from 'node:http';

/** Of a connection, not of what is sent over it (RFC 9110, section 7.6.1). */
const ofConnection = ['connection', 'keep-alive', 'proxy-connection', 'te', 'trailer', 'upgrade', 'expect'];

function without(headers: OutgoingHttpHeaders, names: readonly string[]): OutgoingHttpHeaders {
  return Object.fromEntries(Object.entries(headers).filter(([name]) => !names.includes(name)));
}

/** The pages are not there: being started, or ended. */
export class PagesAway extends Error {}

/** Hands requests that came in to the process that draws the pages, and its answers back as they come. */
export class Proxy {
  private readonly agent = new Agent({ keepAlive: true });

  /** @param secret by which the pages know the door */
  constructor(
    private readonly port: number,
    private readonly secret: string,
  ) {}

  /**
   * @param body where it was read already
   * @throws {PagesAway} where nobody answers
   */
  readonly pass = (request: IncomingMessage, response: ServerResponse, body?: Buffer): Promise<void> =>
    new Promise((resolve, reject) => {
      const { method, url: path } = request;
      const asked = this.ask({ method, path, headers: request.headers });
      let isAnswered = false;
      asked.once('error', (error) => {
        // Whoever asked is gone: nobody waits for an answer, and nothing is wrong with the pages.
        if (!isAnswered && !response.destroyed) reject(new PagesAway(error.message));
        else response.destroy();
        resolve();
      });
      asked.once('response', (answer) => {
        isAnswered = true;
        // Actions answer in words, whatever happens: one that fails was never begun, because nobody could read what was sent.
        if (answer.statusCode === 500 && request.headers['next-action'] !== undefined) {
          answer.resume();
          response.writeHead(422, { 'content-type': 'text/plain' });
          response.end(
            'The server could not read this form. The page may be from another version. Reload it and try again.',
          );
          return resolve();
        }
        response.writeHead(answer.statusCode ?? 502, without(answer.headers, [...ofConnection, 'transfer-encoding']));
        answer.pipe(response);
        answer.once('error', () => response.destroy());
        answer.once('close', resolve);
      });
      // Who does not wait for the answer needs none.
      response.once('close', () => response.writableFinished || asked.destroy());
      if (body) asked.end(body);
      else request.pipe(asked);
      request.once('error', () => asked.destroy());
    });

  /** @returns the status of an answer; null where none came */
  status(method: string, path: string, headers: OutgoingHttpHeaders, body: Buffer): Promise<number | null> {
    return new Promise((resolve) => {
      const asked = this.ask({ method, path, headers });
      asked.once('error', () => resolve(null));
      asked.once('response', (answer) => {
        answer.resume();
        resolve(answer.statusCode ?? null);
      });
      asked.end(body);
    });
  }

  private ask(of: { method?: string; path?: string; headers: OutgoingHttpHeaders }) {
    const headers = { ...without(of.headers, ofConnection), 'x-umbral-door': this.secret };
    return ask({ ...of, host: '127.0.0.1', port: this.port, agent: this.agent, headers });
  }
}
