import { spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { dirname, join } from 'node:path';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..', '..');

/** Where what the populations show is kept; every program that is started from here looks there. */
export const worldsFolder = join(root, 'core', 'dist', 'worlds');
process.env.UMBRAL_WORLDS = worldsFolder;

export function say(text) {
  process.stdout.write(`${text}\n`);
}

/** Runs a program to its end; resolves with its exit code. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: 'inherit', ...options });
    child.on('error', reject);
    child.on('close', (code, signal) => resolve(code ?? (signal ? 1 : 0)));
  });
}

/** Runs a program to its end and gives what it printed. */
export function capture(command, args, options = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
    let out = '';
    child.stdout.on('data', (d) => (out += d));
    child.stderr.on('data', (d) => (out += d));
    child.on('error', (error) => resolve({ code: 127, out: String(error) }));
    child.on('close', (code) => resolve({ code: code ?? 1, out }));
  });
}

export class Problem extends Error {}

/** Ends a script with a sentence instead of a stack for what a user can mend. */
export function main(work) {
  work().catch((error) => {
    process.stderr.write(
      error instanceof Problem ? `\n${error.message}\n` : `\n${error?.stack ?? error}\n${error?.cause?.stack ?? ''}\n`,
    );
    process.exit(1);
  });
}
