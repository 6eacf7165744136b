'use client';

import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import type { UnitBench } from '@/server/work/practice/view';
import { formatCurrent, formatVoltage } from '@umbral/core/words';
import { feed, keepProbe } from './actions';
import { SelectField, TextField } from '@/ui/kit/fields';

const looks = [
  { id: 'voltage after', name: 'voltage, after power-on' },
  { id: 'voltage before', name: 'voltage, before power-on' },
  { id: 'voltage plugged', name: 'voltage, on the charger' },
  { id: 'resistance after', name: 'to ground, unpowered' },
] as const;

/** A probe on the practice unit: what the meter shows is kept as a reading. */
export function PracticeProbe({ jobId, bench }: { jobId: number; bench: UnitBench }) {
  const { saving, save } = useSave();
  const [rail, setRail] = useState(bench.rails[0]?.id ?? '');
  const [look, setLook] = useState<string>(looks[0].id);
  const [shown, setShown] = useState('');
  const name = bench.rails.find((r) => r.id === rail)?.name ?? rail;
  const probe = (): void => {
    const [mode, phase] = look.split(' ');
    save(() => keepProbe({ jobId, rail, mode, phase }), { then: ({ shows }) => setShown(`${name}: ${shows}`) });
  };
  return (
    <form
      aria-label="Probe the practice unit"
      className="card mt-2 flex flex-wrap items-end gap-2 p-3"
      onSubmit={(e) => {
        e.preventDefault();
        probe();
      }}
    >
      <RailField rails={bench.rails} rail={rail} onRail={setRail} />
      <div className="min-w-40 flex-1">
        <SelectField label="What" value={look} onValue={setLook}>
          {looks.map((l) => (
            <option key={l.id} value={l.id}>
              {l.name}
            </option>
          ))}
        </SelectField>
      </div>
      <button type="submit" className="button button-main" disabled={saving}>
        Probe
      </button>
      {shown && (
        <p role="status" className="w-full text-sm">
          {shown}, saved.
        </p>
      )}
    </form>
  );
}

/** A supply held to a rail of the practice unit: what flows and what warms is kept as an injection. */
export function PracticeFeed({ jobId, bench }: { jobId: number; bench: UnitBench }) {
  const { saving, save } = useSave();
  const [rail, setRail] = useState(bench.rails[0]?.id ?? '');
  const [setV, setSetV] = useState('');
  const [limitA, setLimitA] = useState('');
  const [shown, setShown] = useState('');
  const [problem, setProblem] = useState('');
  const number = (text: string): number => Number(text.replace(',', '.'));
  const go = (): void => {
    setProblem('');
    if (!(number(setV) > 0)) return setProblem('Volts: expected a number above 0.');
    if (!(number(limitA) > 0)) return setProblem('Limit: expected a number above 0.');
    save(() => feed({ jobId, rail, setV: number(setV), limitA: number(limitA) }), {
      failed: setProblem,
      then: ({ volts, amps, mode, heat }) =>
        setShown(
          `${formatVoltage(volts)}, ${formatCurrent(amps, 0.001)}${mode === 'cc' ? ', in current limit' : ''}. ${heatWords[heat.outcome]}`,
        ),
    });
  };
  return (
    <form
      aria-label="Inject into a rail of the practice unit"
      className="card mt-2 flex flex-wrap items-end gap-2 p-3"
      onSubmit={(e) => {
        e.preventDefault();
        go();
      }}
    >
      <RailField rails={bench.rails} rail={rail} onRail={setRail} />
      <div className="w-24">
        <TextField label="Volts" inputMode="decimal" value={setV} onValue={setSetV} />
      </div>
      <div className="w-24">
        <TextField label="Limit, A" inputMode="decimal" value={limitA} onValue={setLimitA} />
      </div>
      <button type="submit" className="button button-main" disabled={saving}>
        Inject and look
      </button>
      <p className="w-full text-sm text-muted">
        Stay below the rated voltage of the rail. On a real board: eye protection, battery out, limit set first.
      </p>
      {(problem || shown) && (
        <p role={problem ? 'alert' : 'status'} className={`w-full text-sm ${problem ? 'text-decide' : ''}`}>
          {problem || `${shown} Saved.`}
        </p>
      )}
    </form>
  );
}

const heatWords = {
  none: 'Nothing gets warm.',
  'leads-only': 'Only the leads get warm.',
  'one-spot': 'One spot gets warm.',
} as const;

function RailField({
  rails,
  rail,
  onRail,
}: {
  rails: UnitBench['rails'];
  rail: string;
  onRail: (rail: string) => void;
}) {
  return (
    <div className="min-w-44 flex-1">
      <SelectField label="Rail" value={rail} onValue={onRail}>
        {rails.map((r) => (
          <option key={r.id} value={r.id}>
            {r.name}, {r.nominalV} V
          </option>
        ))}
      </SelectField>
    </div>
  );
}
