import { createServer, type Socket } from 'node:net';
import { LineCutter, textOf } from '../transport/index.ts';

/** A line-based TCP server on loopback. */
export interface LineServer {
  port: number;
  /** Ends every connection but goes on listening, as a cable that is pulled and put back. */
  drop(): void;
  close(): Promise<void>;
}

/**
 * Listens on loopback only.
 *
 * @param port 0 for any free one
 */
export async function listenOnLoopback(
  port: number,
  onConnection: (socket: Socket, listen: (onLine: (line: string) => void) => void) => void,
): Promise<LineServer> {
  const open = new Set<Socket>();
  const server = createServer((socket) => {
    open.add(socket);
    socket.setNoDelay(true);
    socket.on('error', () => socket.destroy());
    socket.on('close', () => open.delete(socket));
    onConnection(socket, (onLine) => {
      const cutter = new LineCutter(onLine);
      socket.on('data', (piece: Buffer) => cutter.push(textOf(piece)));
    });
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve());
  });
  const address = server.address();
  const drop = (): void => open.forEach((socket) => socket.destroy());
  return {
    port: typeof address === 'object' && address ? address.port : port,
    drop,
    close: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        drop();
      }),
  };
}
