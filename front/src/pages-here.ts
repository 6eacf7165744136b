import { join } from 'node:path';
import next from 'next';

/** The pages as they are being worked on, drawn in this process. */
export async function pagesHere(port: number, hostname: string) {
  const app = next({ dev: true, dir: join(__dirname, '../../web'), hostname, port });
  await app.prepare();
  const handler = app.getRequestHandler();
  return { handler, upgrade: app.getUpgradeHandler() };
}
