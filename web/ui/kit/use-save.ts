'use client';

import { useEffect, useRef, useTransition } from 'react';
import { useQuestion } from '@/ui/question';
import { useToast } from '@/ui/toast';
import { useUnderWay } from './under-way';

type Outcome<T> = { ok: true; value: T } | { ok: false; kind: string; message: string };

/**
 * Runs a server action with its waiting state; says what went wrong, and that it was saved where that is asked for. With
 * `entry` it stands in the job's story in these words until it is kept: whoever entered it can go on, and where it is
 * refused the form comes back, or its words where the form is gone. What is odd is asked first, and sent once more with
 * `confirmed` where it is so.
 */
export function useSave() {
  const [saving, start] = useTransition();
  const toast = useToast();
  const ask = useQuestion();
  const underWay = useUnderWay();
  const isHere = useRef(true);
  useEffect(() => {
    isHere.current = true;
    return () => void (isHere.current = false);
  }, []);
  const save = <T>(
    work: (confirmed: boolean) => Promise<Outcome<T>>,
    options: {
      entry?: string;
      done?: string | ((value: T) => string | undefined);
      undo?: (value: T) => void;
      then?: (value: T) => void;
      failed?: (message: string) => void;
    } = {},
  ): void => {
    start(async () => {
      const { entry } = options;
      if (entry !== undefined) underWay.add(entry);
      let result: Outcome<T>;
      try {
        result = await work(false);
        if (!result.ok && result.kind === 'asked') {
          if (!(await ask(result.message))) return;
          result = await work(true);
        }
      } catch (error) {
        // The door says in words why it took nothing.
        const refused = /^Not taken: (.+)$/.exec(error instanceof Error ? error.message : '')?.[1];
        const why = refused ?? 'The server could not be reached.';
        result = { ok: false, kind: 'unexpected', message: `${why} Nothing was stored; what you typed is still here.` };
      }
      if (result.ok) {
        const { value } = result;
        const { done, undo } = options;
        const text = typeof done === 'function' ? done(value) : done;
        if (text) toast({ tone: 'done', text, undo: undo && (() => undo(value)) });
        if (entry === undefined || isHere.current) options.then?.(value);
      } else {
        if (options.failed && isHere.current) options.failed(result.message);
        else toast({ tone: 'problem', text: entry === undefined ? result.message : `${entry}: ${result.message}` });
      }
    });
  };
  return { saving, save };
}
