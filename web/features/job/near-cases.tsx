import { formatPercent } from '@umbral/core/words';
import Link from '@/ui/link';
import type { NearView } from './view';

/** Confirmed cases that look like this one: as silhouettes over the present run, with what is alike and what is not. */
export function NearCases({ near, jobId }: { near: readonly NearView[]; jobId: number }) {
  if (near.length === 0) return null;
  return (
    <details className="card py-2" open={near[0].p >= worthOpening}>
      <summary className="font-semibold">
        Similar past cases{' '}
        <span className="font-normal text-muted">
          {near[0].p >= worthSaying
            ? `${near[0].circuit}, ${formatPercent(near[0].p)} likely to be the same`
            : `nothing very similar; closest ${near[0].circuit}`}
        </span>
      </summary>
      <ul aria-label="Similar past cases" className="mt-1 grid gap-2.5">
        {near.map((n, k) => (
          <li key={k} className="grid gap-0.5 border-t border-line pt-1.5 text-sm first:border-0">
            <p className="flex flex-wrap justify-between gap-x-2">
              <strong className="text-base">
                {n.circuit}
                {n.element && <span className="font-normal text-muted"> · {n.element}</span>}
              </strong>
              <span>{formatPercent(n.p)}</span>
            </p>
            <Overlaid near={n} />
            <p>
              {n.job === null ? (
                n.says
              ) : (
                <Link className="underline" href={`/jobs/${n.job}`}>
                  {n.says}
                </Link>
              )}
              {n.isOtherModel && ', another model'}. {sentence(n)}
            </p>
          </li>
        ))}
      </ul>
      <p className="mt-1.5 text-sm">
        <Link className="underline" href={`/atlas?job=${jobId}`}>
          All confirmed cases, closest first
        </Link>
      </p>
    </details>
  );
}

/** Less than this is seldom what one looks for, and under that nothing to speak of. */
const worthOpening = 0.15;
const worthSaying = 0.05;

function sentence({ alike, differs }: NearView): string {
  const parts = [
    alike.length > 0 ? `Similar: ${alike.join(', ')}.` : '',
    differs.length > 0 ? `Different: ${differs.join('; ')}.` : '',
  ];
  return parts.filter((x) => x !== '').join(' ') || 'Similar in everything measured.';
}

/** The present run as a line over the shape of the other. */
function Overlaid({ near }: { near: NearView }) {
  if (near.there === '') return null;
  return (
    <svg
      viewBox="0 0 150 28"
      preserveAspectRatio="none"
      role="img"
      aria-label={`Run ${near.runHere} over the run of ${near.says}`}
      className="h-10 w-full"
    >
      <path d={near.there} className="fill-penumbra" />
      <path d={near.here} className="fill-none stroke-umbra" strokeWidth="1.2" vectorEffect="non-scaling-stroke" />
      <path d="M0 27.5H150" className="stroke-edge" />
    </svg>
  );
}
