'use client';

import { useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { Dialog } from '@/ui/dialog';
import { wholeNumberOf } from '@/ui/whole-number';
import { keepInstrument, tryAt, type InstrumentFields } from './actions';
import { sayShown } from './say-shown';
import type { InstrumentView, SettingsViewData } from './view';
import { SelectField, TextField } from '@/ui/kit/fields';

/** An instrument as the form has it; the usual one where there is none yet. */
export function fieldsOf(i: InstrumentView | null): InstrumentFields {
  const usual = {
    host: '',
    port: 5025,
    path: '',
    baudRate: 115_200,
    unit: null,
    benchId: i?.benchId ?? null,
    pageWay: 'serial' as const,
    service: '',
    notify: '',
    write: '',
  };
  if (i === null)
    return { ...usual, key: null, version: 0, name: '', kind: 'supply', dialect: 'scpi-usual', way: 'tcp' };
  const { key, version, name, kind, dialect, transport } = i;
  const of = { ...usual, key, version, name, kind, dialect, way: transport.kind };
  if (transport.kind === 'tcp')
    return { ...of, host: transport.host, port: transport.port, unit: transport.unit ?? null };
  if (transport.kind === 'browser') {
    const { way, baudRate, unit, service = '', notify = '', write = '' } = transport;
    return { ...of, pageWay: way, baudRate: baudRate ?? usual.baudRate, unit: unit ?? null, service, notify, write };
  }
  if (transport.kind !== 'serial') return of;
  return { ...of, path: transport.path, baudRate: transport.baudRate, unit: transport.unit ?? null };
}

const groupNames = { supply: 'Supplies', meter: 'Meters', multimeter: 'Multimeters' } as const;

const bluetoothLabels = {
  service: 'Service',
  notify: 'Notify characteristic',
  write: 'Write characteristic',
} as const;

/** Describes an instrument: what it is, where it is reached, what it speaks. */
export function InstrumentDialog({
  instrument,
  found,
  dialects,
  benches,
  onClose,
  onSaved,
}: {
  instrument: InstrumentView | null;
  /** What was found, to begin with; left out for a form that is empty. */
  found?: Partial<InstrumentFields>;
  dialects: SettingsViewData['dialects'];
  benches: SettingsViewData['benches'];
  onClose: () => void;
  onSaved: (problems: string[]) => void;
}) {
  const [form, setForm] = useState<InstrumentFields>(() => ({ ...fieldsOf(instrument), ...found }));
  const [tried, setTried] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const set = (change: Partial<InstrumentFields>): void => setForm({ ...form, ...change });
  const spoken = dialects.find((d) => d.id === form.dialect);
  const speak = (id: string): void => {
    const next = dialects.find((d) => d.id === id);
    const speed = next && !next.bauds.includes(form.baudRate ?? 0) ? { baudRate: next.bauds[0] } : {};
    set({ dialect: id, kind: next?.kind ?? form.kind, ...speed });
  };
  const tryNow = (): void => {
    setTried('Trying …');
    setProblem(null);
    void tryAt(form).then((result) => {
      if (!result.ok) {
        setTried(null);
        return setProblem(result.message);
      }
      setTried(sayShown(result.value));
    });
  };
  const isSimulated = instrument?.simulated ?? false;
  return (
    <Dialog open title={instrument ? `Edit ${instrument.name}` : 'Add an instrument'} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => keepInstrument(form), {
            done: 'Saved. Connecting …',
            then: ({ problems }) => {
              onSaved(problems);
              onClose();
            },
            failed: setProblem,
          });
        }}
      >
        <TextField
          label="Name"
          hint="as you call it at the bench"
          value={form.name}
          onValue={(value) => set({ name: value })}
        />
        {benches.length > 0 && !isSimulated && (
          <SelectField
            label="Bench"
            value={form.benchId ?? ''}
            onValue={(value) => set({ benchId: value === '' ? null : Number(value) })}
          >
            <option value="">this computer</option>
            {benches.map((b) => (
              <option key={b.id} value={b.id}>
                {b.name}
                {b.isThere ? '' : ' (not connected)'}
              </option>
            ))}
          </SelectField>
        )}
        {isSimulated ? (
          <p className="text-sm text-muted">Simulated. It connects automatically while the simulated bench runs.</p>
        ) : (
          <div className="grid grid-cols-2 gap-3">
            {form.way !== 'camera' && (
              <SelectField label="Language" value={form.dialect} onValue={speak} className="col-span-2">
                {(['supply', 'meter', 'multimeter'] as const).map((kind) => (
                  <optgroup key={kind} label={groupNames[kind]}>
                    {dialects
                      .filter((d) => d.kind === kind)
                      .map((d) => (
                        <option key={d.id} value={d.id}>
                          {d.name}
                        </option>
                      ))}
                  </optgroup>
                ))}
              </SelectField>
            )}
            <SelectField
              label="Connected by"
              value={form.way}
              onValue={(value) => set({ way: value as InstrumentFields['way'] })}
            >
              <option value="tcp">network</option>
              <option value="serial">serial port</option>
              <option value="browser">the computer of this browser</option>
              <option value="camera">a camera on its display</option>
            </SelectField>
            {spoken?.unit != null && form.way !== 'camera' ? (
              <TextField
                label="Address on the bus"
                hint={`usually ${spoken.unit}`}
                inputMode="numeric"
                value={form.unit ?? ''}
                onValue={(value) => set({ unit: wholeNumberOf(value) })}
              />
            ) : (
              form.way !== 'browser' && <span />
            )}
            {form.way === 'browser' && (
              <>
                <SelectField
                  label="Plugged in by"
                  value={form.pageWay}
                  onValue={(value) => set({ pageWay: value as InstrumentFields['pageWay'] })}
                >
                  <option value="serial">serial port</option>
                  <option value="hid">USB without a serial port (HID)</option>
                  <option value="bluetooth">Bluetooth</option>
                </SelectField>
                {form.pageWay === 'serial' ? (
                  <TextField
                    label="Speed"
                    hint="baud"
                    inputMode="numeric"
                    value={form.baudRate ?? ''}
                    onValue={(value) => set({ baudRate: wholeNumberOf(value) })}
                  />
                ) : (
                  form.pageWay === 'hid' && <span />
                )}
                {form.pageWay === 'bluetooth' &&
                  (['service', 'notify', 'write'] as const).map((of) => (
                    <TextField
                      key={of}
                      label={bluetoothLabels[of]}
                      value={form[of]}
                      placeholder="ffe0"
                      onValue={(value) => set({ [of]: value })}
                    />
                  ))}
                <p className="col-span-2 text-sm text-muted">
                  Save it, then press “Connect here” on the computer that it is plugged into. The browser asks which
                  device it is. The window must stay open.
                </p>
              </>
            )}
            {form.way === 'camera' && (
              <p className="col-span-2 text-sm text-muted">
                For instruments that cannot log. Open the Camera page, point a camera at the display, and frame the
                numbers once.
              </p>
            )}
            {form.way === 'tcp' && (
              <>
                <TextField
                  label="Address"
                  value={form.host}
                  placeholder="192.0.2.10"
                  onValue={(value) => set({ host: value })}
                />
                <TextField
                  label="Port"
                  inputMode="numeric"
                  value={form.port ?? ''}
                  onValue={(value) => set({ port: wholeNumberOf(value) })}
                />
              </>
            )}
            {form.way === 'serial' && (
              <>
                <TextField
                  label="Serial port"
                  value={form.path}
                  placeholder="/dev/ttyACM0"
                  onValue={(value) => set({ path: value })}
                />
                <TextField
                  label="Speed"
                  hint="baud"
                  inputMode="numeric"
                  value={form.baudRate ?? ''}
                  onValue={(value) => set({ baudRate: wholeNumberOf(value) })}
                />
              </>
            )}
          </div>
        )}
        {tried && (
          <p role="status" className="rounded-lg border border-line bg-raised px-3 py-1.5 text-sm">
            {tried}
          </p>
        )}
        {!isSimulated && (form.way === 'tcp' || form.way === 'serial') && (
          <button type="button" className="button justify-self-start" onClick={tryNow}>
            Try it
          </button>
        )}
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
