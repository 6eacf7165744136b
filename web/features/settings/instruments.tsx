'use client';

import { Plus } from 'lucide-react';
import { useState } from 'react';
import { formatCurrent, formatVoltage } from '@umbral/core/words';
import { useSave } from '@/ui/kit/use-save';
import { ConnectHere } from '@/features/at-page/connect-here';
import { healthWords } from '@/features/live/health';
import { useRecorder } from '@/ui/kit/use-recorder';
import { Empty } from '@/ui/parts';
import { useToast } from '@/ui/toast';
import { putInstrumentBack, readSettingsAgain, takeInstrumentAway, type InstrumentFields } from './actions';
import { CalibrationDialog } from './calibration-dialog';
import { FindDialog } from './find-dialog';
import { InstrumentDialog } from './instrument-dialog';
import { Languages } from './languages';
import { sayReading } from '@/features/measure/say-reading';
import { sayRate } from './say-shown';
import type { InstrumentView, SettingsViewData } from './view';

type Open =
  | { what: 'edit' | 'calibrate'; key: string }
  | { what: 'add'; found?: Partial<InstrumentFields> }
  | { what: 'find' }
  | null;

/** The instruments of the bench: how each is reached, what it speaks, how it is corrected, and whether it answers. */
export function Instruments({ view }: { view: SettingsViewData }) {
  const { states } = useRecorder();
  const [open, setOpen] = useState<Open>(null);
  const { saving, save } = useSave();
  const toast = useToast();
  const say = (problems: string[]): void => problems.forEach((text) => toast({ tone: 'problem', text }));
  const takeAway = (i: InstrumentView): void =>
    save(() => takeInstrumentAway({ key: i.key, version: i.version }), {
      then: ({ spec, problems }) => {
        const undo = (): void => save(() => putInstrumentBack(spec), { then: say });
        // One message: what is in use is not gone yet, and is not said to be.
        const text = problems.length > 0 ? problems.join(' ') : `${i.name} was removed. Its runs are kept.`;
        toast({ tone: 'done', text, undo });
      },
    });
  const chosen = open && 'key' in open ? view.instruments.find((i) => i.key === open.key) : undefined;
  return (
    <section aria-label="Instruments" className="grid content-start gap-3">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="mr-auto text-lg">Instruments</h2>
        <button
          type="button"
          className="button"
          disabled={saving}
          title="Connects what was added to the data folder, without disturbing recordings"
          onClick={() => save(readSettingsAgain, { done: 'Reloaded.', then: ({ problems }) => say(problems) })}
        >
          Reload files
        </button>
        <button type="button" className="button" onClick={() => setOpen({ what: 'add' })}>
          <Plus size={17} aria-hidden /> Add an instrument
        </button>
        <button type="button" className="button button-main" onClick={() => setOpen({ what: 'find' })}>
          Find an instrument
        </button>
      </div>
      {view.problems.length > 0 && (
        <ul className="grid gap-1 rounded-xl border border-decide bg-decide-soft px-4 py-2 text-sm">
          {view.problems.map((p) => (
            <li key={p}>{p}</li>
          ))}
        </ul>
      )}
      {view.instruments.length === 0 && (
        <Empty title="No instrument yet">
          Plug in a supply or a meter and press “Find an instrument”. The demo has simulated ones.
        </Empty>
      )}
      <ul className="grid gap-3">
        {view.instruments.map((i) => {
          const state = states?.find((s) => s.key === i.key);
          return (
            <li key={i.key} className="card">
              <div className="flex flex-wrap items-baseline gap-x-3">
                <h3 className="text-lg font-bold">{i.name}</h3>
                <span className="text-sm text-muted">
                  {i.kind === 'supply' ? 'bench supply' : i.kind} · {i.where} · {i.speaks}
                </span>
                <span className="ml-auto text-sm" role="status">
                  {state ? healthWords[state.health] : 'not connected'}
                  {state?.reading && `, ${sayReading(state.reading)}`}
                  {state?.health === 'measuring' && i.kind !== 'multimeter' && (
                    <>
                      , {formatVoltage(state.volts)}, {formatCurrent(state.amps, state.resolutionA)}
                      {state.rateHz > 0 && `, ${sayRate(state.rateHz)}`}
                    </>
                  )}
                </span>
              </div>
              {state?.why && <p className="text-sm text-decide">{state.why}</p>}
              {state && <ConnectHere station={state} />}
              <p className="mt-1">
                {i.kind === 'multimeter' ? (
                  <span className="text-muted">Its readings go into the line that you type into.</span>
                ) : i.corrected.length === 0 ? (
                  <span className="text-muted">Not calibrated. Readings are shown as received.</span>
                ) : (
                  `Corrected: ${i.corrected.join('; ')}.`
                )}
              </p>
              {i.history.length > i.corrected.length && (
                <details className="text-sm text-muted">
                  <summary>{i.history.length} calibrations</summary>
                  <ul className="list-disc pl-5">
                    {i.history.map((h) => (
                      <li key={h.id}>{h.says}</li>
                    ))}
                  </ul>
                </details>
              )}
              <div className="mt-2 flex flex-wrap gap-2">
                {i.kind !== 'multimeter' && (
                  <button
                    type="button"
                    className="button"
                    aria-label={`Calibrate ${i.name}`}
                    onClick={() => setOpen({ what: 'calibrate', key: i.key })}
                  >
                    Calibrate
                  </button>
                )}
                <button
                  type="button"
                  className="button"
                  aria-label={`Edit ${i.name}`}
                  onClick={() => setOpen({ what: 'edit', key: i.key })}
                >
                  Edit
                </button>
                {!i.simulated && (
                  <button
                    type="button"
                    className="button button-quiet"
                    aria-label={`Remove ${i.name}`}
                    disabled={saving}
                    onClick={() => takeAway(i)}
                  >
                    Remove
                  </button>
                )}
              </div>
            </li>
          );
        })}
      </ul>
      <Languages dialects={view.dialects} />
      {open?.what === 'find' && (
        <FindDialog
          benches={view.benches}
          onFound={(found) => setOpen({ what: 'add', found })}
          onClose={() => setOpen(null)}
        />
      )}
      {(open?.what === 'add' || open?.what === 'edit') && (
        <InstrumentDialog
          instrument={chosen ?? null}
          found={open.what === 'add' ? open.found : undefined}
          dialects={view.dialects}
          benches={view.benches}
          onClose={() => setOpen(null)}
          onSaved={say}
        />
      )}
      {open?.what === 'calibrate' && chosen && (
        <CalibrationDialog
          instrument={chosen}
          state={states?.find((s) => s.key === chosen.key) ?? null}
          onClose={() => setOpen(null)}
          onSaved={say}
        />
      )}
    </section>
  );
}
