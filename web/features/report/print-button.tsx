'use client';

import { FileDown, Printer } from 'lucide-react';
import { useKey } from '@/ui/keys';

/** Prints the page, or takes it along as a PDF. */
export function PrintButton({ pdf }: { pdf: string }) {
  useKey('d', 'the report as a PDF', () => window.open(pdf, '_blank', 'noopener'));
  useKey('i', 'print the report', () => window.print());
  return (
    <>
      <button type="button" className="button" onClick={() => window.print()}>
        <Printer size={17} aria-hidden /> Print <kbd>i</kbd>
      </button>
      <a className="button" href={pdf} target="_blank" rel="noopener">
        <FileDown size={17} aria-hidden /> PDF <kbd>d</kbd>
      </a>
    </>
  );
}
