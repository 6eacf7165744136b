import type { StateView } from '@/features/words';

/** How the device is now: the one statement that stands on every screen of a job. */
export function StateLine({ state, className = '' }: { state: StateView | null; className?: string }) {
  if (!state) return null;
  return (
    <p aria-label="State of the device" className={className}>
      <strong>{state.sentence}</strong>
      {state.likely && <span className="text-sm text-muted"> {state.likely}</span>}
    </p>
  );
}
