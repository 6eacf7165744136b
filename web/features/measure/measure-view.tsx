'use client';

import Link from 'next/link';
import { useMemo, useRef, useState } from 'react';
import { parseReading } from '@umbral/core/typed-reading';
import { parseQuantity, type ReadingMode } from '@umbral/core/words';
import { Field, Hazard } from '@/ui/parts';
import { usePreference } from '@/ui/preference';
import { ElementList } from './element-list';
import { OwnPointForm, type OwnPoint } from './own-point';
import { Ladder } from './ladder';
import { Proposals } from './proposals';
import { SimulatedProbe } from './simulated-probe';
import { useEntry, type Typed } from './use-entry';
import type { MeasureView } from './view';
import { modeWords, nextOpen, phaseWords, type Phase, type TestView } from './words';

/** Measuring at the opened device: the ladder of rails, one line to type into, what to probe next and why. */
export function MeasureBoard({ view }: { view: MeasureView }) {
  const { probes } = view;
  const first = probes[0] ?? null;
  const [chosen, setChosen] = useState<{ rail: string; mode: ReadingMode; phase: Phase } | null>(null);
  const at = chosen ?? {
    rail: first?.at[0] ?? view.rungs[0]?.id ?? '',
    mode: first?.mode ?? ('voltage' as ReadingMode),
    phase: first?.phase ?? ('after' as Phase),
  };
  const [text, setText] = useState('');
  const [good, setGood] = useState(false);
  const [order, setOrder] = usePreference('measure-order', 'plan');
  const [redProbe, setRedProbe] = usePreference('red-probe', 'ground');
  const [leads, setLeads] = usePreference('leads-ohm', '');
  const input = useRef<HTMLInputElement>(null);
  const entry = useEntry(view.jobId);
  const count = useRef(0);
  const [own, setOwn] = useState<OwnPoint | null>(null);
  const known = view.rungs.find((r) => r.id === at.rail) ?? null;
  // A point of one's own has no rung until something was read there.
  const free = known === null && own !== null && own.where === at.rail ? own : null;
  const rung = useMemo(
    () =>
      known ??
      (free ? { id: free.where, name: free.where, nominalV: null, circuit: free.circuit, state: free.state } : null),
    [known, free],
  );
  const leadsRead = leads.trim() === '' ? null : parseQuantity(leads, 'resistance');
  const leadsOhm = leadsRead?.ok && leadsRead.value >= 0 && leadsRead.value <= 5 ? leadsRead.value : null;
  const parsed = useMemo(
    () =>
      text.trim() === '' ? null : parseReading(text, { mode: at.mode, leadsOhm, nominalV: rung?.nominalV ?? null }),
    [text, at.mode, leadsOhm, rung],
  );

  const choose = (rail: string): void => {
    setChosen({ ...at, rail });
    input.current?.focus();
  };
  const follow = (test: TestView): void => {
    if (test.mode === null) return;
    setChosen({ rail: test.at[0], mode: test.mode, phase: test.phase ?? at.phase });
    input.current?.focus();
  };
  const step = (by: number): void => {
    const place = view.rungs.findIndex((r) => r.id === at.rail);
    const to = view.rungs[Math.min(view.rungs.length - 1, Math.max(0, place + by))];
    if (to) choose(to.id);
  };
  /** Where the probe goes now: as planned without what was just read, or down the ladder. */
  const goOn = (): void => {
    const planned = probes.find(
      (t) => t.mode === at.mode && t.phase === (at.mode === 'voltage' ? at.phase : null) && !t.at.includes(at.rail),
    );
    const rail = order === 'plan' && !good ? planned?.at[0] : undefined;
    const next = rail ?? nextOpen(view.rungs, at.rail, at.mode, at.phase);
    setChosen({ ...at, rail: next ?? at.rail });
  };
  const submit = (): void => {
    if (!rung || !parsed?.ok) return;
    const typed: Typed = {
      key: `${Date.now()}-${count.current++}`,
      where: rung.id,
      name: rung.name,
      text,
      mode: at.mode,
      phase: at.phase,
      redProbe,
      leadsOhm,
      good,
      circuit: rung.circuit,
      state: rung.state,
    };
    entry.take(typed);
    setText('');
    goOn();
  };
  const waiting = new Map(entry.pending.filter((p) => p.state === 'saving').map((p) => [p.where, p.text]));
  const open = entry.pending.filter((p) => p.state !== 'saving');
  const mode = parsed?.ok ? parsed.reading.mode : at.mode;

  return (
    <div className="mt-2 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_360px]">
      <section aria-label="Readings" className="flex min-w-0 flex-col lg:h-[calc(100dvh-7.5rem)] lg:min-h-[34rem]">
        {view.hazards.map((h) => (
          <div key={h} className="mb-1.5">
            <Hazard>{h}</Hazard>
          </div>
        ))}
        <form
          className="card grid gap-2 p-3"
          onSubmit={(e) => {
            e.preventDefault();
            submit();
          }}
        >
          <div className="flex flex-wrap items-end gap-x-3 gap-y-2">
            <div className="min-w-0 flex-1 basis-60">
              <label htmlFor="typed" className="block truncate font-semibold">
                {rung ? rung.name : 'No rail'}
                <span className="font-normal text-muted">
                  {' '}
                  · {modeWords[mode]}
                  {mode === 'voltage' && `, ${phaseWords[at.phase]}`}
                  {good && ' · good board'}
                </span>
              </label>
              <input
                id="typed"
                ref={input}
                autoFocus
                autoComplete="off"
                className="field mt-1 text-2xl tabular-nums"
                placeholder={at.mode === 'voltage' ? '1.79' : at.mode === 'diode' ? '0.412 or OL' : '12 or 4.7k'}
                value={text}
                aria-describedby="typed-says"
                onChange={(e) => setText(e.target.value)}
                onKeyDown={(e) => {
                  if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
                    e.preventDefault();
                    step(e.key === 'ArrowDown' ? 1 : -1);
                  }
                }}
              />
            </div>
            <SimulatedProbe
              profileId={view.profileId}
              at={at}
              onShows={(shows) => {
                setText(shows);
                input.current?.focus();
              }}
            />
            <button type="submit" className="button button-main" disabled={!parsed?.ok}>
              Keep, next
            </button>
          </div>
          <p id="typed-says" aria-live="polite" className="min-h-6 text-sm text-muted">
            {parsed === null
              ? 'Enter keeps it and goes on; arrows change the rail; v, d or r in front changes the mode; 0.8~1.2 where it swings.'
              : parsed.ok
                ? parsed.asks.join(' ') || `Kept as ${sayParsed(parsed.reading)}`
                : parsed.error}
          </p>
          <div className="flex flex-wrap gap-x-4 gap-y-2 text-sm">
            <Choice
              label="Mode"
              value={at.mode}
              options={modeWords}
              onChange={(m) => setChosen({ ...at, mode: m as ReadingMode })}
            />
            {at.mode === 'voltage' ? (
              <Choice
                label="Device"
                value={at.phase}
                options={phaseWords}
                onChange={(p) => setChosen({ ...at, phase: p as Phase })}
              />
            ) : (
              <Choice
                label="Red probe on"
                value={redProbe}
                options={{ ground: 'ground', point: 'the point' }}
                onChange={setRedProbe}
              />
            )}
            <Choice
              label="Then"
              value={order}
              options={{ plan: 'as planned', list: 'down the ladder' }}
              onChange={setOrder}
            />
            {at.mode === 'resistance' && (
              <label className="flex items-center gap-2">
                Leads held together
                <input
                  className="field w-24"
                  placeholder="0.2 ohm"
                  value={leads}
                  onChange={(e) => setLeads(e.target.value)}
                />
              </label>
            )}
            <label className="flex min-h-9 items-center gap-2">
              <input
                type="checkbox"
                checked={good}
                disabled={!view.hasModel}
                onChange={(e) => setGood(e.target.checked)}
              />
              this is the good board
            </label>
          </div>
        </form>
        <OwnPointForm
          onTake={(point) => {
            setOwn(point);
            choose(point.where);
          }}
        />
        {open.length > 0 && (
          <ul aria-label="Not kept yet" className="mt-2 grid gap-1.5">
            {open.map((p) => (
              <li
                key={p.key}
                className="flex flex-wrap items-center gap-2 rounded-lg border border-decide bg-decide-soft px-3 py-1.5 text-sm"
              >
                <span className="min-w-0 flex-1 basis-64">
                  <strong>
                    {p.name}: {p.text}
                  </strong>{' '}
                  {p.says}
                </span>
                <button type="button" className="button min-h-9" onClick={() => entry.take(p, p.state === 'asked')}>
                  {p.state === 'asked' ? 'Keep it so' : 'Save again'}
                </button>
                <button type="button" className="button min-h-9" onClick={() => entry.drop(p.key)}>
                  Throw away
                </button>
              </li>
            ))}
          </ul>
        )}
        {view.contradictions.length > 0 && (
          <ul aria-label="Contradictions" className="mt-2 grid gap-1.5">
            {view.contradictions.map((says) => (
              <li key={says} className="rounded-lg border border-decide bg-decide-soft px-3 py-1.5 text-sm">
                {says}
              </li>
            ))}
          </ul>
        )}
        <div className="mt-2 flex min-h-0 flex-1 flex-col">
          <Ladder rungs={view.rungs} current={at.rail} phase={at.phase} waiting={waiting} onChoose={choose} />
        </div>
        <p className="mt-1.5 text-sm text-muted">
          {view.isOwn
            ? `Rails of ${view.profile}.`
            : 'No profile of this model: these are the points that its kind usually has, and those that you named.'}
        </p>
      </section>
      <section aria-label="Plan" className="flex min-w-0 flex-col gap-3">
        <div className="card p-3">
          <h2 className="font-bold">{view.isDecided ? 'Isolated' : 'At fault, by now'}</h2>
          <ElementList elements={view.elements} />
        </div>
        <Proposals jobId={view.jobId} next={view.next} current={at} works={view.works} onFollow={follow} />
        <Link href={`/jobs/${view.jobId}/locate`} className="button">
          Locate a short
        </Link>
      </section>
    </div>
  );
}

function sayParsed({
  mode,
  value,
  ol,
  swing,
  shownOhm,
}: {
  mode: ReadingMode;
  value: number | null;
  ol: boolean;
  swing: { low: number; high: number } | null;
  shownOhm: number | null;
}): string {
  if (ol) return 'an open line';
  if (swing) return `swinging between ${swing.low} and ${swing.high} V`;
  const unit = mode === 'resistance' ? 'ohm' : 'V';
  const leads = shownOhm === null ? '' : `, ${shownOhm} ohm less the leads`;
  return `${value ?? ''} ${unit}, ${modeWords[mode]}${leads}.`;
}

/** A few choices on one line. */
function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: Record<string, string>;
  onChange: (value: string) => void;
}) {
  return (
    <div className="flex items-center gap-2">
      <Field label={label}>
        <select className="field min-h-9 py-1" value={value} onChange={(e) => onChange(e.target.value)}>
          {Object.entries(options).map(([id, word]) => (
            <option key={id} value={id}>
              {word}
            </option>
          ))}
        </select>
      </Field>
    </div>
  );
}
