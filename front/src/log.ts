import { join } from 'node:path';
import pino, { type Logger } from 'pino';

/** The log of a process: files that are rolled over where a folder is given, otherwise what matters on the terminal. */
export function logOf(name: string, env: NodeJS.ProcessEnv): Logger {
  const { UMBRAL_LOGS: folder, LOG_LEVEL } = env;
  if (!folder) return pino({ name, level: LOG_LEVEL ?? 'warn' }, pino.destination(2));
  const options = { file: join(folder, name), extension: '.log', size: '10m', limit: { count: 5 }, mkdir: true };
  return pino({ name, level: LOG_LEVEL ?? 'info' }, pino.transport({ target: 'pino-roll', options }));
}
