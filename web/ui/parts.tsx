import { TriangleAlert } from 'lucide-react';
import { cloneElement, useId, type ReactElement, type ReactNode } from 'react';

/** A hazard note: one line with its reason, where the risk is. */
export function Hazard({ children }: { children: ReactNode }) {
  return (
    <p className="flex gap-2 rounded-r-lg border-l-4 border-decide bg-decide-soft px-2.5 py-1.5 text-[0.92rem]">
      <TriangleAlert size={17} className="mt-0.5 shrink-0 text-decide" aria-hidden />
      <span>{children}</span>
    </p>
  );
}

/** What a screen says when there is nothing on it. */
export function Empty({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="card mx-auto mt-6 max-w-xl text-center">
      <h2 className="text-xl">{title}</h2>
      <div className="mt-2 flex flex-col items-center gap-3 text-muted">{children}</div>
    </div>
  );
}

/** A labelled form field; the one control inside it gets the label's id. */
export function Field({
  label,
  hint,
  children,
}: {
  label: string;
  hint?: string;
  children: ReactElement<{ id?: string; 'aria-describedby'?: string }>;
}) {
  const id = useId();
  return (
    <div className="text-sm">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      {hint && (
        <span id={`${id}-hint`} className="text-muted">
          {' '}
          · {hint}
        </span>
      )}
      <div className="mt-1 text-base">
        {cloneElement(children, { id, 'aria-describedby': hint ? `${id}-hint` : undefined })}
      </div>
    </div>
  );
}

/** A suspect's bar: filled as far as it is likely. The number says the same. */
export function Likely({ p, children }: { p: number; children: ReactNode }) {
  return (
    <div className="relative overflow-hidden rounded-[10px] border border-line bg-raised">
      <div
        // A colour of the system stands in where it chooses the colours: a bar that vanished would say nothing.
        className="absolute inset-y-0 left-0 bg-penumbra opacity-75 forced-colors:border-r-4 forced-colors:border-[Highlight] forced-colors:bg-[Canvas] forced-colors:opacity-100 forced-colors:forced-color-adjust-none"
        style={{ width: `${Math.max(1.5, p * 100)}%` }}
        aria-hidden
      />
      <div className="relative">{children}</div>
    </div>
  );
}

/** Says something to a screen reader when it changes; nothing is seen of it. */
export function Announce({ says }: { says: string }) {
  return (
    <p className="sr-only" role="status" aria-live="polite">
      {says}
    </p>
  );
}
