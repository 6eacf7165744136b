import { connect, createServer, type Socket } from 'node:net';

/** A way to a server that can be cut, as if the server went away, and given back. */
export class CuttableWay {
  private readonly open = new Set<Socket>();
  private isCut = false;
  private readonly server = createServer((near) => {
    if (this.isCut) return near.destroy();
    const far = connect(this.to.port, this.to.host);
    for (const socket of [near, far]) {
      this.open.add(socket);
      socket.on('error', () => socket.destroy());
      socket.on('close', () => {
        this.open.delete(socket);
        near.destroy();
        far.destroy();
      });
    }
    near.pipe(far);
    far.pipe(near);
  });

  constructor(private readonly to: { host: string; port: number }) {}

  async listen(): Promise<number> {
    await new Promise<void>((resolve) => this.server.listen(0, '127.0.0.1', () => resolve()));
    const address = this.server.address();
    return typeof address === 'object' && address ? address.port : 0;
  }

  cut(): void {
    this.isCut = true;
    this.open.forEach((socket) => socket.destroy());
  }

  giveBack(): void {
    this.isCut = false;
  }

  async close(): Promise<void> {
    this.cut();
    await new Promise((resolve) => this.server.close(resolve));
  }
}
