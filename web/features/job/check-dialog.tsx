'use client';

import { checkTypes, depths, type CheckId } from '@umbral/core/words';
import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { Field } from '@/ui/parts';
import { addCheck, setRemoved } from './actions';
import { CircuitSelect, ElementNames, FollowsSelect, FormFoot, OneOf } from './form-parts';
import { useSave } from './use-save';
import type { JobView } from './view';

/** Checks that mean a place: where the corrosion sits, what warmed, what was measured. */
const placed: readonly CheckId[] = ['visual', 'heat-view', 'main-rail-resistance', 'peripherals-unplugged'];

/** Enters any check with its outcome, whether it was proposed or not. */
export function CheckDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  const [check, setCheck] = useState<CheckId>('screen');
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
  const hasPlace = placed.includes(check);
  return (
    <Dialog open={!saving} title="Enter a check" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          const at = hasPlace ? { where, circuit, rail: check === 'heat-view' ? rail : '' } : {};
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
        <Field label="Check">
          <select
            className="field"
            value={check}
            onChange={(e) => {
              setCheck(e.target.value as CheckId);
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
          </select>
        </Field>
        <OneOf
          question={type.ask}
          name="outcome"
          choices={type.outcomes.map((o) => ({ id: o, says: o.replaceAll('-', ' ') }))}
          value={outcome}
          onChange={setOutcome}
        />
        {hasPlace && (
          <div className="grid gap-3 sm:grid-cols-2">
            <Field label="Where" hint="part, rail or place">
              <input className="field" list="elements" value={where} onChange={(e) => setWhere(e.target.value)} />
            </Field>
            <CircuitSelect label="Circuit" value={circuit} onChange={setCircuit} />
            {check === 'heat-view' && (
              <Field label="Fed at" hint="empty where the device ran">
                <input className="field" value={rail} onChange={(e) => setRail(e.target.value)} />
              </Field>
            )}
          </div>
        )}
        <div className="grid gap-3 sm:grid-cols-2">
          <Field label="Unplugged meanwhile" hint="names, with commas">
            <input className="field" list="elements" value={unplugged} onChange={(e) => setUnplugged(e.target.value)} />
          </Field>
          {view.halves.length > 0 && (
            <Field label="Seen on">
              <select className="field" value={half} onChange={(e) => setHalf(e.target.value)}>
                <option value="">the whole device</option>
                {view.halves.map((h) => (
                  <option key={h} value={h}>
                    the {h} half alone
                  </option>
                ))}
              </select>
            </Field>
          )}
        </div>
        <ElementNames names={view.elements} />
        <FollowsSelect actions={view.actions} value={after} onChange={setAfter} />
        <Field label="Note">
          <input className="field" value={note} onChange={(e) => setNote(e.target.value)} />
        </Field>
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
