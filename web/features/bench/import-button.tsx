'use client';

import { useRouter } from '@/ui/router';
import { useRef, useState, type ReactNode } from 'react';
import { useToast } from '@/ui/toast';
import { postFile } from '@/ui/upload';
import { useGo } from '@/ui/link';

/** Takes a case package and opens the job it becomes. */
export function ImportButton({ children }: { children: ReactNode }) {
  const input = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const go = useGo();
  const toast = useToast();
  const send = async (file: File): Promise<void> => {
    setBusy(true);
    const { promise } = postFile<number>(`/api/packages?name=${encodeURIComponent(file.name)}`, file, () => undefined);
    const result = await promise;
    setBusy(false);
    if (result.ok) {
      toast({ tone: 'done', text: `${file.name} was imported.` });
      go(`/jobs/${result.value}`);
    } else toast({ tone: 'problem', text: result.message });
  };
  return (
    <>
      <input
        ref={input}
        type="file"
        accept=".zip,application/zip"
        className="sr-only"
        tabIndex={-1}
        aria-label="Case package"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void send(file);
        }}
      />
      <button type="button" className="button" disabled={busy} onClick={() => input.current?.click()}>
        {busy ? 'Importing …' : children}
      </button>
    </>
  );
}

/** Offers the sample fleet on an empty bench. */
export function SampleButton() {
  const router = useRouter();
  const toast = useToast();
  const [busy, setBusy] = useState(false);
  return (
    <button
      type="button"
      className="button"
      disabled={busy}
      onClick={async () => {
        setBusy(true);
        const answer = await fetch('/api/sample-data', { method: 'POST' }).catch(() => null);
        setBusy(false);
        if (answer?.ok) router.refresh();
        else toast({ tone: 'problem', text: 'The sample data could not be loaded.' });
      }}
    >
      {busy ? 'Loading …' : 'Load the sample fleet'}
    </button>
  );
}
