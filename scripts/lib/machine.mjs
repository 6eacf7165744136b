// How much of the machine was really there while something ran: other machines on the same host may take it away.
import { readFileSync } from 'node:fs';

/** Shares of the processors' time from which, and seconds of standing still from which, nothing that was late says anything. */
const much = { taken: 0.1, stoodStill: 2 };
/** How often it is looked whether time passed as it should, ms. */
const lookEvery = 250;

/** Ticks of all processors since the machine began, and those of them that another machine had. */
function ticks() {
  try {
    const each = readFileSync('/proc/stat', 'utf8').split('\n', 1)[0].trim().split(/\s+/).slice(1, 9).map(Number);
    return { all: each.reduce((a, b) => a + b, 0), taken: each[7] ?? 0 };
  } catch {
    return { all: 0, taken: 0 };
  }
}

/**
 * Watches the machine until `end` is called.
 *
 * @returns `end()` gives what share of the processors' time others took, 0 to 1, the longest that this process stood still,
 *   in seconds, and whether that is so much that a late answer says nothing about what was asked
 */
export function watchMachine() {
  const began = ticks();
  let [last, longest] = [performance.now(), 0];
  const look = () => {
    const now = performance.now();
    longest = Math.max(longest, now - last - lookEvery);
    last = now;
  };
  const timer = setInterval(look, lookEvery);
  timer.unref();
  return {
    end() {
      clearInterval(timer);
      look();
      const now = ticks();
      const taken = now.all > began.all ? (now.taken - began.taken) / (now.all - began.all) : 0;
      const stoodStill = longest / 1000;
      return { taken, stoodStill, isSlow: taken >= much.taken || stoodStill >= much.stoodStill };
    },
  };
}

/** In words, for the report of a run. */
export const sayMachine = ({ taken, stoodStill }) =>
  `others took ${Math.round(100 * taken)} % of the processors, this run stood still for up to ${stoodStill.toFixed(1)} s`;
