'use client';

import { useEffect, useMemo, useState } from 'react';
import type { Preview } from '@/server/record/rows/run-rows';
import { useKey } from '@/ui/keys';
import type { RunView } from './view';
import { cropped, croppedPreview, panned, windowWithin, zoomed, type Stretch } from './window';

/** The run as far as it is looked at: the whole, or a part of it as finely as its samples allow. */
export function useZoom(jobId: number, run: RunView) {
  const [part, setPart] = useState<Stretch | null>(null);
  const [picture, setPicture] = useState<{ part: Stretch; preview: Preview } | null>(null);
  const key = encodeURIComponent(run.run.id);
  useEffect(() => {
    if (part === null) return;
    const stop = new AbortController();
    const query = new URLSearchParams({ from: String(part.t0), to: String(part.t1) });
    fetch(`/api/jobs/${jobId}/runs/${key}/window?${query}`, { signal: stop.signal })
      .then((answer) => answer.json() as Promise<{ ok: boolean; value: Preview }>)
      .then((answer) => answer.ok && setPicture({ part, preview: answer.value }))
      // What is known from the whole stays in sight.
      .catch(() => undefined);
    return () => stop.abort();
  }, [jobId, key, part]);
  const look = (wanted: Stretch): void => {
    const next = windowWithin(run, wanted);
    setPart(next);
    // What is known of it stands in until its own picture has come.
    const known =
      next && picture && next.t0 >= picture.part.t0 && next.t1 <= picture.part.t1 ? picture.preview : run.preview;
    setPicture(next && { part: next, preview: croppedPreview(known, next) });
  };
  const now: Stretch = part ?? { t0: run.t0, t1: run.t1 };
  const act = {
    closer: () => look(zoomed(now, 0.5)),
    further: () => look(zoomed(now, 2)),
    whole: () => {
      setPart(null);
      setPicture(null);
    },
    earlier: () => look(panned(now, -0.25)),
    later: () => look(panned(now, 0.25)),
    select: look,
  };
  useKey('+', 'zoom in', act.closer);
  useKey('-', 'zoom out', act.further);
  useKey('0', 'the whole run', act.whole);
  useKey(',', 'earlier, when zoomed in', act.earlier);
  useKey('.', 'later, when zoomed in', act.later);
  const shown = useMemo<RunView>(() => {
    if (part === null || picture === null) return run;
    const { part: seen, preview } = picture;
    const bins = preview.mean.length;
    const band = {
      low: cropped(run.band.low, run, seen, bins),
      high: cropped(run.band.high, run, seen, bins),
    };
    const isIn = run.leavesAt !== null && run.leavesAt >= seen.t0 && run.leavesAt <= seen.t1;
    return { ...run, ...seen, preview, band, leavesAt: isIn ? run.leavesAt : null };
  }, [run, part, picture]);
  return { shown, isClose: part !== null, ...act };
}
