import { say } from './run.mjs';

const firstPauseMs = 500;
const maxPauseMs = 10_000;
/** What ran for this long was well: the next pause is short again. */
const wellAfterMs = 30_000;

const pauseFor = (ms) => new Promise((resolve) => setTimeout(resolve, ms));
const inWords = (ms) => `${ms < 1000 ? ms / 1000 : Math.round(ms / 1000)} s`;

/**
 * Starts something, and starts it again with growing pauses whenever it ends by itself. What is said is what is: that it
 * ended, when it is tried again, and that it works again only when it does.
 *
 * @param name in words, for who reads along
 * @param begin starts it; resolves once it works with a promise of its end (`ended`, resolving with why) and a way to `stop` it
 * @param changed told of every change before it is said: `{ state: 'runs' | 'ended', why, restarts }`
 * @returns what is running now, and ways to start it again and to end it for good
 */
export async function keepRunning(name, begin, changed = () => undefined) {
  let stopping = false;
  let restarts = 0;
  let pause = firstPauseMs;
  let startedAt = Date.now();
  let now = await begin();
  changed({ state: 'runs', why: '', restarts });
  const again = async () => {
    for (;;) {
      say(`${name} restarts in ${inWords(pause)}.`);
      await pauseFor(pause);
      pause = Math.min(maxPauseMs, 2 * pause);
      if (stopping) return;
      try {
        now = await begin();
        restarts++;
        startedAt = Date.now();
        if (stopping) return now.stop();
        changed({ state: 'runs', why: '', restarts });
        say(`${name} works again.`);
        return watch();
      } catch (error) {
        changed({ state: 'ended', why: error.message, restarts });
        say(`${name} could not be started: ${error.message}`);
      }
    }
  };
  const watch = () =>
    void now.ended.then((why) => {
      if (stopping) return;
      if (Date.now() - startedAt > wellAfterMs) pause = firstPauseMs;
      changed({ state: 'ended', why, restarts });
      say(`${name} ended (${why}).`);
      return again();
    });
  watch();
  return {
    now: () => now,
    /** Ends it; it is started again as after any end. */
    restart: () => now.stop(),
    stop: () => {
      stopping = true;
      return now.stop();
    },
  };
}

/** The end of a child process as {@link keepRunning} wants it. */
export const endOf = (child) =>
  new Promise((resolve) => {
    if (child.exitCode !== null || child.signalCode !== null)
      return resolve(child.signalCode ?? `code ${child.exitCode}`);
    child.once('exit', (code, signal) => resolve(signal ?? `code ${code}`));
  });

/** Ends a process that is not a child of ours: asks first, then does not ask. */
export async function endProcess(pid, graceMs = 8000) {
  const isThere = () => {
    try {
      process.kill(pid, 0);
      return true;
    } catch (error) {
      return error.code === 'EPERM';
    }
  };
  for (const [signal, ms] of [
    ['SIGTERM', graceMs],
    ['SIGKILL', 2000],
  ]) {
    if (!isThere()) return;
    try {
      process.kill(pid, signal);
    } catch {
      return;
    }
    for (let waited = 0; waited < ms && isThere(); waited += 100) await pauseFor(100);
  }
}
