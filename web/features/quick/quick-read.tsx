'use client';

import dynamic from 'next/dynamic';
import { useRef, useState } from 'react';
import { useKey } from '@/ui/keys';
import type { QuickSource } from './source';

// What answers is loaded with the first question, not with every page.
const QuickPanel = dynamic(() => import('./quick-panel').then((m) => m.QuickPanel), { ssr: false });

/** A single line: words and levels are looked for everywhere; a typed reading or a dropped log is answered at once, without a job. */
export function QuickRead() {
  const [line, setLine] = useState('');
  const [asked, setAsked] = useState<{ source: QuickSource; count: number } | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const box = useRef<HTMLDivElement>(null);
  useKey('/', 'search and quick read', () => input.current?.focus());
  const ask = (source: QuickSource): void => setAsked((last) => ({ source, count: (last?.count ?? 0) + 1 }));
  return (
    <div
      ref={box}
      className="relative min-h-11"
      onKeyDown={(e) => {
        if (e.key === 'Escape') setAsked(null);
      }}
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        e.stopPropagation();
        const file = e.dataTransfer.files[0];
        if (file) ask({ kind: 'log', file });
      }}
    >
      <form
        onSubmit={(e) => {
          e.preventDefault();
          if (line.trim() !== '') ask({ kind: 'typed', line });
        }}
      >
        {/* Wide enough for a whole line while somebody types it. */}
        <label className="relative block focus-within:z-30 sm:focus-within:absolute sm:focus-within:right-0 sm:focus-within:w-[min(40rem,70vw)]">
          <span className="sr-only">Search, or type what the display shows</span>
          <input
            ref={input}
            className="field pr-9 font-mono text-[0.87rem] placeholder:font-sans"
            value={line}
            spellCheck={false}
            autoComplete="off"
            placeholder="Search, or type what the display shows"
            onChange={(e) => setLine(e.target.value)}
          />
          <kbd className="pointer-events-none absolute top-3 right-3" aria-hidden>
            /
          </kbd>
        </label>
      </form>
      {asked && (
        <QuickPanel
          key={asked.count}
          source={asked.source}
          box={box}
          onClose={() => setAsked(null)}
          onKept={() => {
            setAsked(null);
            setLine('');
          }}
        />
      )}
    </div>
  );
}
