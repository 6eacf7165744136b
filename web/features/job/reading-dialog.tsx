'use client';

import { railStates } from '@umbral/core/words';
import { useRef, useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { FromMeter } from '@/features/measure/from-meter';
import { Hazard } from '@/ui/parts';
import { addReading, addSweep } from './actions';
import { Asks, CircuitSelect, ElementNames, FollowsSelect, FormFoot, SamePlace } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from './view';
import { SelectField, TextField } from '@/ui/kit/fields';

const phases = {
  '': 'not stated',
  before: 'before power-on',
  after: 'after power-on',
  plugged: 'charger plugged in',
} as const;

interface ReadingForm {
  where: string;
  text: string;
  reference: string;
  mode: string;
  circuit: string;
  state: string;
  phase: string;
  redProbe: string;
  leads: string;
  across: boolean;
  good: boolean;
  after: string | null | undefined;
}

/** Whoever measures goes on in the mode of the last reading. */
function lastMode({ story }: Pick<JobView, 'story'>): string {
  const form = story.findLast((e) => e.kind === 'reading')?.entry?.form;
  return form?.of === 'reading' ? form.values.mode : 'voltage';
}

/** Readings one after the other by keyboard: value, Enter, next; or many points in one line. */
export function ReadingDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  const blank = { where: '', text: '', reference: '' };
  const [form, setForm] = useState<ReadingForm>({
    ...blank,
    mode: lastMode(view),
    circuit: '',
    state: '',
    phase: '',
    redProbe: 'ground',
    leads: '',
    across: false,
    good: false,
    after: undefined,
  });
  const [sweep, setSweep] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [asks, setAsks] = useState<string[]>([]);
  const [sameAs, setSameAs] = useState<string | null>(null);
  const [saved, setSaved] = useState(0);
  const [standsOut, setStandsOut] = useState<string[]>([]);
  const { saving, save } = useSave();
  const where = useRef<HTMLInputElement>(null);
  const set = (change: Partial<typeof form>): void => {
    setForm({ ...form, ...change });
    setProblem(null);
    setAsks([]);
    setSameAs(null);
  };
  const isSweep = sweep.trim() !== '';
  const leads = form.leads.trim() === '' ? null : Number(form.leads.replace(/\s*ohm$/i, '').replace(',', '.'));
  const common = {
    jobId: view.job.id,
    mode: form.mode,
    circuit: form.circuit,
    state: form.state,
    phase: form.mode === 'voltage' ? form.phase : '',
    redProbe: form.redProbe,
    leadsOhm: form.mode === 'resistance' ? leads : null,
    after: form.after,
    confirmed: asks.length > 0 || sameAs !== null,
  };
  const next = (count: number): void => {
    setForm({ ...form, ...blank });
    setSweep('');
    setAsks([]);
    setSameAs(null);
    setSaved(saved + count);
    where.current?.focus();
  };
  const submitOne = (where = form.where): void =>
    save(
      () =>
        addReading({
          ...common,
          where,
          text: form.text,
          reference: form.reference,
          good: form.good,
          across: form.across && form.mode === 'resistance',
        }),
      {
        failed: setProblem,
        then: (taken) => {
          if (taken.kept) return next(1);
          setAsks(taken.asks);
          setSameAs(taken.sameAs ?? null);
        },
      },
    );
  const submitSweep = (): void =>
    save(() => addSweep({ ...common, text: sweep }), {
      failed: setProblem,
      then: (taken) => {
        if (!taken.kept) return setAsks(taken.asks);
        setStandsOut(taken.standsOut);
        next(taken.points);
      },
    });
  return (
    <Dialog open title="Add readings" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (isSweep) submitSweep();
          else submitOne();
        }}
      >
        {form.mode !== 'voltage' && (
          <Hazard>
            Disconnect the battery and every supply before measuring{' '}
            {form.mode === 'diode' ? 'in diode mode' : 'resistance'}.
          </Hazard>
        )}
        <FromMeter
          isEmpty={form.text === '' && form.where.trim() !== '' && !isSweep}
          onTake={(text) => set({ text })}
        />
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Where"
            hint="rail, net or part"
            ref={where}
            autoFocus
            list="elements"
            disabled={isSweep}
            value={form.where}
            onValue={(value) => set({ where: value })}
          />
          <SelectField label="Mode" value={form.mode} onValue={(value) => set({ mode: value })}>
            <option value="voltage">voltage</option>
            <option value="diode">diode mode</option>
            <option value="resistance">resistance</option>
          </SelectField>
          <TextField
            label="Value"
            hint="or OL, no beep, ok, >1k, 0.8~1.2"
            disabled={isSweep}
            value={form.text}
            placeholder={form.mode === 'resistance' ? '12 or 4.7k' : form.mode === 'diode' ? '0.41 or OL' : '1.79'}
            onValue={(value) => set({ text: value })}
          />
          <TextField
            label="Known-good board reads"
            hint="leave empty for the saved value"
            disabled={isSweep}
            value={form.reference}
            onValue={(value) => set({ reference: value })}
          />
          <CircuitSelect label="Circuit" value={form.circuit} onChange={(circuit) => set({ circuit })} />
          <ModeFields form={form} set={set} />
          <FollowsSelect actions={view.actions} value={form.after} onChange={(after) => set({ after })} />
        </div>
        <ElementNames names={view.elements} />
        <TextField
          label="Several readings"
          hint="one name and value each, in the mode above"
          placeholder="coil1 45, coil2 90, coil3 0.4"
          value={sweep}
          onValue={(value) => {
            setSweep(value);
            setProblem(null);
            setAsks([]);
          }}
        />
        <SamePlace sameAs={sameAs} onSame={submitOne} />
        <Asks of={asks} />
        <FormFoot
          saving={saving}
          problem={problem}
          word={
            sameAs !== null
              ? 'Save as another place'
              : asks.length > 0
                ? 'Save anyway'
                : isSweep
                  ? 'Save all'
                  : 'Save and add another'
          }
        />
        <Saved count={saved} standsOut={standsOut} />
      </form>
    </Dialog>
  );
}

