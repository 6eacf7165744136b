import { createServer } from 'node:net';

function listens(port) {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', () => resolve(null));
    server.listen({ port, host: '127.0.0.1' }, () => {
      const { port: taken } = server.address();
      server.close(() => resolve(taken));
    });
  });
}

/** The wanted port where it is free, else any free one. */
export async function freePort(wanted = 0) {
  return (await listens(wanted)) ?? (await listens(0));
}

export async function isFree(port) {
  return (await listens(port)) !== null;
}

/** Waits a little for a port that a process is about to give back. */
export async function becomesFree(port, ms = 5000) {
  for (let waited = 0; waited < ms; waited += 250) {
    if (await isFree(port)) return true;
    await new Promise((resolve) => setTimeout(resolve, 250));
  }
  return isFree(port);
}
