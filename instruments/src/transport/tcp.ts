import { createConnection } from 'node:net';
import { addressOf } from './reach.ts';
import { bytesOf, ConnectionProblem, type Connection, type ConnectionEvents, type Transport } from './transport.ts';

const connectTimeoutMs = 3000;

const reasons: Record<string, string> = {
  ECONNREFUSED: 'nothing is listening there',
  EHOSTUNREACH: 'the address cannot be reached',
  ENETUNREACH: 'the network cannot be reached',
  ENOTFOUND: 'unknown host name',
  ECONNRESET: 'the other side closed the connection',
  EPIPE: 'the other side closed the connection',
  ETIMEDOUT: 'it does not answer',
};

/**
 * Raw TCP, as most instruments with a network socket speak.
 *
 * @param networks where it may be beside this computer, as address/length
 */
export function tcpTransport(host: string, port: number, networks: readonly string[] = []): Transport {
  const where = `${host}:${port}`;
  const say = (error: NodeJS.ErrnoException): string => reasons[error.code ?? ''] ?? error.message;
  return {
    where,
    connect: async (events: ConnectionEvents) => {
      const address = await addressOf(host, networks);
      return new Promise<Connection>((resolve, reject) => {
        const socket = createConnection({ host: address, port, noDelay: true });
        let open = false;
        let reason: string | null = 'the other side closed the connection';
        const timer = setTimeout(() => {
          reject(new ConnectionProblem(`${where}: it does not answer`));
          socket.destroy();
        }, connectTimeoutMs);
        socket.on('connect', () => {
          clearTimeout(timer);
          open = true;
          resolve({
            send: (data) => void socket.write(bytesOf(data)),
            close: () => {
              reason = null;
              socket.destroy();
            },
          });
        });
        socket.on('data', (piece: Buffer) => events.data(piece));
        socket.on('error', (error) => {
          clearTimeout(timer);
          if (open) reason = say(error);
          else reject(new ConnectionProblem(`${where}: ${say(error)}`));
        });
        socket.on('close', () => {
          clearTimeout(timer);
          if (open) events.closed(reason);
        });
      });
    },
  };
}