/** What a reading of this mode needs said beside its value. */
function ModeFields({ form, set }: { form: ReadingForm; set: (change: Partial<ReadingForm>) => void }) {
  if (form.mode === 'voltage')
    return (
      <>
        <SelectField label="Rail state" value={form.state} onValue={(value) => set({ state: value })}>
          <option value="">not stated</option>
          {railStates.map((s) => (
            <option key={s}>{s}</option>
          ))}
        </SelectField>
        <SelectField label="Measured" value={form.phase} onValue={(value) => set({ phase: value })}>
          {Object.entries(phases).map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </SelectField>
      </>
    );
  return (
    <>
      <SelectField label="Red probe at" value={form.redProbe} onValue={(value) => set({ redProbe: value })}>
        <option value="ground">ground</option>
        <option value="point">the point</option>
      </SelectField>
      {form.mode === 'resistance' && (
        <>
          <TextField
            label="Leads together"
            hint="subtracted from low readings"
            placeholder="0.2 ohm"
            value={form.leads}
            onValue={(value) => set({ leads: value })}
          />
          <label className="flex min-h-11 items-center gap-2 self-end text-sm">
            <input type="checkbox" checked={form.across} onChange={(e) => set({ across: e.target.checked })} />
            across a part that should conduct (fuse, coil, link)
          </label>
        </>
      )}
    </>
  );
}

/** How many were kept since the dialog was opened, and which of the last ones stand out. */
function Saved({ count, standsOut }: { count: number; standsOut: readonly string[] }) {
  return (
    <>
      {count > 0 && (
        <p role="status" className="text-sm text-muted">
          {count === 1 ? 'One reading saved.' : `${count} readings saved.`} Press Escape to close.
        </p>
      )}
      {standsOut.length > 0 && (
        <ul aria-label="Outlier" className="grid gap-0.5 text-sm font-semibold text-decide">
          {standsOut.map((s) => (
            <li key={s}>{s}</li>
          ))}
        </ul>
      )}
    </>
  );
}
