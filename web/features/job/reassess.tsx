'use client';

import { reassessJob } from './actions';
import { useSave } from '@/ui/kit/use-save';

/** A verdict that is behind is said to be, and made anew by a press. */
export function Reassess({ jobId, why }: { jobId: number; why: string }) {
  const { saving, save } = useSave();
  return (
    <p className="flex flex-wrap items-center gap-2 text-sm text-muted">
      {why}
      <button
        type="button"
        className="button min-h-9"
        disabled={saving}
        onClick={() => save(() => reassessJob({ jobId }), { done: 'Reassessed.' })}
      >
        {saving ? 'Assessing …' : 'Reassess'}
      </button>
    </p>
  );
}
