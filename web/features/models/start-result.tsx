import { formatPower } from '@umbral/core';
import type { VirtualStart } from './virtual-start';

/** What a virtual start-up would show: its silhouette before the healthy one, in words, and what gets warm. */
export function StartResult({ start }: { start: VirtualStart }) {
  return (
    <div className="grid gap-4 lg:grid-cols-[1fr_300px]">
      <div className="min-w-0">
        <div className="flex flex-wrap items-baseline gap-x-3">
          <h3 className="text-xl">{start.pattern}</h3>
          <span className="text-sm text-muted">{start.says}</span>
        </div>
        <svg
          viewBox="0 0 150 30"
          preserveAspectRatio="none"
          role="img"
          aria-label={`${start.pattern}: ${start.segments.map((s) => `${s.span} ${s.level}`).join('; ')}`}
          className="mt-2 h-40 w-full"
        >
          <path d={start.healthy} className="fill-penumbra" />
          <path d={start.silhouette} className="fill-umbra" />
          <path d="M0 28H150" className="stroke-umbra" strokeWidth="0.3" />
        </svg>
        <p className="mt-1 flex justify-between text-sm text-muted">
          <span>0 s</span>
          <span>front: with the fault · behind: healthy, same setup</span>
          <span>{start.seconds} s</span>
        </p>
        <ol aria-label="Segments in words" className="mt-2 grid grid-cols-[repeat(auto-fill,minmax(118px,1fr))] gap-2">
          {start.segments.map((s) => (
            <li key={s.span} className="rounded-b-lg border-t-[3px] border-edge bg-raised px-2 py-1.5 text-sm">
              <strong className="block">{s.level}</strong>
              {s.span}
            </li>
          ))}
        </ol>
      </div>
      <div className="grid content-start gap-4">
        <div>
          <h3 className="font-bold">Visible from outside</h3>
          <ul className="mt-1 grid gap-0.5 text-sm">
            {start.facts.map((f) => (
              <li key={f}>{f}</li>
            ))}
          </ul>
        </div>
        <div>
          <h3 className="font-bold">Where the power goes</h3>
          {start.heat.length === 0 && <p className="mt-1 text-sm text-muted">Nothing would get warm enough to find.</p>}
          <ul className="mt-1 grid gap-1 text-sm">
            {start.heat.map((h) => (
              <li key={h.name} className="relative overflow-hidden rounded-md border border-line px-2 py-0.5">
                <span
                  aria-hidden
                  className="absolute inset-y-0 left-0 bg-decide-soft"
                  style={{ width: `${(100 * h.watts) / Math.max(start.heat[0].watts, 0.01)}%` }}
                />
                <span className="relative flex justify-between gap-2">
                  <span className="truncate">{h.name}</span>
                  <span>{formatPower(h.watts)}</span>
                </span>
              </li>
            ))}
          </ul>
        </div>
      </div>
    </div>
  );
}

/** When each rail stands: one lane a rail, in the order of the power states. */
export function RailLanes({ start }: { start: VirtualStart }) {
  return (
    <table className="w-full text-sm">
      <caption className="sr-only">When each rail is up during the simulated start, and its voltage at the end</caption>
      <thead>
        <tr className="text-left text-muted">
          <th className="w-44 py-1 pr-2 font-medium">Rail</th>
          <th className="w-20 py-1 pr-2 font-medium">State</th>
          <th className="py-1 pr-2 font-medium">0 to {start.seconds} s</th>
          <th className="w-20 py-1 text-right font-medium">At the end</th>
        </tr>
      </thead>
      <tbody>
        {start.lanes.map((lane) => (
          <tr key={lane.id} className="border-t border-line">
            <td className="max-w-44 truncate py-1 pr-2" title={lane.id}>
              {lane.name}
            </td>
            <td className="py-1 pr-2 text-muted">{lane.state}</td>
            <td className="py-1 pr-2">
              <span className="relative block h-3 rounded-sm bg-paper">
                {lane.spans.map((s) => (
                  <span
                    key={s.from}
                    className="absolute inset-y-0 rounded-sm bg-edge"
                    style={{ left: `${100 * s.from}%`, width: `${Math.max(0.4, 100 * (s.to - s.from))}%` }}
                  />
                ))}
              </span>
              <span className="sr-only">
                {lane.spans.length === 0
                  ? 'never up'
                  : `stands ${lane.spans.length === 1 ? 'once' : `${lane.spans.length} times`}`}
              </span>
            </td>
            <td className={`py-1 text-right ${lane.standsAtEnd ? '' : 'text-muted'}`}>{lane.volts}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
