'use client';

import { Empty } from '@/ui/parts';

export default function ErrorPage({ error, reset }: { error: Error & { digest?: string }; reset: () => void }) {
  return (
    <main className="px-4 py-8">
      <Empty title="This page could not be shown">
        <p>
          What was recorded is safe in the database.{error.digest ? ` Reference ${error.digest}.` : ''} Check that the
          database is running, then try again.
        </p>
        <button type="button" className="button" onClick={reset}>
          Try again
        </button>
      </Empty>
    </main>
  );
}
