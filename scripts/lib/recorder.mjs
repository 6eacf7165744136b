import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { join } from 'node:path';
import { keepRunning } from './keep.mjs';
import { freePort } from './ports.mjs';
import { Problem, root } from './run.mjs';

const token = randomBytes(24).toString('base64url');

const stopOf = (child) => () =>
  new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null) return resolve();
    child.once('exit', () => resolve());
    child.kill('SIGTERM');
    setTimeout(() => child.kill('SIGKILL'), 25_000).unref();
  });

/** Starts a program of the instruments' workspace and waits for its first message. */
async function begin(program, env) {
  const child = fork(join(root, 'instruments/dist', program), {
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { ...process.env, UMBRAL_RECORDER_TOKEN: token, ...env },
  });
  const ended = once(child, 'exit').then(() => null);
  const first = await Promise.race([once(child, 'message'), ended]);
  if (first === null) throw new Problem(`${program} ended while it was being started.`);
  return { child, said: first[0], stop: stopOf(child) };
}

/** A supply, a meter and a device that are not there. */
export async function startSimulatedBench() {
  const { said, stop } = await begin('simulated/main.js', {});
  return { ports: said, stop };
}

/**
 * Starts the recorder, and starts it again whenever it dies, on the same port so that nobody has to be told.
 *
 * @returns what the web application needs to reach it, its process id, and a way to stop it
 */
export async function startRecorder({ folder, databaseUrl, bench }) {
  const port = await freePort(0);
  const kept = await keepRunning('The recorder', () =>
    begin('recorder/main.js', {
      DATABASE_URL: databaseUrl,
      UMBRAL_RECORDER_PORT: String(port),
      UMBRAL_DIALECTS: join(folder, 'dialects'),
      UMBRAL_SIMULATED: bench ? JSON.stringify(bench.ports) : '',
    }),
  );
  return {
    env: {
      UMBRAL_RECORDER_URL: `http://127.0.0.1:${port}`,
      UMBRAL_RECORDER_TOKEN: token,
      ...(bench ? { UMBRAL_HANDS_URL: `http://127.0.0.1:${bench.ports.hands}` } : {}),
    },
    pid: () => kept.now().child.pid,
    stop: kept.stop,
  };
}
