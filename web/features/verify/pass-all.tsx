'use client';

import { useSave } from '@/ui/kit/use-save';
import { passAll } from './actions';
import type { Step } from './step-forms';

/** Passes every open step of a proof that looking is enough for; nothing where there is at most one. */
export function PassAll({ jobId, protocol }: { jobId: number; protocol: { id: string; name: string; steps: Step[] } }) {
  const { saving, save } = useSave();
  const looks = protocol.steps.filter((s) => s.result === null && s.by === 'look');
  if (looks.length < 2) return null;
  return (
    <button
      type="button"
      className="button ml-auto min-h-9"
      aria-label={`All ${looks.length} pass: ${protocol.name}`}
      disabled={saving}
      onClick={() =>
        save(() => passAll({ jobId, protocol: protocol.id }), {
          done: ({ passed, left }) =>
            left === 0
              ? `${passed} steps passed.`
              : `${passed} steps passed. ${left} more need a run, a time or a measurement.`,
        })
      }
    >
      All {looks.length} pass
    </button>
  );
}
