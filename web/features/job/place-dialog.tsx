'use client';

import { circuitNames, formatPercent, type CircuitId } from '@umbral/core/words';
import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { namePlace } from './actions';
import { CircuitSelect, FormFoot, OneOf } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';

/** A place of the story, as it is named. */
export interface PlaceToName {
  where: string;
  circuit: CircuitId | null;
  /** What it most likely belongs to, the likeliest first. */
  guesses: readonly { circuit: CircuitId; p: number }[];
}

/** Says which circuit a place belongs to, for everything that was and will be entered at it. */
export function PlaceDialog({ jobId, place, onClose }: { jobId: number; place: PlaceToName; onClose: () => void }) {
  const [circuit, setCircuit] = useState<string>(place.circuit ?? '');
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  return (
    <Dialog open title={`Which net is “${place.where}” on?`} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => namePlace({ jobId, where: place.where, circuit }), {
            done: `${place.where}: ${circuitNames[circuit as CircuitId]}.`,
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <p className="text-sm text-muted">It applies to everything entered at this place, including earlier entries.</p>
        <OneOf
          question="If the fault is here, the most likely nets are"
          name="guess"
          choices={place.guesses.map(({ circuit: id, p }) => ({
            id,
            says: (
              <>
                {circuitNames[id]} <span className="text-muted">{formatPercent(p)}</span>
              </>
            ),
          }))}
          value={circuit}
          onChange={setCircuit}
        />
        <CircuitSelect label="Circuit" value={circuit} onChange={setCircuit} />
        <FormFoot saving={saving} problem={problem} word="Set the net" />
      </form>
    </Dialog>
  );
}
