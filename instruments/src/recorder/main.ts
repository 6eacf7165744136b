import { join } from 'node:path';
import pino from 'pino';
import { Guard } from '../watchdog/guard.ts';
import { HangWatch } from './hang-watch.ts';
import { hungFile } from './left-out.ts';
import { Recorder } from './recorder.ts';
import type { SimulatedPorts } from './roster.ts';

/** How long a stop waits for the database before what is held is given up. */
const patienceMs = 20_000;

function setting(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set; the recorder is started by "npm run demo" or "npm start"`);
  return value;
}

const log = pino({ name: 'recorder' });
const main = async (): Promise<void> => {
  const folder = setting('UMBRAL_RECORDER_FOLDER');
  const simulated = process.env.UMBRAL_SIMULATED;
  const hang = new HangWatch(join(__dirname, 'hang-worker.js'), hungFile(folder));
  const recorder = new Recorder({
    during: hang.during,
    record: setting('DATABASE_URL'),
    token: setting('UMBRAL_RECORDER_TOKEN'),
    port: Number(process.env.UMBRAL_RECORDER_PORT ?? 0),
    dialectFolder: setting('UMBRAL_DIALECTS'),
    folder,
    guard: new Guard(join(__dirname, '../watchdog/main.js'), join(folder, 'watchdog.ndjson')),
    simulated: simulated ? (JSON.parse(simulated) as SimulatedPorts) : null,
  });
  let isStopping = false;
  const stop = (): void => {
    if (isStopping) return;
    isStopping = true;
    void recorder.stop(AbortSignal.timeout(patienceMs)).then(() => process.exit(0));
  };
  process.once('SIGTERM', stop);
  process.once('SIGINT', stop);
  // Whoever started it is gone, however that came about: nobody supervises any more.
  process.once('disconnect', stop);
  const port = await recorder.start();
  log.info({ port, interrupted: recorder.interrupted }, 'recording can begin');
  // For whoever started it.
  process.send?.({ port });
};

main().catch((error: unknown) => {
  log.fatal(error instanceof Error ? error : { problem: String(error) }, 'the recorder ended');
  process.exitCode = 1;
  setTimeout(() => process.exit(1), 200);
});
