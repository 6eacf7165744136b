'use client';

import { checkTypes, depths, namedChecks, type CheckId } from '@umbral/core/words';
import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { addCheck, setRemoved } from './actions';
import { CircuitSelect, ElementNames, FollowsSelect, FormFoot, OneOf } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from './view';
import { SelectField, TextField } from '@/ui/kit/fields';

/** Enters any check with its outcome, whether it was proposed or not. */
export function CheckDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  const [check, setCheck] = useState<CheckId>(namedChecks.screen);
  const [outcome, setOutcome] = useState('');
  const [note, setNote] = useState('');
  const [where, setWhere] = useState('');
  const [circuit, setCircuit] = useState('');
  const [rail, setRail] = useState('');
  const [half, setHalf] = useState('');
  const [unplugged, setUnplugged] = useState('');
  const [after, setAfter] = useState<string | null>();
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const type = checkTypes[check];
  const hasPlace = type.asksPlace ?? false;
  return (
    <Dialog open={!saving} title="Add a check" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          const at = hasPlace ? { where, circuit, rail: type.readBy === 'heat' ? rail : '' } : {};
          const off = unplugged.split(',').map((x) => x.trim());
          const seen = { half: half || null, unplugged: off.filter(Boolean) };
          save(() => addCheck({ jobId: view.job.id, check, outcome: outcome || null, note, after, ...at, ...seen }), {
            entry: outcome === '' ? type.name : `${type.name}: ${outcome.replaceAll('-', ' ')}`,
            done: `${type.name}: saved.`,
            undo: (entryId) => save(() => setRemoved({ jobId: view.job.id, table: 'checks', entryId, removed: true })),
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <SelectField
          label="Check"
          value={check}
          onValue={(value) => {
            setCheck(value as CheckId);
            setOutcome('');
          }}
        >
          {depths.map(({ name: words }, depth) => (
            <optgroup key={words} label={words}>
              {Object.entries(checkTypes)
                .filter(([, t]) => t.depth === depth)
                .map(([id, t]) => (
                  <option key={id} value={id}>
                    {t.name}
                  </option>
                ))}
            </optgroup>
          ))}
        </SelectField>
        <OneOf
          question={type.ask}
          name="outcome"
          choices={type.outcomes.map((o) => ({ id: o, says: o.replaceAll('-', ' ') }))}
          value={outcome}
          onChange={setOutcome}
        />
        {hasPlace && (
          <div className="grid gap-3 sm:grid-cols-2">
            <TextField label="Where" hint="part, rail or place" list="elements" value={where} onValue={setWhere} />
            <CircuitSelect label="Circuit" value={circuit} onChange={setCircuit} />
            {type.readBy === 'heat' && (
              <TextField label="Fed at" hint="leave empty if the device was running" value={rail} onValue={setRail} />
            )}
          </div>
        )}
        <div className="grid gap-3 sm:grid-cols-2">
          <TextField
            label="Unplugged meanwhile"
            hint="names, separated by commas"
            list="elements"
            value={unplugged}
            onValue={setUnplugged}
          />
          {view.halves.length > 0 && (
            <SelectField label="Seen on" value={half} onValue={setHalf}>
              <option value="">the whole device</option>
              {view.halves.map((h) => (
                <option key={h} value={h}>
                  the {h} half alone
                </option>
              ))}
            </SelectField>
          )}
        </div>
        <ElementNames names={view.elements} />
        <FollowsSelect actions={view.actions} value={after} onChange={setAfter} />
        <TextField label="Note" value={note} onValue={setNote} />
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
