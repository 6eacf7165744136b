'use client';

import { useTransition } from 'react';
import { useToast } from '@/ui/toast';

type Outcome<T> = { ok: true; value: T } | { ok: false; kind: string; message: string };

/** Runs a server action with its waiting state; says what went wrong, and that it was saved where that is asked for. */
export function useSave() {
  const [saving, start] = useTransition();
  const toast = useToast();
  const save = <T>(
    work: () => Promise<Outcome<T>>,
    options: {
      done?: string;
      undo?: (value: T) => void;
      then?: (value: T) => void;
      failed?: (message: string) => void;
    } = {},
  ): void => {
    start(async () => {
      let result: Outcome<T>;
      try {
        result = await work();
      } catch (error) {
        // The door says in words why it took nothing.
        const refused = /^Not taken: (.+)$/.exec(error instanceof Error ? error.message : '')?.[1];
        const why = refused ?? 'The server could not be reached.';
        result = { ok: false, kind: 'unexpected', message: `${why} Nothing was stored; what you typed is still here.` };
      }
      if (result.ok) {
        const { value } = result;
        const { done, undo } = options;
        if (done) toast({ tone: 'done', text: done, undo: undo && (() => undo(value)) });
        options.then?.(value);
      } else {
        if (options.failed) options.failed(result.message);
        else toast({ tone: 'problem', text: result.message });
      }
    });
  };
  return { saving, save };
}
