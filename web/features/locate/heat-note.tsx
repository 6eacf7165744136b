'use client';

import { useState } from 'react';
import { formatCurrent, formatStatedCurrent, formatVoltage } from '@umbral/core/words';
import { CircuitSelect, FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { keepHeatSeen, readSeenWarm } from './actions';
import type { SeenHeat } from './plan-steps';
import type { LocateView, RailChoice } from './view';
import { SelectField, TextField } from '@/ui/kit/fields';

const outcomes = {
  'one-spot': 'one spot',
  uniform: 'a whole part, evenly',
  'several-spots': 'several spots',
  'leads-only': 'only the leads or the plug',
  none: 'nothing',
} as const;

/** Keeps what was seen to warm: the last place down the power tree counts, what lies on the way to it warms as well. */
export function HeatNote({ view, rail, seen }: { view: LocateView; rail: RailChoice; seen: SeenHeat | null }) {
  const seenHot = seen?.hot ?? null;
  const [outcome, setOutcome] = useState<string>(seenHot === null ? '' : 'one-spot');
  const [hot, setHot] = useState(seenHot ?? '');
  const [fed, setFed] = useState(true);
  const [note, setNote] = useState('');
  const [flow, setFlow] = useState<Flow>({
    volts: seen ? formatVoltage(seen.setV) : '',
    limit: seen ? formatStatedCurrent(seen.limitA) : '',
    amps: seen?.amps ? formatCurrent(seen.amps) : '',
    referenceA: '',
  });
  const [circuit, setCircuit] = useState('');
  const [warm, setWarm] = useState<string[]>(seenHot === null ? [] : [seenHot]);
  const [read, setRead] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const names = outcome === 'one-spot' || outcome === 'uniform' || outcome === 'several-spots';
  /** Everything that is warm is named; the tree says which of it is the place. */
  const name = (list: string[]): void => {
    setWarm(list);
    if (list.length === 0) return setRead('');
    void readSeenWarm({ jobId: view.jobId, warm: list, outcome }).then((answer) => {
      if (!answer.ok) return setProblem(answer.message);
      setRead(answer.value.says);
      if (answer.value.last !== null) setHot(answer.value.last);
    });
  };
  return (
    <form
      aria-label="What got warm"
      className="card grid gap-2 p-3"
      onSubmit={(e) => {
        e.preventDefault();
        save(
          () =>
            keepHeatSeen({
              jobId: view.jobId,
              outcome,
              hot: names && (warm.length > 0 || !view.isOwn) ? hot : '',
              rail: fed ? rail.id : '',
              ...(fed ? flow : {}),
              circuit: view.isOwn ? '' : circuit,
              note,
            }),
          {
            done: 'Saved. The suspects are updated.',
            failed: setProblem,
            then: () => setProblem(null),
          },
        );
      }}
    >
      <h2 className="font-bold">What got warm</h2>
      <fieldset className="flex flex-wrap gap-2">
        <legend className="sr-only">What was seen</legend>
        {Object.entries(outcomes).map(([id, word]) => (
          <label key={id} className={`button min-h-9 ${outcome === id ? 'border-decide bg-decide-soft' : ''}`}>
            <input
              type="radio"
              name="heat"
              className="sr-only"
              checked={outcome === id}
              onChange={() => setOutcome(id)}
            />
            {word}
          </label>
        ))}
      </fieldset>
      {names && !view.isOwn && (
        <div className="grid gap-2 sm:grid-cols-2">
          <TextField label="What gets warm" hint="the last warm place down the tree" value={hot} onValue={setHot} />
          <CircuitSelect label="Circuit" value={circuit} onChange={setCircuit} />
        </div>
      )}
      {names && view.isOwn && <WarmPlaces view={view} rail={rail} warm={warm} hot={hot} says={read} onChange={name} />}
      {outcome === 'uniform' && (
        <p className="text-sm text-muted">
          A working processor warms evenly. A damaged one warms at one spot. Judge it by its rails.
        </p>
      )}
      <label className="flex items-center gap-2 text-sm">
        <input type="checkbox" checked={fed} onChange={(e) => setFed(e.target.checked)} />
        with {rail.name} fed (otherwise the device itself was on)
      </label>
      {fed && <FlowFields flow={flow} onChange={setFlow} />}
      <TextField label="Note" value={note} onValue={setNote} />
      <FormFoot saving={saving} problem={problem} word="Save heat result" />
    </form>
  );
}

/** Everything that is warm, of the places in the power tree. */
function WarmPlaces({
  view,
  rail,
  warm,
  hot,
  says,
  onChange,
}: {
  view: LocateView;
  rail: RailChoice;
  warm: string[];
  hot: string;
  /** How the tree reads them. */
  says: string;
  onChange: (warm: string[]) => void;
}) {
  const nameOf = (id: string): string => view.tree.find((t) => t.id === id)?.name ?? id;
  const others = view.tree.filter((t) => !rail.places.some((p) => p.id === t.id));
  return (
    <div className="grid gap-2">
      <SelectField
        label="Everything that is warm"
        hint="parts on the way to that place get warm too"
        value=""
        onValue={(value) => value && onChange([...new Set([...warm, value])])}
      >
        <option value="">add a place</option>
        <optgroup label={`On ${rail.name}`}>
          {rail.places.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </optgroup>
        <optgroup label="Elsewhere">
          {others.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </optgroup>
      </SelectField>
      {warm.length > 0 && (
        <ul aria-label="Warm" className="flex flex-wrap gap-1.5">
          {warm.map((id) => (
            <li key={id}>
              <button
                type="button"
                className={`button min-h-9 ${id === hot ? 'border-decide bg-decide-soft' : ''}`}
                title="Remove from the list"
                onClick={() => onChange(warm.filter((w) => w !== id))}
              >
                {nameOf(id)} ×
              </button>
            </li>
          ))}
        </ul>
      )}
      {says && (
        <p role="status" className="text-sm">
          {says}
        </p>
      )}
    </div>
  );
}

type Flow = Record<'volts' | 'amps' | 'limit' | 'referenceA', string>;

function FlowFields({ flow, onChange }: { flow: Flow; onChange: (flow: Flow) => void }) {
  return (
    <div className="grid grid-cols-2 gap-2 sm:grid-cols-4">
      {(
        [
          ['volts', 'Voltage at the rail', '0.8 V'],
          ['amps', 'Current', '1.3 A'],
          ['limit', 'Limit', '2 A'],
          ['referenceA', 'Known-good board draws', ''],
        ] as const
      ).map(([key, label, example]) => (
        <TextField
          key={key}
          label={label}
          placeholder={example}
          value={flow[key]}
          onValue={(value) => onChange({ ...flow, [key]: value })}
        />
      ))}
    </div>
  );
}
