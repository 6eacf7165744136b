import { createServer, type Server, type Socket } from 'node:net';

/** An instrument that listens on loopback, as a real one does in its network or at the end of a cable. */
export abstract class OnLoopback {
  private readonly sockets = new Set<Socket>();
  private server: Server | null = null;

  /**
   * @param port 0 for any free one
   * @returns the port that it listens on
   */
  async listen(port = 0): Promise<number> {
    const server = createServer((socket) => {
      this.sockets.add(socket);
      socket.setNoDelay(true);
      socket.on('error', () => socket.destroy());
      socket.on('close', () => this.sockets.delete(socket));
      this.connected(socket);
    });
    this.server = server;
    await new Promise<void>((resolve, reject) => {
      server.once('error', reject);
      server.listen(port, '127.0.0.1', () => resolve());
    });
    const address = server.address();
    return typeof address === 'object' && address ? address.port : port;
  }

  /** Pulls the cable; a new connection can be made at once. */
  dropConnections(): void {
    for (const socket of this.sockets) socket.destroy();
  }

  async close(): Promise<void> {
    const { server } = this;
    if (!server?.listening) return;
    await new Promise<void>((resolve) => {
      server.close(() => resolve());
      this.dropConnections();
    });
  }

  /** Somebody has connected. */
  protected abstract connected(socket: Socket): void;

  /** Sends to whoever is connected. */
  protected broadcast(bytes: string | Uint8Array): void {
    for (const socket of this.sockets) if (socket.writable) socket.write(bytes, 'latin1');
  }
}
