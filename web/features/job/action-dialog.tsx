'use client';

import {
  actionKinds,
  actionTypes,
  sayMinutes,
  swappedUnits,
  unitNames,
  waitTypes,
  type ActionKind,
  type SwappedUnit,
  type WaitKind,
} from '@umbral/core/words';
import { useEffect, useState } from 'react';
import { useUsualWaits } from '@/features/waits/use-usual-waits';
import { Dialog } from '@/ui/dialog';
import { Hazard } from '@/ui/parts';
import { addAction, editAction, predictChangeOf } from './actions';
import { blankAction, type ActionForm } from './entry-forms';
import { Dumps } from './dumps';
import { Asks, CircuitSelect, ElementNames, FormFoot, SamePlace } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from './view';
import { SelectField, TextField } from '@/ui/kit/fields';

const confounders = {
  donor: 'the part is from a donor',
  reworked: 'the joint was reworked before',
  variant: 'a different suffix or variant',
} as const;

/** Kinds of change that a whole unit can be put in, out or apart by. */
const withUnit: readonly ActionKind[] = ['replace', 'trial', 'disconnect', 'plug', 'refit', 'split', 'join'];
/** Kinds that put something in: a known-good thing, or the device's own. */
const withOrigin: readonly ActionKind[] = ['replace', 'trial', 'plug', 'refit'];

/** What a device waits for after a change. */
const waits: WaitKind[] = ['cool', 'bath', 'dry', 'part', 'overnight'];

