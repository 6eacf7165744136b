'use client';

import type { useEntry } from './use-entry';

/** Readings that are not in the record yet, with why: a question that is open, or a save that failed. */
export function NotKept({ entry }: { entry: Pick<ReturnType<typeof useEntry>, 'pending' | 'take' | 'drop'> }) {
  const open = entry.pending.filter((p) => p.status !== 'saving');
  if (open.length === 0) return null;
  return (
    <ul aria-label="Not saved yet" className="mt-2 grid gap-1.5">
      {open.map((p) => (
        <li
          key={p.key}
          className="flex flex-wrap items-center gap-2 rounded-lg border border-decide bg-decide-soft px-3 py-1.5 text-sm"
        >
          <span className="min-w-0 flex-1 basis-64">
            <strong>
              {p.name}: {p.text}
            </strong>
            {' · '}
            {p.says}
          </span>
          <button type="button" className="button min-h-9" onClick={() => entry.take(p, p.status === 'asked')}>
            {p.status === 'asked' ? 'Save anyway' : 'Save again'}
          </button>
          <button type="button" className="button min-h-9" onClick={() => entry.drop(p.key)}>
            Discard
          </button>
        </li>
      ))}
    </ul>
  );
}
