'use client';

import { createContext, useCallback, useContext, useState, type ReactNode } from 'react';
import { Dialog } from './dialog';

interface Asked {
  says: string;
  answer: (isSo: boolean) => void;
}

const Context = createContext<(says: string) => Promise<boolean>>(() => Promise.resolve(false));

/** What is odd is asked before it is kept, whatever form or key it came from: one question, with two answers. */
export function QuestionProvider({ children }: { children: ReactNode }) {
  const [asked, setAsked] = useState<Asked | null>(null);
  const ask = useCallback(
    (says: string): Promise<boolean> => new Promise((resolve) => setAsked({ says, answer: resolve })),
    [],
  );
  const answer = (isSo: boolean): void => {
    asked?.answer(isSo);
    setAsked(null);
  };
  return (
    <Context.Provider value={ask}>
      {children}
      <Dialog open={asked !== null} title="Is this right?" onClose={() => answer(false)} isFresh>
        <p className="mt-1">{asked?.says}</p>
        <p className="mt-1 text-sm text-muted">Nothing is saved yet.</p>
        <div className="mt-4 flex flex-wrap gap-2">
          <button type="button" className="button button-main" autoFocus onClick={() => answer(false)}>
            Go back and correct it
          </button>
          <button type="button" className="button" onClick={() => answer(true)}>
            Save it as it is
          </button>
        </div>
      </Dialog>
    </Context.Provider>
  );
}

/** Asks, and gives whether it is to be kept as it is. */
export const useQuestion = (): ((says: string) => Promise<boolean>) => useContext(Context);
