import { patternNames, type PatternId } from '@umbral/core';
import Link from '@/ui/link';
import { Empty } from '@/ui/parts';
import { pathHeight, pathWidth } from './aligned';
import type { CompareView as View, ComparedRun } from './view';

/** Runs over each other: the first is what the others are held against, and stands behind each as its penumbra. */
export function CompareView({ view }: { view: View }) {
  const { jobId, chosen, choices } = view;
  const linkTo = (keys: string[], anchor = view.anchor): string => {
    const query = new URLSearchParams({ runs: keys.join(','), at: anchor });
    return `/jobs/${jobId}/compare?${query}`;
  };
  const keys = chosen.map((c) => c.key);
  const toggled = (key: string): string[] => (keys.includes(key) ? keys.filter((k) => k !== key) : [...keys, key]);
  return (
    <main className="mx-auto max-w-[1600px] px-4 pb-6">
      <div className="flex flex-wrap items-baseline gap-x-4 pt-2.5">
        <h1 className="min-w-0 truncate text-xl" title={view.title}>
          Compare · {view.title}
        </h1>
        <Link href={`/jobs/${jobId}`} className="underline decoration-edge underline-offset-2">
          back to the job
        </Link>
      </div>
      {choices.length === 0 ? (
        <div className="mt-3">
          <Empty title="Nothing to compare yet">
            Record a run, change one thing, and record again in the same setup.
          </Empty>
        </div>
      ) : (
        <>
          <nav aria-label="Runs to compare" className="mt-2 flex flex-wrap gap-1.5">
            {choices.map((c) => (
              <Link
                key={c.key}
                href={linkTo(toggled(c.key))}
                scroll={false}
                aria-current={c.isChosen ? 'true' : undefined}
                className={`button min-h-9 text-sm ${c.isChosen ? 'border-ink bg-raised ring-1 ring-ink' : ''}`}
              >
                {c.isChosen && <span aria-hidden>{keys.indexOf(c.key) === 0 ? '◐' : '●'}</span>}
                {c.title}
              </Link>
            ))}
          </nav>
          <p className="mt-1.5 flex flex-wrap items-center gap-x-3 gap-y-1 text-sm text-muted">
            <span>Align runs at</span>
            {view.anchors.map((a) => (
              <Link
                key={a.id}
                href={linkTo(keys, a.id)}
                scroll={false}
                aria-current={a.id === view.anchor ? 'true' : undefined}
                className={a.id === view.anchor ? 'font-bold text-ink' : 'underline decoration-edge underline-offset-2'}
              >
                {a.name}
              </Link>
            ))}
            {chosen.length > 1 && (
              <Link href={linkTo([...keys.slice(1), keys[0]])} scroll={false} className="underline underline-offset-2">
                compare with {keys[1]} instead
              </Link>
            )}
          </p>
          <div className="mt-2 grid gap-3">
            {chosen.map((run, k) => (
              <Row key={run.key} run={run} view={view} isFirst={k === 0} behind={k === 0 ? '' : chosen[0].path} />
            ))}
          </div>
          {chosen.length === 1 && <p className="mt-3 text-muted">Choose a second run to compare with this one.</p>}
        </>
      )}
    </main>
  );
}

function Row({ run, view, isFirst, behind }: { run: ComparedRun; view: View; isFirst: boolean; behind: string }) {
  const { axis, levels } = view;
  const x = (t: number): number => (100 * (t - axis.from)) / (axis.to - axis.from);
  const { comparison } = run;
  return (
    <section aria-label={`Run ${run.key}`} className="card grid gap-x-5 gap-y-2 lg:grid-cols-[minmax(0,1fr)_420px]">
      <div className="min-w-0">
        <p className="flex flex-wrap gap-x-3">
          <strong>{run.title}</strong>
          <span className="text-muted">
            {patternNames[run.pattern as PatternId] ?? ''}
            {isFirst && ' · the others are compared with this one'}
          </span>
        </p>
        <div className="relative mt-1 ml-12 h-40">
          {levels.map((l) => (
            <span
              key={l.says}
              className="absolute -left-12 w-11 -translate-y-1/2 text-right text-xs text-muted"
              style={{ top: `${100 * l.at}%` }}
            >
              {l.says}
            </span>
          ))}
          <svg
            viewBox={`0 0 ${pathWidth} ${pathHeight}`}
            preserveAspectRatio="none"
            role="img"
            aria-label={`Current of ${run.title}`}
            className="size-full overflow-visible"
          >
            {levels.map((l) => (
              <path
                key={l.says}
                d={`M0 ${pathHeight * l.at}H${pathWidth}`}
                className="stroke-line"
                strokeDasharray="1 5"
                vectorEffect="non-scaling-stroke"
              />
            ))}
            {behind && <path d={behind} className="fill-penumbra" />}
            <path d={run.path} className="fill-umbra" fillOpacity={behind ? 0.82 : 1} />
            {behind && (
              <path d={behind} className="fill-none stroke-edge" strokeWidth="1.2" vectorEffect="non-scaling-stroke" />
            )}
            {axis.from < 0 && (
              <path
                d={`M${10 * x(0)} 0V${pathHeight}`}
                className="stroke-decide"
                strokeWidth="1.5"
                strokeDasharray="4 3"
                vectorEffect="non-scaling-stroke"
              />
            )}
            <path d={`M0 ${pathHeight}H${pathWidth}`} className="stroke-umbra" vectorEffect="non-scaling-stroke" />
          </svg>
        </div>
        <div className="relative ml-12 h-5 text-xs text-muted" aria-hidden>
          {axis.ticks.map((t) => (
            <span key={t} className="absolute -translate-x-1/2 whitespace-nowrap" style={{ left: `${x(t)}%` }}>
              {t === 0 ? '0 s' : t}
            </span>
          ))}
        </div>
      </div>
      {comparison && (
        <div className="min-w-0">
          <p className="leading-snug">{comparison.says}</p>
          <p className={`mt-1 font-bold ${comparison.normal.is ? 'text-good' : 'text-decide'}`}>
            {comparison.normal.says}
          </p>
          <table className="mt-2 w-full text-left text-sm">
            <thead className="text-muted">
              <tr>
                <th className="font-normal">compared with {view.chosen[0].key}</th>
                <th className="font-normal">before</th>
                <th className="font-normal">now</th>
                <th className="font-normal" title="The change as a multiple of the repeatability">
                  × repeatability
                </th>
              </tr>
            </thead>
            <tbody>
              {comparison.rows.map((r) => (
                <tr key={r.name} className={`border-t border-line ${r.changed ? 'font-semibold' : 'text-muted'}`}>
                  <td>{r.name}</td>
                  <td>{r.from}</td>
                  <td>{r.to}</td>
                  <td>{r.changed ? r.times : 'same'}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {run.after && <p className="mt-2 text-sm">Recorded after: {run.after}.</p>}
          {comparison.setup.length > 0 && (
            <p className="mt-2 text-sm text-decide">Their setups differ: {comparison.setup.join('; ')}.</p>
          )}
        </div>
      )}
    </section>
  );
}
