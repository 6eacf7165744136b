import { formatPower } from '@umbral/core/words';
import type { LocateView } from './view';

/** Where the leading suspect puts the power, beside a good unit: what warms on the way is not what is broken. */
export function HeatTree({ heat }: { heat: NonNullable<LocateView['heat']> }) {
  const most = Math.max(0.05, ...heat.places.map((p) => p.watts));
  return (
    <section aria-label="Where the power goes" className="card p-3">
      <h2 className="font-bold">Where the power would go</h2>
      <p className="text-sm text-muted">If it is {heat.suspect}, compared with a healthy device.</p>
      {heat.places.length === 0 ? (
        <p className="mt-2 text-sm">Not enough power to find it by heat.</p>
      ) : (
        <ol className="mt-2 grid gap-1.5 text-sm">
          {heat.places.map((p) => (
            <li key={`${p.kind} ${p.id}`} className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-2">
              <span className="truncate">
                {p.kind === 'converter' ? 'in ' : 'on '}
                {p.name}
              </span>
              <span className="tabular-nums">
                {formatPower(p.watts)} <span className="text-muted">({formatPower(p.healthyW)})</span>
              </span>
              <span className="col-span-2 h-1.5 overflow-hidden rounded bg-penumbra/50" aria-hidden>
                <span
                  className="block h-full rounded bg-umbra"
                  style={{ width: `${Math.max(2, (100 * p.watts) / most)}%` }}
                />
              </span>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
