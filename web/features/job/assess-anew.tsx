'use client';

import { assessAnew } from './actions';
import { useSave } from './use-save';

/** A verdict of an older engine is said to be one, and made anew by a press. */
export function AssessAnew({ jobId }: { jobId: number }) {
  const { saving, save } = useSave();
  return (
    <p className="flex flex-wrap items-center gap-2 text-sm text-muted">
      An older engine made this verdict.
      <button
        type="button"
        className="button min-h-9"
        disabled={saving}
        onClick={() => save(() => assessAnew({ jobId }), { done: 'Assessed anew.' })}
      >
        {saving ? 'Assessing …' : 'Assess anew'}
      </button>
    </p>
  );
}
