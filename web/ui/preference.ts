'use client';

import { useCallback, useSyncExternalStore } from 'react';

const prefix = 'umbral-';
const changedHere = 'umbral-preference';

function read(key: string): string | null {
  try {
    return localStorage.getItem(prefix + key);
  } catch {
    // A browser may keep nothing at all: then the usual holds.
    return null;
  }
}

function subscribe(onChange: () => void): () => void {
  addEventListener('storage', onChange);
  addEventListener(changedHere, onChange);
  return () => {
    removeEventListener('storage', onChange);
    removeEventListener(changedHere, onChange);
  };
}

/** Something that this browser keeps for itself, such as what the pedal does; the same in every part of the page. */
export function usePreference(key: string, usual: string): [string, (value: string) => void] {
  const value = useSyncExternalStore(
    subscribe,
    () => read(key) ?? usual,
    () => usual,
  );
  const set = useCallback(
    (to: string) => {
      try {
        localStorage.setItem(prefix + key, to);
      } catch {
        // Nothing can be kept: the usual goes on holding.
      }
      dispatchEvent(new Event(changedHere));
    },
    [key],
  );
  return [value, set];
}
