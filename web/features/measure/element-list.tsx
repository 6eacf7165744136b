import { formatPercent } from '@umbral/core/words';
import { Likely } from '@/ui/parts';
import type { MeasureView } from './view';

/** The elements that may be at fault, by probability. */
export function ElementList({ elements }: { elements: MeasureView['elements'] }) {
  return (
    <ol aria-label="Elements" className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-1.5">
      {elements.slice(0, 5).map((e) => (
        <li key={e.id}>
          <Likely p={e.p}>
            <span className="flex items-baseline gap-2 px-2.5 py-1">
              <span className="min-w-0 flex-1 truncate">{e.name}</span>
              <span className="tabular-nums">{formatPercent(e.p)}</span>
            </span>
          </Likely>
        </li>
      ))}
    </ol>
  );
}
