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
    options: { done?: string; undo?: () => void; then?: (value: T) => void; failed?: (message: string) => void } = {},
  ): void => {
    start(async () => {
      let result: Outcome<T>;
      try {
        result = await work();
      } catch {
        result = {
          ok: false,
          kind: 'unexpected',
          message: 'The server could not be reached; nothing was stored. What you typed is still here.',
        };
      }
      if (result.ok) {
        if (options.done) toast({ tone: 'done', text: options.done, undo: options.undo });
        options.then?.(result.value);
      } else {
        if (options.failed) options.failed(result.message);
        else toast({ tone: 'problem', text: result.message });
      }
    });
  };
  return { saving, save };
}