/** Enters one change made to the device, or meant to be made, or corrects one: with what each suspect expects of the run after it. */
export function ActionDialog({
  view,
  edit = null,
  start = {},
  onClose,
}: {
  view: Pick<JobView, 'elements' | 'actions' | 'runs' | 'dumps' | 'dumpsSay'> & { job: { id: number } };
  /** The change that is corrected; null for a new one. */
  edit?: { id: number; values: ActionForm } | null;
  /** What is filled in already. */
  start?: Partial<ActionForm>;
  onClose: () => void;
}) {
  const [form, setForm] = useState({
    ...(edit?.values ?? { ...blankAction, ...start }),
    wait: '' as WaitKind | '',
    planned: false,
  });
  const [problem, setProblem] = useState<string | null>(null);
  const [asks, setAsks] = useState<{ says: string[]; sameAs: string | null }>({ says: [], sameAs: null });
  const { saving, save } = useSave();
  const isAsked = asks.says.length > 0 || asks.sameAs !== null;
  const set = (change: Partial<typeof form>): void => {
    setForm({ ...form, ...change });
    setAsks({ says: [], sameAs: null });
  };
  const usual = useUsualWaits();
  const predicted = usePredictedChange(view.job.id, form.kind, form.target, form.circuit, form.undoes);
  const { putsBack: goesBack, isIrreversible: irreversible, comesOff, caution } = actionTypes[form.kind];
  const canStayOff = form.kind === 'remove' || form.kind === 'disconnect';
  const submit = (changed: Partial<typeof form> = {}, confirmed = isAsked): void => {
    const { wait, unit, stays, with: origin, ...rest } = { ...form, ...changed };
    const entry = {
      ...rest,
      jobId: view.job.id,
      stays: stays && canStayOff,
      unit: withUnit.includes(form.kind) && unit !== '' ? unit : null,
      with: withOrigin.includes(form.kind) && origin !== '' ? origin : null,
      runBefore: form.runBefore || null,
      waitKind: wait || null,
      waitMinutes: wait === '' ? null : (usual?.[wait] ?? null),
      confirmed,
    };
    save(() => (edit ? editAction({ ...entry, entryId: edit.id }) : addAction(entry)), {
      done: edit ? 'Corrected.' : undefined,
      then: (entered) => {
        if (!entered.kept) return setAsks({ says: entered.asks, sameAs: entered.sameAs ?? null });
        onClose();
      },
      failed: setProblem,
    });
  };
  return (
    <Dialog open title={edit ? 'Correct the change' : 'Add a repair or change'} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        {caution && <Hazard>{caution}</Hazard>}
        {form.kind === 'reload-firmware' && <Dumps jobId={view.job.id} dumps={view.dumps} verdict={view.dumpsSay} />}
        {form.kind === 'reflow' && (
          <p className="text-sm text-muted">
            A reflow is usually not a lasting repair. Treat it as provisional and check the device again later.
          </p>
        )}
        <div className="grid grid-cols-2 gap-3">
          <SelectField label="What was done" value={form.kind} onValue={(value) => set({ kind: value as ActionKind })}>
            {actionKinds.map((k) => (
              <option key={k} value={k}>
                {actionTypes[k].name}
              </option>
            ))}
          </SelectField>
          <CircuitSelect label="Circuit" value={form.circuit} onChange={(circuit) => set({ circuit })} />
          <TextField
            label="Part"
            hint="in your own words"
            list="elements"
            value={form.target}
            onValue={(value) => set({ target: value })}
          />
          {withUnit.includes(form.kind) && <WholeUnit unit={form.unit} onChange={(unit) => set({ unit })} />}
          {withOrigin.includes(form.kind) && (
            <SelectField
              label="What came in"
              value={form.with}
              onValue={(value) => set({ with: value as ActionForm['with'] })}
            >
              <option value="">a new part</option>
              <option value="good">a known-good one, or from a donor</option>
              <option value="own">the device’s own, put back</option>
            </SelectField>
          )}
          <SelectField
            label="State before the change"
            value={form.runBefore}
            onValue={(value) => set({ runBefore: value })}
          >
            <option value="">last run, nothing unplugged</option>
            {view.runs.map((r) => (
              <option key={r.key} value={r.key}>
                {r.title}
              </option>
            ))}
          </SelectField>
          {goesBack && view.actions.length > 0 && (
            <SelectField label="Undoes" value={form.undoes} onValue={(value) => set({ undoes: value })}>
              <option value="">nothing</option>
              {view.actions.map((a) => (
                <option key={a.key} value={a.key}>
                  {a.words}
                </option>
              ))}
            </SelectField>
          )}
          {comesOff && form.unit === '' && (
            <>
              <TextField
                label="Part number"
                hint="including the suffix"
                value={form.part}
                onValue={(value) => set({ part: value })}
              />
              <TextField
                label="Orientation"
                hint="dot, bevel, pin 1"
                value={form.orientation}
                onValue={(value) => set({ orientation: value })}
              />
            </>
          )}
          <TextField label="Note" value={form.note} onValue={(value) => set({ note: value })} />
          {!edit && <WaitsFor wait={form.wait} onChange={(wait) => set({ wait })} usual={usual} />}
        </div>
        <Proposals form={form} onTake={set} />
        {canStayOff && <StaysOff checked={form.stays} onChange={(stays) => set({ stays })} />}
        {!edit && (
          <label className="flex min-h-9 items-center gap-2 text-sm">
            <input type="checkbox" checked={form.planned} onChange={(e) => set({ planned: e.target.checked })} />
            planned: not done yet
          </label>
        )}
        <ElementNames names={view.elements} />
        {(form.kind === 'replace' || form.kind === 'reflow') && (
          <Confounders chosen={form.confounders} onChange={(next) => set({ confounders: next })} />
        )}
        <Predicted of={predicted} />
        {irreversible && (
          <p className="text-sm text-muted">This cannot be undone. Is the data needed, and does the customer agree?</p>
        )}
        <SamePlace sameAs={asks.sameAs} onSame={(target) => submit({ target }, asks.says.length > 0)} />
        <Asks of={asks.says} />
        <FormFoot saving={saving} problem={problem} word={saveWord(isAsked, asks.sameAs, edit !== null)} />
      </form>
    </Dialog>
  );
}

const saveWord = (isAsked: boolean, sameAs: string | null, isEdit: boolean): string =>
  sameAs !== null ? 'Save as another part' : isAsked ? 'Save anyway' : isEdit ? 'Save the correction' : 'Save';

