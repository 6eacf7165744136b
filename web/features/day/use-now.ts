'use client';

import { useEffect, useState } from 'react';

/**
 * The server's clock on this screen, moved on every second: a screen whose own clock is wrong, or jumps, counts down right.
 *
 * @param serverNow what the server said, as an ISO moment
 * @returns milliseconds; what the server said until the page lives
 */
export function useServerNow(serverNow: string): number {
  const [clock, setClock] = useState({ said: serverNow, at: Date.parse(serverNow) });
  useEffect(() => {
    const said = Date.parse(serverNow);
    // Time that has passed by a clock that nobody sets.
    const since = performance.now();
    const tick = (): void => setClock({ said: serverNow, at: said + performance.now() - since });
    const timer = setInterval(tick, 1000);
    return () => clearInterval(timer);
  }, [serverNow]);
  return clock.said === serverNow ? clock.at : Date.parse(serverNow);
}
