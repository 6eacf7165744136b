'use client';

import { formatPercent } from '@umbral/core/words';
import type { Figure, Share } from '@umbral/core';
import type { ReactNode } from 'react';
import { useCases, type Asked } from './cases';

/** A figure that opens the jobs it is made of. */
export function FigureButton({ jobs, children, counted, group, what }: Asked & { jobs: number; children: ReactNode }) {
  const open = useCases();
  return (
    <button
      type="button"
      disabled={jobs === 0}
      onClick={() => open({ counted, group, what })}
      title={jobs === 0 ? undefined : jobs === 1 ? 'Show the job' : `Show the ${jobs.toLocaleString('en')} jobs`}
      className="rounded-md text-left underline decoration-dotted decoration-edge underline-offset-4 enabled:hover:decoration-solid disabled:no-underline"
    >
      {children}
    </button>
  );
}

/** A share with what it may be. */
export function ShareFigure({ name, figure, of }: { name: string; figure: Figure<Share>; of: string }) {
  const { value, jobs, counted } = figure;
  return (
    <div className="card py-2.5">
      <p className="text-sm text-muted">{name}</p>
      <p className="text-2xl font-bold">
        <FigureButton jobs={jobs} counted={counted} what={name}>
          {value.of === 0 ? 'none yet' : formatPercent(value.share)}
        </FigureButton>
      </p>
      <p className="text-sm text-muted">
        {value.of === 0
          ? of
          : `${value.hits} of ${value.of} ${of} · ${formatPercent(value.low)} to ${formatPercent(value.high)}`}
      </p>
    </div>
  );
}

/** A mean in its own words. */
export function MeanFigure({
  name,
  figure,
  words,
}: {
  name: string;
  figure: Figure<number | null>;
  words: (x: number) => string;
}) {
  return (
    <p className="flex justify-between gap-3 border-b border-line py-1 last:border-0">
      <span className="text-muted">{name}</span>
      <FigureButton jobs={figure.jobs} counted={figure.counted} what={name}>
        {figure.value === null ? 'not known' : words(figure.value)}
      </FigureButton>
    </p>
  );
}
