'use client';

import { pointKinds, type PointKind } from '@umbral/core/board';
import { useId, useState } from 'react';
import { SelectField, TextField } from '@/ui/kit/fields';
import { CircuitSelect } from '@/ui/kit/form-parts';
import { GatedButton } from '@/ui/kit/gated-button';
import type { BoardView, MapPoint } from './view';

/** A point that is being put on the map, or changed. Widths of the board. */
export interface PointDraft {
  /** Null for a new one. */
  id: number | null;
  x: number;
  y: number;
  kind: PointKind;
  name: string;
  net: string;
  circuit: string;
}

const kindNames: Record<PointKind, string> = {
  coil: 'coil',
  capacitor: 'capacitor',
  pin: 'pin',
  pad: 'pad',
  connector: 'connector',
  'test-point': 'test point',
};

export const draftOf = ({ id, x, y, kind, name, netName, circuit }: MapPoint): PointDraft => ({
  ...{ id, x, y, kind, name },
  net: netName,
  circuit: circuit ?? '',
});

/** What a point is: the net that its readings belong to, and what the probe is put on. */
export function PointForm({
  board,
  draft,
  otherNets,
  saving,
  onChange,
  onSave,
  onRemove,
  onMerge,
  onClose,
}: {
  board: BoardView;
  draft: PointDraft;
  /** Nets that it could be one with, by name as they are kept. */
  otherNets: readonly { net: string; name: string }[];
  saving: boolean;
  onChange: (draft: PointDraft) => void;
  /** @param isMore another point of the same net follows */
  onSave: (isMore: boolean) => void;
  onRemove: () => void;
  onMerge: (into: string) => void;
  onClose: () => void;
}) {
  const rails = useId();
  const [into, setInto] = useState('');
  const isRail = board.nets.some((n) => n.name.toLowerCase() === draft.net.trim().toLowerCase());
  return (
    <form
      aria-label={draft.id === null ? 'New point' : 'Point'}
      className="card grid content-start gap-2 p-3 lg:w-72 lg:shrink-0"
      onSubmit={(e) => {
        e.preventDefault();
        if (draft.net.trim() !== '') onSave(false);
      }}
    >
      <div className="grid gap-2 sm:max-lg:grid-cols-3">
        <TextField
          label="Net"
          hint="rail, or your name for it"
          autoFocus
          autoComplete="off"
          list={rails}
          value={draft.net}
          onValue={(net) => onChange({ ...draft, net })}
        />
        <datalist id={rails}>
          {board.nets.map((n) => (
            <option key={n.id} value={n.name} />
          ))}
        </datalist>
        <SelectField
          label="Probe on a"
          value={draft.kind}
          onValue={(kind) => onChange({ ...draft, kind: kind as PointKind })}
        >
          {pointKinds.map((kind) => (
            <option key={kind} value={kind}>
              {kindNames[kind]}
            </option>
          ))}
        </SelectField>
        <TextField
          label="Name"
          hint="if it has one"
          placeholder="big coil"
          value={draft.name}
          onValue={(name) => onChange({ ...draft, name })}
        />
      </div>
      {!isRail && (
        <CircuitSelect label="Circuit" value={draft.circuit} onChange={(circuit) => onChange({ ...draft, circuit })} />
      )}
      <p className="text-sm text-muted">
        {draft.id === null
          ? 'Click the map, or use the arrow keys on the cross, to place it.'
          : 'Click its new place, or use the arrow keys on the cross, to move it.'}{' '}
        Points of the same net share readings.
      </p>
      <div className="flex flex-wrap items-center gap-2">
        <GatedButton
          type="submit"
          className="button button-main"
          blocked={saving ? 'Saving …' : draft.net.trim() === '' ? 'Enter the net first' : null}
        >
          {draft.id === null ? 'Add the point' : 'Save the point'}
        </GatedButton>
        {draft.id === null && (
          <GatedButton
            className="button"
            blocked={saving ? 'Saving …' : draft.net.trim() === '' ? 'Enter the net first' : null}
            onClick={() => onSave(true)}
          >
            Add, and another of this net
          </GatedButton>
        )}
        <button type="button" className="button" onClick={onClose}>
          Cancel
        </button>
        {draft.id !== null && (
          <button type="button" className="button" onClick={onRemove}>
            Remove
          </button>
        )}
        {draft.id !== null && otherNets.length > 0 && (
          <span className="flex items-center gap-2 text-sm">
            <select
              aria-label="Same net as"
              className="field min-h-9 w-44 py-1"
              value={into}
              onChange={(e) => setInto(e.target.value)}
            >
              <option value="">same net as …</option>
              {otherNets.map((n) => (
                <option key={n.net} value={n.net}>
                  {n.name}
                </option>
              ))}
            </select>
            <GatedButton
              className="button min-h-9"
              blocked={into === '' ? 'Choose the net first' : null}
              onClick={() => onMerge(into)}
            >
              Merge nets
            </GatedButton>
          </span>
        )}
      </div>
    </form>
  );
}
