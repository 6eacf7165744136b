'use client';

import { useRouter } from '@/ui/router';
import { useCallback, useEffect, useRef, useState } from 'react';
import { useQuestion } from '@/ui/question';
import { postFile, type Uploaded } from '@/ui/upload';
import { MapColumns, type Mapping } from './map-columns';
import type { SetupForm } from './setup-form';
import { useGo } from '@/ui/link';

interface Entry {
  file: File;
  state: 'waits' | 'reads' | 'done' | 'refused' | 'unsure';
  share: number;
  message: string;
  header: string[] | null;
  sample: string[][];
}

/** Logs one after the other, with progress and a way to cancel; asks for the columns only where the reader is unsure. */
export function LogList({
  jobId,
  files,
  setup,
  onDone,
}: {
  jobId: number;
  files: File[];
  setup: SetupForm;
  onDone: () => void;
}) {
  const [entries, setEntries] = useState<Entry[]>(() =>
    files.map((file) => ({ file, state: 'waits', share: 0, message: '', header: null, sample: [] })),
  );
  const cancel = useRef<(() => void) | null>(null);
  const lastAdded = useRef<string | null>(null);
  const router = useRouter();
  const go = useGo();
  const ask = useQuestion();
  const update = useCallback(
    (k: number, change: Partial<Entry>) => setEntries((all) => all.map((e, j) => (j === k ? { ...e, ...change } : e))),
    [],
  );
  const send = useCallback(
    async (k: number, mapping: Mapping | null): Promise<void> => {
      const post = async (confirmed: boolean): Promise<Uploaded<string>> => {
        update(k, { state: 'reads', share: 0, message: '' });
        const query = new URLSearchParams({
          name: files[k].name,
          setup: JSON.stringify(setup),
          ...(mapping ? { mapping: JSON.stringify(mapping) } : {}),
          ...(confirmed ? { confirmed: 'true' } : {}),
        });
        const { promise, cancel: stop } = postFile<string>(`/api/jobs/${jobId}/runs?${query}`, files[k], (share) =>
          update(k, { share }),
        );
        cancel.current = stop;
        const answer = await promise;
        cancel.current = null;
        return answer;
      };
      let result = await post(false);
      if (!result.ok && result.kind === 'asked' && (await ask(`${files[k].name}: ${result.message}`)))
        result = await post(true);
      if (result.ok) {
        lastAdded.current = result.value;
        update(k, { state: 'done', message: `added as ${result.value}` });
        router.refresh();
      } else if (result.kind === 'unsure')
        update(k, {
          state: 'unsure',
          message: result.message,
          header: result.header ?? null,
          sample: result.sample ?? [],
        });
      else update(k, { state: 'refused', message: result.message });
    },
    [ask, files, jobId, router, setup, update],
  );
  const started = useRef(false);
  useEffect(() => {
    if (started.current) return;
    started.current = true;
    void (async () => {
      for (let k = 0; k < files.length; k++) await send(k, null);
    })();
  }, [files.length, send]);
  const leave = (): void => {
    onDone();
    if (lastAdded.current) go(`/jobs/${jobId}?run=${lastAdded.current}`, { scroll: false });
  };
  const busy = entries.some((e) => e.state === 'reads' || e.state === 'waits');
  return (
    <div className="grid gap-3">
      <ul className="grid gap-3">
        {entries.map((e, k) => (
          <li key={k} className="rounded-xl border border-line bg-raised px-3 py-2">
            <div className="flex items-center gap-3">
              <strong className="min-w-0 truncate">{e.file.name}</strong>
              <span className={`ml-auto text-sm ${e.state === 'refused' ? 'text-decide' : 'text-muted'}`}>
                {
                  {
                    waits: 'waits',
                    reads: e.share < 0.99 ? `reading, ${Math.round(e.share * 100)} %` : 'working out the shape',
                    done: e.message,
                    refused: 'refused',
                    unsure: 'needs an answer',
                  }[e.state]
                }
              </span>
              {e.state === 'reads' && (
                <button type="button" className="button min-h-9" onClick={() => cancel.current?.()}>
                  Cancel
                </button>
              )}
            </div>
            {e.state === 'reads' && (
              <progress
                className="mt-2 h-2 w-full accent-(--edge)"
                value={e.share}
                max={1}
                aria-label={`Reading ${e.file.name}`}
              />
            )}
            {e.state === 'refused' && (
              <p role="alert" className="mt-1 text-sm">
                {e.message}
              </p>
            )}
            {e.state === 'unsure' && (
              <MapColumns
                doubt={e.message}
                header={e.header}
                sample={e.sample}
                onMap={(mapping) => void send(k, mapping)}
              />
            )}
          </li>
        ))}
      </ul>
      <button type="button" className="button" disabled={busy} onClick={leave}>
        {entries.every((e) => e.state === 'done') ? 'Done' : 'Close'}
      </button>
    </div>
  );
}
