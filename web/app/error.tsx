'use client';

import { useEffect, useState } from 'react';
import { LastSheet } from '@/features/day/last-sheet';
import { Empty } from '@/ui/parts';

interface Health {
  database: boolean;
  words: string;
}

/** What a page says that could not be made: how the database is now, what is safe, and the reference in the log. */
export default function ErrorPage({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  const [health, setHealth] = useState<Health | null>(null);
  useEffect(() => {
    let isOn = true;
    const look = (): void =>
      void fetch('/api/health')
        .then((answer) => answer.json() as Promise<Health>)
        .then((found) => isOn && setHealth(found))
        .catch(() => isOn && setHealth({ database: false, words: 'The web application does not answer.' }));
    look();
    const timer = setInterval(look, 2000);
    return () => {
      isOn = false;
      clearInterval(timer);
    };
  }, []);
  return (
    <main className="px-4 py-8">
      <Empty title="This page could not be shown">
        <p role="status">{health?.words ?? 'Checking what is wrong …'}</p>
        <p>Recordings are safe.{error.digest ? ` Reference ${error.digest}.` : ''}</p>
        <button type="button" className="button" onClick={reset}>
          Try again
        </button>
      </Empty>
      {health?.database === false && <LastSheet />}
    </main>
  );
}
