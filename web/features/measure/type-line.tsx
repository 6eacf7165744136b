'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { useMemo, useState, type RefObject } from 'react';
import { parseReading } from '@umbral/core/typed-reading';
import { parseQuantity, type ReadingMode } from '@umbral/core/words';
import { usePreference } from '@/ui/preference';
import { FromMeter } from './from-meter';
import { SimulatedProbe } from './simulated-probe';
import type { MeasureView } from './view';
import { modeWords, phaseWords, type Phase } from './words';
import { SelectField } from '@/ui/kit/fields';

/** Where the probe is, and how it reads. */
interface ProbeAt {
  rail: string;
  mode: ReadingMode;
  phase: Phase;
}

/** Most that leads held together are believed to have, ohm. */
const maxLeadsOhm = 5;

/** How readings are taken: what stays from one to the next. */
export function useHow() {
  const [good, setGood] = useState(false);
  const [order, setOrder] = usePreference('measure-order', 'plan');
  const [redProbe, setRedProbe] = usePreference('red-probe', 'ground');
  const [leads, setLeads] = usePreference('leads-ohm', '');
  const read = leads.trim() === '' ? null : parseQuantity(leads, 'resistance');
  const leadsOhm = read?.ok && read.value >= 0 && read.value <= maxLeadsOhm ? read.value : null;
  return { good, setGood, order, setOrder, redProbe, setRedProbe, leads, setLeads, leadsOhm };
}

type How = ReturnType<typeof useHow>;

/**
 * The line that a reading is typed into, read as it grows. What was typed belongs to its point: at another one the line is
 * empty, and back at this one it is there again.
 */
export function useTypedLine(rail: string, mode: ReadingMode, nominalV: number | null, leadsOhm: number | null) {
  const [typed, setTyped] = useState<Readonly<Record<string, string>>>({});
  const text = Object.hasOwn(typed, rail) ? typed[rail] : '';
  const setText = (to: string): void => setTyped((all) => ({ ...all, [rail]: to }));
  const parsed = useMemo(
    () => (text.trim() === '' ? null : parseReading(text, { mode, leadsOhm, nominalV })),
    [text, mode, leadsOhm, nominalV],
  );
  return { text, setText, parsed };
}

/** In an empty line these letters choose the mode. */
const modeKeys: Partial<Record<string, ReadingMode>> = { v: 'voltage', d: 'diode', r: 'resistance' };

/** One line to type into, and how what is typed is meant. */
export function TypeLine({
  view,
  rung,
  at,
  onAt,
  line,
  how,
  input,
  onSubmit,
  onStep,
}: {
  view: MeasureView;
  rung: { name: string } | null;
  at: ProbeAt;
  onAt: (at: ProbeAt) => void;
  line: ReturnType<typeof useTypedLine>;
  how: How;
  input: RefObject<HTMLInputElement | null>;
  onSubmit: () => void;
  /** Down the ladder by so many rails, or up. */
  onStep: (by: number) => void;
}) {
  const mode = line.parsed?.ok ? line.parsed.reading.mode : at.mode;
  return (
    <form
      className="card grid grid-cols-1 gap-2 p-3"
      onSubmit={(e) => {
        e.preventDefault();
        onSubmit();
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
              {how.good && ' · known-good board'}
            </span>
          </label>
          <input
            id="typed"
            ref={input}
            autoFocus
            autoComplete="off"
            className="field mt-1 text-2xl tabular-nums"
            placeholder={at.mode === 'voltage' ? '1.79' : at.mode === 'diode' ? '0.412 or OL' : '12 or 4.7k'}
            value={line.text}
            aria-describedby="typed-says"
            // A letter may have chosen the mode already: the blank after it is none of the reading.
            onChange={(e) => line.setText(e.target.value.trimStart())}
            onKeyDown={(e) => {
              const switches = line.text === '' && !e.ctrlKey && !e.metaKey && !e.altKey ? modeKeys[e.key] : undefined;
              if (switches) {
                e.preventDefault();
                onAt({ ...at, mode: switches });
              }
              // Out of the line, the keys of the page work again.
              if (e.key === 'Escape') e.currentTarget.blur();
              if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
                e.preventDefault();
                onStep(e.key === 'ArrowDown' ? 1 : -1);
              }
            }}
          />
        </div>
        <SimulatedProbe
          profileId={view.profileId}
          at={at}
          onShows={(shows) => {
            line.setText(shows);
            input.current?.focus();
          }}
        />
        <GatedButton
          type="submit"
          className="button button-main"
          blocked={line.parsed?.ok ? null : line.parsed === null ? 'Type the reading first' : 'This is no reading yet'}
        >
          Save, next
        </GatedButton>
      </div>
      <FromMeter
        isEmpty={line.text === ''}
        onTake={(text) => {
          line.setText(text);
          input.current?.focus();
        }}
      />
      <p id="typed-says" aria-live="polite" className="min-h-6 text-sm text-muted">
        {line.parsed === null
          ? 'Enter saves and moves on. Arrows change the rail. v, d or r changes the mode. 0.8~1.2 for a swinging voltage. Esc leaves the line.'
          : line.parsed.ok
            ? line.parsed.asks.join(' ') || `Saved as ${sayParsed(line.parsed.reading)}`
            : line.parsed.error}
      </p>
      <HowRead view={view} at={at} onAt={onAt} how={how} />
    </form>
  );
}

/** Mode, state of the device, probes, and where the probe goes next. */
function HowRead({ view, at, onAt, how }: { view: MeasureView; at: ProbeAt; onAt: (at: ProbeAt) => void; how: How }) {
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-2 text-sm">
      <Choice
        label="Mode"
        value={at.mode}
        options={modeWords}
        onChange={(m) => onAt({ ...at, mode: m as ReadingMode })}
      />
      {at.mode === 'voltage' ? (
        <Choice
          label="Device"
          value={at.phase}
          options={phaseWords}
          onChange={(p) => onAt({ ...at, phase: p as Phase })}
        />
      ) : (
        <Choice
          label="Red probe on"
          value={how.redProbe}
          options={{ ground: 'ground', point: 'the point' }}
          onChange={how.setRedProbe}
        />
      )}
      <Choice
        label="Then"
        value={how.order}
        options={{ plan: 'as planned', list: 'down the list' }}
        onChange={how.setOrder}
      />
      {at.mode === 'resistance' && (
        <label className="flex items-center gap-2">
          Leads together
          <input
            className="field w-24"
            placeholder="0.2 ohm"
            value={how.leads}
            onChange={(e) => how.setLeads(e.target.value)}
          />
        </label>
      )}
      <label className="flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          checked={how.good}
          disabled={!view.hasModel}
          onChange={(e) => how.setGood(e.target.checked)}
        />
        this is the known-good board
      </label>
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
  if (ol) return 'open line';
  if (swing) return `swinging between ${swing.low} and ${swing.high} V`;
  const unit = mode === 'resistance' ? 'ohm' : 'V';
  const leads = shownOhm === null ? '' : `, ${shownOhm} ohm after the leads`;
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
    <div className="flex max-w-full min-w-0 items-center gap-2">
      <SelectField label={label} className="min-h-9 min-w-0 py-1" value={value} onValue={onChange}>
        {Object.entries(options).map(([id, word]) => (
          <option key={id} value={id}>
            {word}
          </option>
        ))}
      </SelectField>
    </div>
  );
}
