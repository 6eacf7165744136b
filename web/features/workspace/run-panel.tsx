'use client';

import { lazy, Suspense, useEffect, useState, useSyncExternalStore } from 'react';
import { useKey } from '@/ui/keys';
import { MarkerLane } from '@/features/job/marker-lane';
import { RunButtons } from '@/features/record/run-buttons';
import { usePenumbra } from '@/features/job/penumbra';
import { RunSketch } from '@/features/job/run-sketch';
import { useZoom } from '@/features/job/use-zoom';
import type { JobView, RunView } from '@/features/job/view';
import { ZoomArea, ZoomButtons } from '@/features/job/zoom';
import { useGo } from '@/ui/link';

const loadChart = () => import('@/features/job/run-chart').then((m) => ({ default: m.RunChart }));
// On its way while the page is still being taken over, not only when the chart's turn has come.
const early = typeof window === 'undefined' ? null : loadChart();
const LazyChart = lazy(() => early ?? loadChart());
const never = (): (() => void) => () => undefined;

/** While the stretch that is looked at has moved within so long, the picture is a sketch, ms. */
const restMs = 150;

/**
 * Whether somebody is on their way through the run. The chart with its axes takes longer to draw than the next key takes to
 * come; the sketch of the same stretch takes a fraction of that.
 */
function useIsMoving(shown: RunView): boolean {
  const [at, setAt] = useState({ t0: shown.t0, t1: shown.t1 });
  const now = at.t0 !== shown.t0 || at.t1 !== shown.t1;
  useEffect(() => {
    if (!now) return;
    const rest = setTimeout(() => setAt({ t0: shown.t0, t1: shown.t1 }), restMs);
    return () => clearTimeout(rest);
  }, [now, shown.t0, shown.t1]);
  return now;
}

/**
 * The picture of the run with its markers below, the whole or a part. The chart is large to load: a sketch of the same
 * shape comes with the page and stands until the chart is there.
 */
function RunPicture({ chosen: given, jobId }: { chosen: RunView; jobId: number }) {
  const { run, named } = usePenumbra(given);
  const zoom = useZoom(jobId, run);
  const isMoving = useIsMoving(zoom.shown);
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  const sketch = <RunSketch chosen={zoom.shown} />;
  return (
    <>
      <div className="relative">
        <div className="absolute top-0 right-3 z-10 flex items-center gap-1">
          {named && (
            <p role="status" className="rounded-full border border-edge bg-raised px-2.5 py-0.5 text-sm">
              light band: {named} would draw this
            </p>
          )}
          <ZoomButtons zoom={zoom} />
        </div>
        {isMoving || !inBrowser ? (
          sketch
        ) : (
          <Suspense fallback={sketch}>
            <LazyChart chosen={zoom.shown} />
          </Suspense>
        )}
        <ZoomArea zoom={zoom} />
      </div>
      <MarkerLane chosen={zoom.shown} />
    </>
  );
}

/** The chosen run, large: setup, silhouette before its penumbra, markers, segments in words. */
export function RunPanel({ chosen, view }: { chosen: RunView; view: JobView }) {
  const go = useGo();
  const keys = view.runs.map((r) => r.key);
  const step = (by: number): void => {
    const to = keys[keys.indexOf(chosen.run.id) + by];
    if (to) go(`/jobs/${view.job.id}?run=${encodeURIComponent(to)}`, { scroll: false });
  };
  useKey('[', 'previous run', () => step(-1));
  useKey(']', 'next run', () => step(1));
  return (
    <section id="run" aria-label={`Run ${chosen.run.id}`} className="card flex min-h-[600px] flex-col px-4 pt-3.5 pb-4">
      <div className="flex flex-wrap items-center gap-1.5 text-sm">
        {chosen.chips.map((c) => (
          <span key={c} className="chip">
            {c}
          </span>
        ))}
        <span className="text-muted">
          {chosen.instrument}
          {chosen.bandFrom && ` · band: ${chosen.bandFrom}`}
        </span>
        <span className="ml-auto">
          <RunButtons view={view} chosen={chosen} />
        </span>
      </div>
      {chosen.run.typed && <p className="mt-1.5 font-mono text-sm break-words text-muted">{chosen.run.typed}</p>}
      <p className="sr-only">{chosen.sentence}</p>
      <RunPicture chosen={chosen} jobId={view.job.id} />
      <Segments chosen={chosen} />
      {chosen.notes.length > 0 && (
        <details className="mt-2.5 text-sm text-muted">
          <summary>
            {chosen.notes.length === 1 ? 'One note' : `${chosen.notes.length} notes`} about how this run was read
          </summary>
          <ul className="mt-1 list-disc pl-5">
            {chosen.notes.map((n) => (
              <li key={n}>{n}</li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}

function Segments({ chosen }: { chosen: RunView }) {
  return (
    <ol aria-label="Segments in words" className="mt-2 grid grid-cols-[repeat(auto-fit,minmax(118px,1fr))] gap-2.5">
      {chosen.segments.map((s) => (
        <li
          key={`${s.t0}-${s.kind}`}
          className={`rounded-b-lg border-t-[3px] px-2.5 py-2 text-sm ${s.isFinding ? 'border-decide bg-decide-soft' : 'border-edge bg-raised'}`}
        >
          <strong className="block text-base leading-snug">{s.level}</strong>
          {s.span}
          <br />
          {s.does}
        </li>
      ))}
    </ol>
  );
}
