import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdirSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { endOf, endProcess, keepRunning } from './keep.mjs';
import { Problem, root, say } from './run.mjs';

const { holderOf } = createRequire(import.meta.url)('../../instruments/plain/lock.cjs');
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
  const end = once(child, 'exit').then(() => null);
  const first = await Promise.race([once(child, 'message'), end]);
  if (first === null) throw new Problem(`${program} ended while starting.`);
  return { child, said: first[0], ended: endOf(child), stop: stopOf(child) };
}

/**
 * A supply, a meter and a device that are not there, on free ports, and on the same whenever they have to be started again.
 *
 * @param timeFactor how much faster than time it runs; its recorder is given the same
 */
export async function startSimulatedBench(changed, timeFactor = 1) {
  let ports = {};
  const { now, stop, restart } = await keepRunning(
    'The simulated bench',
    () =>
      begin('simulated/main.js', {
        UMBRAL_SIMULATED_PORTS: JSON.stringify(ports),
        UMBRAL_TIME_FACTOR: String(timeFactor),
      }),
    changed,
  );
  ports = now().said;
  return { ports, restart, stop };
}

/**
 * Starts the recorder, and starts it again whenever it dies, on the same port so that nobody has to be told. One that an
 * earlier start left behind is ended first: it switches off what it holds.
 *
 * @returns what the web application needs to reach it, its process id, and a way to stop it
 */
export async function startRecorder({ folder, databaseUrl, bench, timeFactor = 1, changed }) {
  const own = join(folder, 'recorder');
  mkdirSync(own, { recursive: true });
  let port = 0;
  const kept = await keepRunning(
    'The recorder',
    async () => {
      const left = await holderOf('recorder', own);
      if (left) {
        say(`A recorder from an earlier start is still running (process ${left.pid}). Stopping it.`);
        await endProcess(left.pid);
      }
      return begin('recorder/main.js', {
        DATABASE_URL: process.env.DATABASE_DIRECT_URL ?? databaseUrl,
        UMBRAL_RECORDER_PORT: String(port),
        UMBRAL_RECORDER_FOLDER: own,
        UMBRAL_DIALECTS: join(folder, 'dialects'),
        UMBRAL_TIME_FACTOR: String(timeFactor),
        UMBRAL_SIMULATED: bench ? JSON.stringify(bench.ports) : '',
      });
    },
    changed,
  );
  ({ port } = kept.now().said);
  return {
    env: {
      UMBRAL_RECORDER_URL: `http://127.0.0.1:${port}`,
      UMBRAL_RECORDER_TOKEN: token,
      ...(bench ? { UMBRAL_OPERATOR_URL: `http://127.0.0.1:${bench.ports.operator}` } : {}),
    },
    pid: () => kept.now().child.pid,
    restart: kept.restart,
    stop: kept.stop,
  };
}
