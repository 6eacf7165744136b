import { fork } from 'node:child_process';
import { join } from 'node:path';
import { endOf } from './keep.mjs';
import { freePort } from './ports.mjs';
import { Problem, root } from './run.mjs';

/**
 * Starts the built web application on loopback; resolves once it answers. The database need not be there for that.
 *
 * @param port any free one where it is left out
 * @param development takes the sources as they are and reloads the pages when they change
 * @param quiet keeps what it prints for {@link output} instead of showing it
 */
export async function startWeb({ port, ...options }) {
  if (port !== undefined) return startOn(port, options);
  // The pages have to know their port before anybody listens there; one that was free a moment ago may be somebody else's now.
  for (let left = 3; ; left--) {
    try {
      return await startOn(await freePort(), options);
    } catch (error) {
      if (left === 1) throw error;
    }
  }
}

async function startOn(port, { databaseUrl, quiet = false, development = false, env = {} }) {
  const child = fork(join(root, 'front/dist/main.js'), {
    cwd: join(root, 'web'),
    stdio: ['ignore', quiet ? 'pipe' : 'ignore', quiet ? 'pipe' : 'inherit', 'ipc'],
    env: {
      ...process.env,
      DATABASE_URL: databaseUrl,
      NEXT_TELEMETRY_DISABLED: '1',
      NODE_ENV: development ? 'development' : 'production',
      UMBRAL_WEB_PORT: String(port),
      ...env,
    },
  });
  let output = '';
  child.stdout?.on('data', (d) => (output += d));
  child.stderr?.on('data', (d) => (output += d));
  const ended = endOf(child);
  const listens = new Promise((resolve) => child.once('message', () => resolve(true)));
  const late = new Promise((resolve) => setTimeout(() => resolve(false), 60_000).unref());
  const started = await Promise.race([listens, late, ended.then(() => null)]);
  if (started === null) throw new Problem(`The web application ended while starting.\n${output.slice(-2000)}`);
  if (!started) {
    child.kill('SIGKILL');
    throw new Problem(`The web application does not answer on port ${port}.\n${output.slice(-2000)}`);
  }
  const stop = async () => {
    if (child.exitCode === null && child.signalCode === null) {
      child.kill('SIGTERM');
      setTimeout(() => child.kill('SIGKILL'), 6000).unref();
    }
    await ended;
  };
  return { url: `http://127.0.0.1:${port}`, stop, ended, child, output: () => output };
}
