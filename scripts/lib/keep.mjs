import { say } from './run.mjs';

const firstPauseMs = 500;
const mostPauseMs = 10_000;

/**
 * Starts a process, and starts it again with growing pauses whenever it ends by itself.
 *
 * @param name in words, for who reads along
 * @param begin starts it; resolves with its `child` and a way to `stop` it once it works
 * @returns what is running now, and a way to end it for good
 */
export async function keepRunning(name, begin) {
  let stopping = false;
  let pause = firstPauseMs;
  let now = await begin();
  const watch = () =>
    now.child.once('exit', async (code, signal) => {
      if (stopping) return;
      say(`${name} ended (${signal ?? code}); it is started again.`);
      for (;;) {
        await new Promise((f) => setTimeout(f, pause));
        if (stopping) return;
        try {
          now = await begin();
          pause = firstPauseMs;
          if (stopping) return now.stop();
          return watch();
        } catch (error) {
          say(error.message);
          pause = Math.min(mostPauseMs, 2 * pause);
        }
      }
    });
  watch();
  return {
    now: () => now,
    stop: () => {
      stopping = true;
      return now.stop();
    },
  };
}
