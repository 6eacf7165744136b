import type { FormingCall } from './acts';

const wanted = 4;
const sureFrom = 0.6;
const maxMove = 0.03;

/** Whether the last calls agree so well that more time would hardly change them. */
export function isSettled(calls: FormingCall[]): boolean {
  const last = calls.slice(-wanted);
  if (last.length < wanted) return false;
  const [first] = last;
  return last.every((c) => {
    const same = c.pattern?.name === first.pattern?.name && (c.pattern?.p ?? 0) >= sureFrom;
    const [top, was] = [c.suspects[0], first.suspects[0]];
    return same && top?.id === was?.id && Math.abs((top?.p ?? 0) - (was?.p ?? 0)) <= maxMove;
  });
}
