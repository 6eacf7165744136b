'use client';

import { remarkWords } from '@umbral/core/words';

/**
 * What is read out of the customer's words, each to be taken back by a press: nothing counts that nobody could see.
 *
 * @param found ids of the remarks in the words as they stand
 * @param refused those of them that the customer did not mean
 */
export function HeardRemarks({
  found,
  refused,
  onRefused,
}: {
  found: readonly string[];
  refused: readonly string[];
  onRefused: (refused: readonly string[]) => void;
}) {
  if (found.length === 0) return null;
  return (
    <fieldset className="sm:col-span-2">
      <legend className="text-sm font-semibold">Understood from the complaint</legend>
      <p className="text-sm text-muted">This counts as weak evidence. Untick what was not meant.</p>
      <div className="mt-1 flex flex-wrap gap-2">
        {found.map((id) => (
          <label key={id} className="button font-medium">
            <input
              type="checkbox"
              className="size-4 accent-umbra"
              checked={!refused.includes(id)}
              onChange={(e) => onRefused(e.target.checked ? refused.filter((x) => x !== id) : [...refused, id])}
            />
            {remarkWords[id]}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
