'use client';

import { stageIds, stageTypes } from '@umbral/core/words';
import { setStage } from './actions';
import { useSave } from '@/ui/kit/use-save';

/** The stages of the work in the technician's order; any can be entered at any time. */
export function Stages({ jobId, version, stage }: { jobId: number; version: number; stage: string }) {
  const { saving, save } = useSave();
  const now = stageIds.findIndex((s) => s === stage);
  return (
    <ol className="flex flex-wrap text-sm" aria-label="Stages">
      {stageIds.map((id, k) => (
        <li key={id}>
          <button
            type="button"
            disabled={saving}
            aria-current={k === now ? 'step' : undefined}
            onClick={() => k !== now && save(() => setStage({ jobId, version, stage: id }))}
            className={`min-h-9 border-b-[3px] px-2 ${
              k === now ? 'border-decide font-bold' : k < now ? 'border-edge text-muted' : 'border-line text-muted'
            } hover:text-ink`}
          >
            {stageTypes[id].name}
          </button>
        </li>
      ))}
    </ol>
  );
}