/** What the words of a note may mean, to be accepted: a note by itself says nothing to the diagnosis. */
function Proposals({ form, onTake }: { form: ActionForm; onTake: (change: Partial<ActionForm>) => void }) {
  const text = `${form.target} ${form.note}`;
  const found = Object.entries(confounderWords).filter(
    ([id, words]) => words.test(text) && !form.confounders.includes(id) && form.kind === 'replace',
  );
  if (found.length === 0) return null;
  return (
    <div className="flex flex-wrap gap-1.5">
      {found.map(([id]) => (
        <button
          key={id}
          type="button"
          className="chip min-h-9 hover:border-edge"
          onClick={() => onTake({ confounders: [...form.confounders, id] })}
        >
          Note that {confounders[id as keyof typeof confounders]}?
        </button>
      ))}
    </div>
  );
}

const confounderWords: Record<string, RegExp> = {
  donor: /\b(donor|used|salvaged?|second[- ]hand|scrap(?:ped)?)\b/i,
  reworked: /\brework(?:ed)?\b/i,
  variant: /\b(variant|suffix)\b/i,
};

function StaysOff({ checked, onChange }: { checked: boolean; onChange: (checked: boolean) => void }) {
  return (
    <label className="flex min-h-9 items-center gap-2 text-sm">
      <input type="checkbox" checked={checked} onChange={(e) => onChange(e.target.checked)} />
      not refitted: the device works without it
    </label>
  );
}

function WaitsFor({
  wait,
  onChange,
  usual,
}: {
  wait: WaitKind | '';
  onChange: (wait: WaitKind | '') => void;
  usual: ReturnType<typeof useUsualWaits>;
}) {
  return (
    <SelectField label="Then wait for" value={wait} onValue={(value) => onChange(value as WaitKind | '')}>
      <option value="">nothing</option>
      {waits.map((kind) => (
        <option key={kind} value={kind}>
          {waitTypes[kind].name}
          {usual ? `, ${sayMinutes(usual[kind])}` : ''}
        </option>
      ))}
    </SelectField>
  );
}

function WholeUnit({ unit, onChange }: { unit: SwappedUnit | ''; onChange: (unit: SwappedUnit | '') => void }) {
  return (
    <SelectField
      label="Whole unit"
      hint="with everything on it"
      value={unit}
      onValue={(value) => onChange(value as SwappedUnit | '')}
    >
      <option value="">no, a part of it</option>
      {swappedUnits.map((id) => (
        <option key={id} value={id}>
          {`the ${unitNames[id]}`}
        </option>
      ))}
    </SelectField>
  );
}

/** What makes the result of a change weaker evidence. */
function Confounders({ chosen, onChange }: { chosen: string[]; onChange: (next: string[]) => void }) {
  return (
    <fieldset className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
      <legend className="font-semibold">Makes the result less certain</legend>
      {Object.entries(confounders).map(([id, words]) => (
        <label key={id} className="flex min-h-9 items-center gap-2">
          <input
            type="checkbox"
            checked={chosen.includes(id)}
            onChange={(e) => onChange(e.target.checked ? [...chosen, id] : chosen.filter((c) => c !== id))}
          />
          {words}
        </label>
      ))}
    </fieldset>
  );
}

function Predicted({ of }: { of: readonly { name: string; says: string }[] }) {
  if (of.length === 0) return null;
  return (
    <section aria-label="Expected in the next run" className="rounded-lg border border-line px-3 py-2 text-sm">
      <h3 className="font-semibold">Expected in the next run</h3>
      <ul>
        {of.map((f) => (
          <li key={f.name} className="flex justify-between gap-3">
            <span>if it is {f.name}</span>
            <span>{f.says}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What each suspect expects, a moment after the part was named. */
function usePredictedChange(
  jobId: number,
  kind: string,
  target: string,
  circuit: string,
  undoes: string,
): { name: string; says: string }[] {
  const [found, setFound] = useState<{ of: string; list: { name: string; says: string }[] }>({ of: '', list: [] });
  const of = `${kind} ${circuit} ${undoes} ${target}`;
  useEffect(() => {
    if (target.trim() === '' && circuit === '') return;
    let isOn = true;
    const timer = setTimeout(() => {
      void predictChangeOf({ jobId, kind, target, circuit, undoes }).then((answer) => {
        if (isOn && answer.ok) setFound({ of, list: answer.value });
      });
    }, 350);
    return () => {
      isOn = false;
      clearTimeout(timer);
    };
  }, [jobId, kind, target, circuit, undoes, of]);
  return found.of === of ? found.list : [];
}
