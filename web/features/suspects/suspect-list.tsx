import { formatPercent } from '@umbral/core/words';
import { Likely } from '@/ui/parts';
import type { Suspected } from '@/features/suspects/suspects';

/** The suspects as the job has them, with the parts that it may be inside a circuit. */
export function SuspectList({ suspects }: { suspects: readonly Suspected[] }) {
  return (
    <ol aria-label="Suspects" className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-1.5">
      {suspects.map((s) => (
        <li key={s.id}>
          <Likely p={s.p}>
            <span className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-2 px-2.5 py-1">
              <span className="truncate" title={s.name}>
                {s.name}
                {s.target && <span className="text-[0.9rem] text-muted"> · {s.target}</span>}
              </span>
              <span className="tabular-nums">{formatPercent(s.p)}</span>
              {s.parts.length > 1 && (
                <span className="col-span-2 text-[0.83rem] text-muted">
                  of which {s.parts.map((t) => `${t.name} ${formatPercent(t.p)}`).join(', ')}
                </span>
              )}
            </span>
          </Likely>
        </li>
      ))}
    </ol>
  );
}
