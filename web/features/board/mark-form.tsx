'use client';

import { markKinds, type MarkKind } from '@umbral/core/board';
import { SelectField, TextField } from '@/ui/kit/fields';
import { CircuitSelect } from '@/ui/kit/form-parts';
import { GatedButton } from '@/ui/kit/gated-button';

/** An area that is being drawn. Widths of the board. */
export interface MarkDraft {
  kind: MarkKind;
  area: (readonly [number, number])[];
  where: string;
  circuit: string;
  fed: string;
}

export const newMark = (kind: MarkKind = 'corrosion'): MarkDraft => ({
  kind,
  area: [],
  where: '',
  circuit: '',
  fed: '',
});

const markNames: Record<MarkKind, string> = {
  corrosion: 'corrosion',
  residue: 'residue',
  burnt: 'burnt',
  cracked: 'cracked',
  rework: 'earlier rework',
  heat: 'warm place',
};

const leastCorners = 3;

/** What was seen on an area of this job's board: it counts as a look at the board does. */
export function MarkForm({
  draft,
  saving,
  onChange,
  onSave,
  onClose,
}: {
  draft: MarkDraft;
  saving: boolean;
  onChange: (draft: MarkDraft) => void;
  onSave: () => void;
  onClose: () => void;
}) {
  const { area } = draft;
  return (
    <form
      aria-label="New mark"
      className="card grid content-start gap-2 p-3 lg:w-72 lg:shrink-0"
      onSubmit={(e) => {
        e.preventDefault();
        if (area.length >= leastCorners) onSave();
      }}
    >
      <div className="grid gap-2 sm:max-lg:grid-cols-3">
        <SelectField
          label="What it is"
          value={draft.kind}
          onValue={(kind) => onChange({ ...draft, kind: kind as MarkKind })}
        >
          {markKinds.map((kind) => (
            <option key={kind} value={kind}>
              {markNames[kind]}
            </option>
          ))}
        </SelectField>
        <TextField
          label="Where"
          placeholder="beside the small coil"
          value={draft.where}
          onValue={(where) => onChange({ ...draft, where })}
        />
        <CircuitSelect label="Circuit" value={draft.circuit} onChange={(circuit) => onChange({ ...draft, circuit })} />
        {draft.kind === 'heat' && (
          <TextField
            label="Fed"
            hint="what was powered meanwhile"
            value={draft.fed}
            onValue={(fed) => onChange({ ...draft, fed })}
          />
        )}
      </div>
      <p className="text-sm text-muted">
        {area.length < leastCorners
          ? `Click around the area, one corner after the other (${area.length} so far), or press Enter on the cross.`
          : `${area.length} corners. Click for more, or save.`}
      </p>
      <div className="flex flex-wrap gap-2">
        <GatedButton
          type="submit"
          className="button button-main"
          blocked={saving ? 'Saving …' : area.length < leastCorners ? 'Draw at least three corners first' : null}
        >
          Save the mark
        </GatedButton>
        <GatedButton
          className="button"
          blocked={area.length === 0 ? 'There is no corner yet' : null}
          onClick={() => onChange({ ...draft, area: area.slice(0, -1) })}
        >
          Take back a corner
        </GatedButton>
        <button type="button" className="button" onClick={onClose}>
          Cancel
        </button>
      </div>
    </form>
  );
}
