'use client';

import dynamic from 'next/dynamic';
import { createContext, useCallback, useContext, useState, type ReactNode } from 'react';

// Loaded with the first question, not with every page.
const QuestionDialog = dynamic(() => import('./question-dialog').then((m) => m.QuestionDialog), { ssr: false });

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
      {asked && <QuestionDialog says={asked.says} onAnswer={answer} />}
    </Context.Provider>
  );
}

/** Asks, and gives whether it is to be kept as it is. */
export const useQuestion = (): ((says: string) => Promise<boolean>) => useContext(Context);
