/** Seconds on a clock that only goes forward. */
export const now = (): number => performance.now() / 1000;

const askEveryMs = 20;

/**
 * Asks again and again until it is so: tests wait for what happens, never for a time.
 *
 * @param ask gives what was waited for; null and false are asked again
 * @param what in words, for the one who reads that it never came
 * @throws {Error} after so many seconds
 */
export async function until<T>(
  ask: () => Promise<T | null | false> | T | null | false,
  what: string,
  seconds = 20,
): Promise<T> {
  const end = now() + seconds;
  for (;;) {
    const found = await ask();
    if (found) return found;
    if (now() > end) throw new Error(`it never came: ${what}`);
    await new Promise((resolve) => setTimeout(resolve, askEveryMs));
  }
}
