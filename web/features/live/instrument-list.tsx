'use client';

import type { StationState } from '@umbral/instruments';
import { ConnectHere } from '@/features/at-page/connect-here';
import { healthWords } from './health';

/** The instruments of the bench: which one is read large, which record along, and how each is. */
export function InstrumentList({
  states,
  chosen,
  along,
  canChange,
  choose,
  setAlong,
}: {
  states: StationState[];
  chosen: string;
  along: ReadonlySet<string>;
  canChange: boolean;
  choose: (s: StationState) => void;
  setAlong: (key: string, records: boolean) => void;
}) {
  return (
    <section aria-label="Instruments" className="card">
      <h2 className="text-lg">Instruments</h2>
      <ul className="mt-1 grid gap-1.5">
        {states.map((s) => (
          <li key={s.key}>
            <button
              type="button"
              className="button w-full flex-col items-start justify-center gap-0 py-1.5 text-left"
              aria-pressed={s.key === chosen}
              onClick={() => choose(s)}
            >
              <span className={s.key === chosen ? 'font-bold' : 'font-medium'}>{s.name}</span>
              <span className="text-sm font-normal text-muted">
                {s.isSeen && s.health === 'lost' ? 'not read' : healthWords[s.health]}
                {s.health === 'measuring' && s.rateHz > 0 && `, ${Math.round(s.rateHz)} per second`}
                {s.recording && ', recording'}
              </span>
            </button>
            {s.key !== chosen && (
              <label className="flex min-h-8 items-center gap-2 pl-1 text-sm">
                <input
                  type="checkbox"
                  checked={along.has(s.key)}
                  disabled={!canChange}
                  onChange={(e) => setAlong(s.key, e.target.checked)}
                />
                also recording, on the same clock
              </label>
            )}
            {s.why && <p className="text-sm text-decide">{s.why}</p>}
            <ConnectHere station={s} />
          </li>
        ))}
      </ul>
    </section>
  );
}
