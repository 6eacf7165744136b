'use client';

import { useId, type ComponentProps } from 'react';

/**
 * A button that says why it does nothing. It stays reachable by keyboard, and tells its reason to whoever points at it, presses
 * it or hears it read.
 *
 * It sends a form only where its type says so.
 *
 * @param blocked the reason; null where the button works
 * @param outer classes of what stands around it
 */
export function GatedButton({
  blocked,
  outer = '',
  onClick,
  children,
  ...given
}: ComponentProps<'button'> & { blocked: string | null; outer?: string }) {
  const id = useId();
  return (
    <span className={`group relative inline-flex ${outer}`}>
      <button
        type="button"
        {...given}
        aria-disabled={blocked !== null || undefined}
        aria-describedby={blocked === null ? given['aria-describedby'] : id}
        onClick={(event) => {
          if (blocked === null) onClick?.(event);
          // Not sent either, where it would send a form.
          else event.preventDefault();
        }}
      >
        {children}
      </button>
      {blocked !== null && (
        <span
          id={id}
          role="tooltip"
          className="absolute top-full left-0 z-30 mt-1 hidden w-max max-w-[min(230px,60vw)] rounded-lg border border-line bg-raised px-2.5 py-1.5 text-left text-sm shadow-lg group-focus-within:block group-hover:block"
        >
          {blocked}
        </span>
      )}
    </span>
  );
}
