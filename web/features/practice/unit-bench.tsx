'use client';

import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import type { UnitBench } from '@/server/work/practice/view';
import type { WatchedDisplay } from '@/server/work/practice/bench';
import { lookAt, switchOn, watch } from './actions';
import { WatchDisplay } from './watch-display';
import { useGo } from '@/ui/link';
import { SelectField, TextField } from '@/ui/kit/fields';

type Feed = UnitBench['feeds'][number];

const feedNames: Record<Feed, string> = {
  'usb-c': 'USB-C charger, through a meter',
  'dc-in': 'Supply at the DC input',
  battery: 'Supply at the battery connector',
};
const instrumentNames: Record<string, string> = {
  display: 'read from the display, 10 mA steps',
  'bench-logger': 'logging supply, 20 per second',
  probe: 'current probe, 1,000 per second',
  'usb-meter': 'logging meter, 10 per second',
  'coarse-meter': 'coarse meter, 10 mA steps, 2 per second',
};

/** Instruments that a person reads by eye. */
const isLogging = (instrument: string): boolean => !['display', 'coarse-meter'].includes(instrument);

/** What reads a feed unless somebody chooses: what logs, where there is such. */
const usualOf = (bench: UnitBench, feed: Feed): string =>
  bench.instruments[feed].find((name) => name.endsWith('logger')) ?? bench.instruments[feed][0];

/** The bench of a practice unit: how it is fed, what is pressed, what is looked at. Each run and each look counts minutes. */
export function UnitBenchPanel({ jobId, bench }: { jobId: number; bench: UnitBench }) {
  const go = useGo();
  const { saving, save } = useSave();
  const [feed, setFeed] = useState<Feed>(bench.feeds[0]);
  const [instrument, setInstrument] = useState<string>(usualOf(bench, feed));
  const [port, setPort] = useState(1);
  const [flipped, setFlipped] = useState(false);
  const [battery, setBattery] = useState(true);
  const [setV, setSetV] = useState('');
  const [limitA, setLimitA] = useState('');
  const [unplugged, setUnplugged] = useState<string[]>([]);
  const choose = (next: Feed): void => {
    setFeed(next);
    setInstrument(usualOf(bench, next));
  };
  const number = (text: string): number | null => (text.trim() === '' ? null : Number(text.replace(',', '.')));
  const [watched, setWatched] = useState<WatchedDisplay | null>(null);
  const setup = (presses: boolean) => ({
    jobId,
    feed,
    instrument,
    port,
    flipped,
    battery,
    presses,
    unplugged,
    setV: number(setV),
    limitA: number(limitA),
  });
  const on = (presses: boolean): void =>
    save(() => switchOn(setup(presses)), { then: (run) => go(`/jobs/${jobId}?run=${run}`) });
  const isSupply = feed !== 'usb-c';
  return (
    <section aria-label="Practice bench" className="card grid gap-2 p-3">
      <h2 className="text-lg">Your bench</h2>
      <SelectField label="Feed" value={feed} onValue={(value) => choose(value as Feed)}>
        {bench.feeds.map((f) => (
          <option key={f} value={f}>
            {feedNames[f]}
          </option>
        ))}
      </SelectField>
      <SelectField label="Instrument" value={instrument} onValue={setInstrument}>
        {bench.instruments[feed].map((name) => (
          <option key={name} value={name}>
            {instrumentNames[name] ?? name}
          </option>
        ))}
      </SelectField>
      {isSupply && (
        <div className="grid grid-cols-2 gap-2">
          <TextField
            label="Volts"
            inputMode="decimal"
            placeholder={feed === 'battery' && bench.nominalV ? `${bench.nominalV}` : 'usual'}
            value={setV}
            onValue={setSetV}
          />
          <TextField label="Limit, A" inputMode="decimal" placeholder="3" value={limitA} onValue={setLimitA} />
        </div>
      )}
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {feed === 'usb-c' && bench.ports > 1 && (
          <label className="flex min-h-9 items-center gap-1.5">
            Port
            <select className="field w-auto" value={port} onChange={(e) => setPort(Number(e.target.value))}>
              {Array.from({ length: bench.ports }, (_, k) => k + 1).map((n) => (
                <option key={n}>{n}</option>
              ))}
            </select>
          </label>
        )}
        {feed === 'usb-c' && <Tick label="Plug flipped" on={flipped} onChange={setFlipped} />}
        {feed !== 'battery' && bench.hasBattery && <Tick label="Battery in" on={battery} onChange={setBattery} />}
      </div>
      {bench.peripherals.length > 0 && (
        <details className="text-sm">
          <summary className="min-h-9 py-1.5">
            Unplug parts{unplugged.length > 0 ? `: ${unplugged.length} off` : ''}
          </summary>
          {bench.peripherals.map((p) => (
            <Tick
              key={p.id}
              label={p.name}
              on={unplugged.includes(p.id)}
              onChange={(off) => setUnplugged(off ? [...unplugged, p.id] : unplugged.filter((id) => id !== p.id))}
            />
          ))}
        </details>
      )}
      <div className="flex flex-wrap gap-2">
        <button type="button" className="button button-main flex-1" disabled={saving} onClick={() => on(true)}>
          {saving ? 'Recording…' : 'Switch on and press power'}
        </button>
        <button type="button" className="button" disabled={saving} onClick={() => on(false)}>
          Power it only
        </button>
        {!isLogging(instrument) && (
          <button
            type="button"
            className="button"
            disabled={saving}
            onClick={() => save(() => watch(setup(true)), { then: setWatched })}
          >
            Watch and type
          </button>
        )}
      </div>
      {watched && (
        <WatchDisplay key={watched.t.length} jobId={jobId} watched={watched} onDone={() => setWatched(null)} />
      )}
      <LookAt jobId={jobId} checks={bench.checks} />
    </section>
  );
}

function Tick({ label, on, onChange }: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex min-h-9 items-center gap-1.5">
      <input type="checkbox" className="size-4.5" checked={on} onChange={(e) => onChange(e.target.checked)} /> {label}
    </label>
  );
}

/** A check on the unit: what it shows is kept with the job. */
function LookAt({ jobId, checks }: { jobId: number; checks: UnitBench['checks'] }) {
  const { saving, save } = useSave();
  const [check, setCheck] = useState(checks[0]?.id ?? '');
  const [found, setFound] = useState('');
  if (checks.length === 0) return null;
  const asked = checks.find((c) => c.id === check);
  return (
    <form
      className="grid gap-1.5 border-t border-line pt-2"
      onSubmit={(e) => {
        e.preventDefault();
        save(() => lookAt({ jobId, check }), {
          then: (outcome) => setFound(`${asked?.ask ?? ''} ${outcome?.replaceAll('-', ' ') ?? 'not visible here'}`),
        });
      }}
    >
      <div className="flex items-end gap-2">
        <div className="min-w-0 flex-1">
          <SelectField label="Check" value={check} onValue={setCheck}>
            {checks.map((c) => (
              <option key={c.id} value={c.id}>
                {c.name}
              </option>
            ))}
          </SelectField>
        </div>
        <button type="submit" className="button" disabled={saving}>
          Look
        </button>
      </div>
      {found && (
        <p role="status" className="text-sm">
          {found}
        </p>
      )}
    </form>
  );
}
