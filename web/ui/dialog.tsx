'use client';

import { Dialog as Base, DialogPanel, DialogTitle } from '@headlessui/react';
import { X } from 'lucide-react';
import { useEffect, useRef, type ReactNode } from 'react';
import { useDraft } from './use-draft';

/**
 * A dialog over the work; Escape closes it. What is typed into it survives a reload ({@link useDraft}); with `isFresh` it is
 * asked anew each time, as where an output is about to be armed.
 */
export function Dialog({
  open,
  title,
  onClose,
  children,
  wide = false,
  isFresh = false,
}: {
  open: boolean;
  title: string;
  onClose: () => void;
  children: ReactNode;
  wide?: boolean;
  isFresh?: boolean;
}) {
  useFocusBack(open);
  return (
    <Base open={open} onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 top-[var(--alarm,0px)] overflow-y-auto bg-umbra/30 dark:bg-black/60">
        <div className="flex min-h-full items-start justify-center p-3 sm:p-8">
          <DialogPanel
            className={`relative w-full ${wide ? 'max-w-3xl' : 'max-w-xl'} rounded-2xl border border-line bg-surface p-5 shadow-xl`}
          >
            <DialogTitle className="min-h-11 pr-12 text-xl font-bold">{title}</DialogTitle>
            <Fields title={title} isFresh={isFresh}>
              {children}
            </Fields>
            {/* Last, so that whoever opens it by a key starts in its first field. */}
            <button
              type="button"
              className="button button-quiet absolute right-5 top-5 w-11 px-0"
              aria-label="Close"
              onClick={onClose}
            >
              <X size={20} aria-hidden />
            </button>
          </DialogPanel>
        </div>
      </div>
    </Base>
  );
}

/** The dialog itself gives the focus back first, milliseconds. */
const afterDialogMs = 60;

/** What had the focus: an entry of a menu is gone by the time that its dialog closes, its button is not. */
function openerOf(active: Element | null): HTMLElement | null {
  const menu = active?.closest('[role=menu]');
  const button = menu && document.getElementById(menu.getAttribute('aria-labelledby') ?? '');
  return button ?? (active instanceof HTMLElement && active !== document.body ? active : null);
}

/**
 * The focus goes back to where it was before the dialog. Where that is gone, or nothing had it, it goes to the page's content
 * and never to nothing: whoever uses keys or a screen reader goes on where they were.
 */
function useFocusBack(isOpen: boolean): void {
  // Seen while this is drawn: by the time that effects run the dialog has the focus.
  const opener = useRef<HTMLElement | null>(null);
  const wasOpen = useRef(false);
  // eslint-disable-next-line react-hooks/refs -- nothing is drawn from it: it is read when the dialog closes
  if (isOpen && !wasOpen.current && typeof document !== 'undefined') opener.current = openerOf(document.activeElement);
  useEffect(() => {
    wasOpen.current = isOpen;
    if (!isOpen) return;
    return () => {
      setTimeout(() => {
        if (document.activeElement !== null && document.activeElement !== document.body) return;
        const to = opener.current?.isConnected ? opener.current : document.getElementById('content');
        to?.focus({ preventScroll: true });
      }, afterDialogMs);
    };
  }, [isOpen]);
}

function Fields({ title, isFresh, children }: { title: string; isFresh: boolean; children: ReactNode }) {
  const panel = useRef<HTMLDivElement>(null);
  const isBack = useDraft(panel, title, !isFresh);
  return (
    <div ref={panel}>
      {isBack && (
        <p role="status" className="mt-1 text-sm text-muted">
          What you typed here earlier has been restored. Close the dialog to discard it.
        </p>
      )}
      {children}
    </div>
  );
}
