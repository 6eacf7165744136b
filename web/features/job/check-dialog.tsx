'use client';

import { checkTypes, depths, isCheck, namedChecks } from '@umbral/core/words';
import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { addCheck, editCheck, takeBack } from './actions';
import { blankCheck, type CheckForm } from './entry-forms';
import { CircuitSelect, ElementNames, FollowsSelect, FormFoot, OneOf } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from './view';
import { SelectField, TextField } from '@/ui/kit/fields';

/** Enters any check with its outcome, whether it was proposed or not, or corrects one. */
export function CheckDialog({
  view,
  edit = null,
  onClose,
}: {
  view: Pick<JobView, 'elements' | 'halves' | 'actions'> & { job: { id: number } };
  /** The entry that is corrected; null for a new one. */
  edit?: { id: number; values: CheckForm } | null;
  onClose: () => void;
}) {
  const [form, setForm] = useState<CheckForm>(edit?.values ?? blankCheck);
  const [after, setAfter] = useState<string | null>();
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const jobId = view.job.id;
  const set = (change: Partial<CheckForm>): void => setForm({ ...form, ...change });
  const type = checkTypes[isCheck(form.check) ? form.check : namedChecks.screen];
  const hasPlace = type.asksPlace ?? false;
  const { check, outcome, note, where, circuit, rail, half, unplugged } = form;
  const submit = (): void => {
    const at = hasPlace ? { where, circuit, rail: type.readBy === 'heat' ? rail : '' } : {};
    const off = unplugged.split(',').map((x) => x.trim());
    const seen = { half: half || null, unplugged: off.filter(Boolean) };
    const entry = { jobId, check, outcome: outcome || null, note, ...at, ...seen };
    if (edit)
      return save(() => editCheck({ ...entry, entryId: edit.id }), {
        done: `${type.name}: corrected.`,
        then: onClose,
        failed: setProblem,
      });
    save((confirmed) => addCheck({ ...entry, after, confirmed }), {
      entry: outcome === '' ? type.name : `${type.name}: ${outcome.replaceAll('-', ' ')}`,
      done: `${type.name}: saved.`,
      undo: (entryId) => save(() => takeBack({ jobId, table: 'checks', entryId })),
      then: onClose,
      failed: setProblem,
    });
  };
  return (
    <Dialog open={!saving} title={edit ? `Correct the check` : 'Add a check'} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <SelectField label="Check" value={check} onValue={(value) => set({ check: value, outcome: '' })}>
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
          onChange={(value) => set({ outcome: value })}
        />
        {hasPlace && (
          <div className="grid gap-3 sm:grid-cols-2">
            <TextField
              label="Where"
              hint="part, rail or place"
              list="elements"
              value={where}
              onValue={(value) => set({ where: value })}
            />
            <CircuitSelect label="Circuit" value={circuit} onChange={(value) => set({ circuit: value })} />
            {type.readBy === 'heat' && (
              <TextField
                label="Fed at"
                hint="leave empty if the device was running"
                value={rail}
                onValue={(value) => set({ rail: value })}
              />
            )}
          </div>
        )}
        <div className="grid gap-3 sm:grid-cols-2">
          <TextField
            label="Unplugged meanwhile"
            hint="names, separated by commas"
            list="elements"
            value={unplugged}
            onValue={(value) => set({ unplugged: value })}
          />
          {view.halves.length > 0 && (
            <SelectField label="Seen on" value={half} onValue={(value) => set({ half: value })}>
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
        {!edit && <FollowsSelect actions={view.actions} value={after} onChange={setAfter} />}
        <TextField label="Note" value={note} onValue={(value) => set({ note: value })} />
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
