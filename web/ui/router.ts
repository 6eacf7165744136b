'use client';

import { useRouter as useNextRouter } from 'next/navigation';
import { useEffect, useMemo, useTransition } from 'react';

// A locked session is led to the sign-in, and what is open on the screen would be lost with the page: while the screen is
// locked no page moves, and the last move that was asked for is made afterwards.
let isHeld = false;
let heldMove: (() => void) | null = null;
const underWay = new Set<symbol>();
const longestWaitMs = 10_000;

interface Router {
  push: (url: string, options?: { scroll?: boolean }) => void;
  refresh: () => void;
}

/** Keeps the page where it is from here on; resolves when no move is under way any more. */
export async function holdPage(): Promise<void> {
  isHeld = true;
  const until = performance.now() + longestWaitMs;
  while (underWay.size > 0 && performance.now() < until) await new Promise((resolve) => setTimeout(resolve, 50));
}

/** Lets the page move again, and makes the move that waited; without one, `otherwise`. */
export function releasePage(otherwise: () => void): void {
  isHeld = false;
  (heldMove ?? otherwise)();
  heldMove = null;
}

/** Where pages are moved and refreshed, by people and by themselves. */
export function useRouter(): Router {
  const router = useNextRouter();
  const [isPending, start] = useTransition();
  useEffect(() => {
    if (!isPending) return undefined;
    const move = Symbol();
    underWay.add(move);
    return () => void underWay.delete(move);
  }, [isPending]);
  return useMemo(() => {
    const move = (work: () => void): void => {
      if (isHeld) heldMove = work;
      else start(work);
    };
    return {
      push: (...to) => move(() => router.push(...to)),
      refresh: () => move(() => router.refresh()),
    };
  }, [router]);
}
