'use client';

import { Dialog as Base, DialogPanel, DialogTitle } from '@headlessui/react';
import { X } from 'lucide-react';
import type { ReactNode } from 'react';

/** A dialog over the work; Escape closes it. */
export function Dialog({
  open,
  title,
  onClose,
  children,
  wide = false,
}: {
  open: boolean;
  title: string;
  onClose: () => void;
  children: ReactNode;
  wide?: boolean;
}) {
  return (
    <Base open={open} onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 overflow-y-auto bg-umbra/30 dark:bg-black/60">
        <div className="flex min-h-full items-start justify-center p-3 sm:p-8">
          <DialogPanel
            className={`relative w-full ${wide ? 'max-w-3xl' : 'max-w-xl'} rounded-2xl border border-line bg-surface p-5 shadow-xl`}
          >
            <DialogTitle className="min-h-11 pr-12 text-xl font-bold">{title}</DialogTitle>
            {children}
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
