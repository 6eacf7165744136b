import type { IncomingMessage, Server, ServerResponse } from 'node:http';
import type { BlockList, Socket } from 'node:net';
import { isTrusted } from './address.ts';
import policy from './policy.json';

/** Beyond this a connection is sending something, such as a file: it is ended last. Bytes. */
const muchBytes = 16_384;

/**
 * Bounds how many connections of one address may wait for the rest of a request, or between two: at one more, the one that
 * waits longest is ended, so that nobody's half requests keep others out. A proxy that is trusted speaks for many.
 *
 * @param event of the server: a connection, or one whose handshake is over
 */
export function boundUnfinished(server: Server, event: 'connection' | 'secureConnection', trusted: BlockList): void {
  const waiting = new Map<string, Set<Socket>>();
  const leave = (socket: Socket, address: string): void => {
    const of = waiting.get(address);
    of?.delete(socket);
    if (of?.size === 0) waiting.delete(address);
  };
  const enter = (socket: Socket, address: string): void => {
    const of = waiting.get(address) ?? new Set();
    of.delete(socket);
    waiting.set(address, of.add(socket));
    if (of.size <= policy.unfinishedPerAddress) return;
    // In the order in which they came. Never the newest: it has had no time to say what it wants.
    const others = [...of].slice(0, -1);
    const ended = others.find((s) => s.bytesRead < muchBytes) ?? others[0];
    leave(ended, address);
    ended.destroy();
  };
  server.on(event, (socket: Socket) => {
    const address = socket.remoteAddress;
    if (address === undefined || isTrusted(address, trusted)) return;
    enter(socket, address);
    socket.once('close', () => leave(socket, address));
  });
  server.on('request', (request: IncomingMessage, response: ServerResponse) => {
    const { socket } = request;
    const address = socket.remoteAddress;
    if (address === undefined || isTrusted(address, trusted)) return;
    const isWhole =
      request.headers['transfer-encoding'] === undefined && Number(request.headers['content-length'] ?? 0) === 0;
    if (isWhole) leave(socket, address);
    else request.once('end', () => leave(socket, address));
    response.once('finish', () => !socket.destroyed && enter(socket, address));
  });
}
