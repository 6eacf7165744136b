/** Texts of which an answer is kept; all of them are forgotten where there are more. */
const mostKept = 5000;

/**
 * The same function of a text, which works each answer out once: names of places are compared with each other thousands of times.
 *
 * @param work pure, and cheap to forget
 */
export function remembered<T>(work: (text: string) => T): (text: string) => T {
  const known = new Map<string, T>();
  return (text) => {
    const kept = known.get(text);
    if (kept !== undefined) return kept;
    if (known.size >= mostKept) known.clear();
    const made = work(text);
    known.set(text, made);
    return made;
  };
}
