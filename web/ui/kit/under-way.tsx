'use client';

import { createContext, useContext, useEffect, useOptimistic, useRef, type ReactNode } from 'react';

interface UnderWay {
  /** Entries that were sent and are not kept yet, in words. */
  entries: readonly string[];
  /** Within the transition of a save: the words go when the page shows what was kept. */
  add: (words: string) => void;
}

const Context = createContext<UnderWay>({ entries: [], add: () => undefined });

/** What was entered stands in the story at once, marked until it is kept. */
export function UnderWayProvider({ children }: { children: ReactNode }) {
  const [entries, add] = useOptimistic<readonly string[], string>([], (all, words) => [...all, words]);
  return <Context.Provider value={{ entries, add }}>{children}</Context.Provider>;
}

export const useUnderWay = (): UnderWay => useContext(Context);

/** The end of the story: what is not kept yet. */
export function EntriesUnderWay(): ReactNode {
  const { entries } = useUnderWay();
  const last = useRef<HTMLLIElement>(null);
  useEffect(() => {
    const list = last.current?.parentElement;
    if (list) list.scrollTop = list.scrollHeight;
  }, [entries.length]);
  return entries.map((words, k) => (
    <li key={k} ref={last} aria-busy className="relative text-muted">
      <span
        aria-hidden
        className="absolute top-1.5 -left-5 size-2.5 rounded-full border-2 border-dashed border-edge bg-paper"
      />
      <span className="block break-words">{words}</span>
      <small className="block">saving …</small>
    </li>
  ));
}
