import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { Problem, root } from './run.mjs';

/** Starts the built web application on loopback; resolves once it answers. */
export async function startWeb({ port, databaseUrl, quiet = false, env = {} }) {
  const child = spawn(
    process.execPath,
    [join(root, 'node_modules/next/dist/bin/next'), 'start', '-H', '127.0.0.1', '-p', String(port)],
    {
      cwd: join(root, 'web'),
      stdio: quiet ? ['ignore', 'pipe', 'pipe'] : ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, DATABASE_URL: databaseUrl, NEXT_TELEMETRY_DISABLED: '1', NODE_ENV: 'production', ...env },
      detached: false,
    },
  );
  let output = '';
  child.stdout?.on('data', (d) => (output += d));
  child.stderr?.on('data', (d) => (output += d));
  let ended = false;
  child.on('close', () => (ended = true));
  const url = `http://127.0.0.1:${port}`;
  for (let n = 0; n < 300; n++) {
    if (ended) throw new Problem(`The web application ended while starting.\n${output.slice(-2000)}`);
    const answer = await fetch(`${url}/api/health`).catch(() => null);
    if (answer?.ok) {
      const stop = () =>
        new Promise((resolve) => {
          if (ended) return resolve();
          child.on('close', () => resolve());
          child.kill('SIGTERM');
          setTimeout(() => child.kill('SIGKILL'), 5000).unref();
        });
      return { url, stop, child, output: () => output };
    }
    await new Promise((f) => setTimeout(f, 200));
  }
  child.kill('SIGKILL');
  throw new Problem(`The web application does not answer on ${url}.\n${output.slice(-2000)}`);
}
