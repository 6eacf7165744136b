'use client';

import { useState } from 'react';
import { FormFoot } from '@/features/job/form-parts';
import { useSave } from '@/features/job/use-save';
import { Dialog } from '@/ui/dialog';
import { Field } from '@/ui/parts';
import { wholeNumberOf } from '@/ui/whole-number';
import { keepInstrument, type InstrumentFields } from './actions';
import type { InstrumentView, SettingsViewData } from './view';

function fieldsOf(i: InstrumentView | null): InstrumentFields {
  const usual = { host: '', port: 5025, path: '', baudRate: 115_200, benchId: i?.benchId ?? null };
  if (i === null)
    return { ...usual, key: null, version: 0, name: '', kind: 'supply', dialect: 'scpi-usual', way: 'tcp' };
  const { key, version, name, kind, dialect, transport } = i;
  const of = { ...usual, key, version, name, kind, dialect, way: transport.kind };
  if (transport.kind === 'tcp') return { ...of, host: transport.host, port: transport.port };
  return transport.kind === 'serial' ? { ...of, path: transport.path, baudRate: transport.baudRate } : of;
}

/** Describes an instrument: what it is, where it is reached, what it speaks. */
export function InstrumentDialog({
  instrument,
  dialects,
  benches,
  onClose,
  onSaved,
}: {
  instrument: InstrumentView | null;
  dialects: SettingsViewData['dialects'];
  benches: SettingsViewData['benches'];
  onClose: () => void;
  onSaved: (problems: string[]) => void;
}) {
  const [form, setForm] = useState(() => fieldsOf(instrument));
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const set = (change: Partial<InstrumentFields>): void => setForm({ ...form, ...change });
  const spoken = dialects.filter((d) => d.kind === form.kind);
  const changeKind = (kind: InstrumentFields['kind']): void =>
    set({ kind, dialect: dialects.find((d) => d.kind === kind)?.id ?? '' });
  const isSimulated = instrument?.simulated ?? false;
  return (
    <Dialog open title={instrument ? `Edit ${instrument.name}` : 'Add an instrument'} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => keepInstrument(form), {
            done: 'Saved; it is being looked for.',
            then: ({ problems }) => {
              onSaved(problems);
              onClose();
            },
            failed: setProblem,
          });
        }}
      >
        <Field label="Name" hint="as people at the bench call it">
          <input className="field" value={form.name} onChange={(e) => set({ name: e.target.value })} />
        </Field>
        {benches.length > 0 && !isSimulated && (
          <Field label="Bench">
            <select
              className="field"
              value={form.benchId ?? ''}
              onChange={(e) => set({ benchId: e.target.value === '' ? null : Number(e.target.value) })}
            >
              <option value="">this computer</option>
              {benches.map((b) => (
                <option key={b.id} value={b.id}>
                  {b.name}
                  {b.isThere ? '' : ' (not connected)'}
                </option>
              ))}
            </select>
          </Field>
        )}
        {isSimulated ? (
          <p className="text-sm text-muted">Simulated: it is found by itself while the simulated bench runs.</p>
        ) : (
          <div className="grid grid-cols-2 gap-3">
            {form.way !== 'camera' && (
              <>
                <Field label="Kind">
                  <select
                    className="field"
                    value={form.kind}
                    onChange={(e) => changeKind(e.target.value as InstrumentFields['kind'])}
                  >
                    <option value="supply">bench supply</option>
                    <option value="meter">meter that sends lines</option>
                  </select>
                </Field>
                <Field label="Speaks">
                  <select className="field" value={form.dialect} onChange={(e) => set({ dialect: e.target.value })}>
                    {spoken.map((d) => (
                      <option key={d.id} value={d.id}>
                        {d.name}
                      </option>
                    ))}
                  </select>
                </Field>
              </>
            )}
            <Field label="Connected by">
              <select
                className="field"
                value={form.way}
                onChange={(e) => set({ way: e.target.value as InstrumentFields['way'] })}
              >
                <option value="tcp">network</option>
                <option value="serial">serial port</option>
                <option value="camera">a camera on its display</option>
              </select>
            </Field>
            <span />
            {form.way === 'camera' && (
              <p className="col-span-2 text-sm text-muted">
                For what cannot log. Point a camera at its display on the page Camera, and frame the numbers there once.
              </p>
            )}
            {form.way === 'tcp' && (
              <>
                <Field label="Address">
                  <input
                    className="field"
                    value={form.host}
                    placeholder="192.0.2.10"
                    onChange={(e) => set({ host: e.target.value })}
                  />
                </Field>
                <Field label="Port">
                  <input
                    className="field"
                    inputMode="numeric"
                    value={form.port ?? ''}
                    onChange={(e) => set({ port: wholeNumberOf(e.target.value) })}
                  />
                </Field>
              </>
            )}
            {form.way === 'serial' && (
              <>
                <Field label="Serial port">
                  <input
                    className="field"
                    value={form.path}
                    placeholder="/dev/ttyACM0"
                    onChange={(e) => set({ path: e.target.value })}
                  />
                </Field>
                <Field label="Speed" hint="baud">
                  <input
                    className="field"
                    inputMode="numeric"
                    value={form.baudRate ?? ''}
                    onChange={(e) => set({ baudRate: wholeNumberOf(e.target.value) })}
                  />
                </Field>
              </>
            )}
          </div>
        )}
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
