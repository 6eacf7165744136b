import { rmSync, writeFileSync } from 'node:fs';
import { workerData } from 'node:worker_threads';
import { beats, keyLength, pieces, sharedIn } from './hang-watch.ts';

/** The second thread: see {@link HangWatch}. It counts its own turns, so that a process that was stopped as a whole hung on nothing. */
const { memory, file } = workerData as { memory: SharedArrayBuffer; file: string };
const { numbers, key } = sharedIn(memory);
const turnMs = 250;
/** Turns without a beat on one piece after which it is written down, in case somebody else ends the process; and after which it is ended. */
const turns = { suspect: 4, end: 40 };

let [lastBeat, lastPiece, still] = [-1, -1, 0];
setInterval(() => {
  const [beat, piece, length] = [beats, pieces, keyLength].map((at) => Atomics.load(numbers, at));
  const isStill = beat === lastBeat && piece === lastPiece && length > 0;
  if (!isStill && still >= turns.suspect) rmSync(file, { force: true });
  still = isStill ? still + 1 : 0;
  [lastBeat, lastPiece] = [beat, piece];
  if (still === turns.suspect) {
    const hung = Buffer.from(key.slice(0, length)).toString('utf8');
    writeFileSync(file, JSON.stringify({ key: hung, at: new Date().toISOString() }), { mode: 0o600 });
  }
  if (still >= turns.end) process.kill(process.pid, 'SIGKILL');
}, turnMs);
