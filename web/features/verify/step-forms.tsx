'use client';

import Link from '@/ui/link';
import { useState } from 'react';
import type { VerifyView } from './view';

export type Step = NonNullable<VerifyView['proof']>['protocols'][number]['steps'][number];
/** What a step can fail by, or be left. */
export type Ask = 'fail' | 'not-done';

/** The buttons that say how a step ended. */
export function StepButtons({
  isMarked,
  saving,
  onTime,
  onPass,
  onAsk,
}: {
  isMarked: boolean;
  saving: boolean;
  /** Starts the step's time; null where it has none, or runs. */
  onTime: (() => void) | null;
  /** null where a run or a measurement shows it. */
  onPass: (() => void) | null;
  onAsk: (what: Ask) => void;
}) {
  return (
    <span className="flex flex-wrap gap-1.5">
      {onTime && (
        <button type="button" className="button min-h-9" disabled={saving} onClick={onTime}>
          Start the timer
        </button>
      )}
      {onPass && (
        <button type="button" className="button min-h-9" disabled={saving} onClick={onPass}>
          Passes {isMarked && <kbd aria-hidden>y</kbd>}
        </button>
      )}
      <button type="button" className="button min-h-9" disabled={saving} onClick={() => onAsk('fail')}>
        Fails {isMarked && <kbd aria-hidden>f</kbd>}
      </button>
      <button type="button" className="button min-h-9" disabled={saving} onClick={() => onAsk('not-done')}>
        Not done {isMarked && <kbd aria-hidden>d</kbd>}
      </button>
    </span>
  );
}

/** Runs that may show a step, and where another is made. */
export function RunChoices({
  view,
  step,
  isMarked,
  saving,
  onTake,
}: {
  view: VerifyView;
  step: Step;
  isMarked: boolean;
  saving: boolean;
  onTake: (run: string) => void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-1.5 text-sm text-muted">
      {view.runs
        .filter((r) => !step.run?.feeds || step.run.feeds.includes(r.feed))
        .filter((r) => !step.at || (r.port === step.at.port && r.flipped === step.at.flipped))
        .slice(0, 4)
        .map((r) => (
          <button
            key={r.key}
            type="button"
            className="chip min-h-9 hover:border-edge"
            disabled={saving}
            onClick={() => onTake(r.key)}
          >
            Use run {r.title}
          </button>
        ))}
      <Link className="chip inline-flex min-h-9 items-center hover:border-edge" href={`/jobs/${view.jobId}/record`}>
        Record it
      </Link>
      <Link className="chip inline-flex min-h-9 items-center hover:border-edge" href={`/jobs/${view.jobId}?add=run`}>
        Type it&nbsp;{isMarked && <kbd aria-hidden>r</kbd>}
      </Link>
    </div>
  );
}

/** A battery's voltage before and after a while on the charger. */
export function RiseForm({
  saving,
  onKeep,
}: {
  saving: boolean;
  onKeep: (measured: { fromV: string; toV: string; minutes: number | null }) => void;
}) {
  const [rise, setRise] = useState({ fromV: '', toV: '', minutes: '' });
  return (
    <form
      className="flex flex-wrap items-center gap-1.5 text-sm"
      onSubmit={(e) => {
        e.preventDefault();
        onKeep({ fromV: rise.fromV, toV: rise.toV, minutes: rise.minutes === '' ? null : Number(rise.minutes) });
      }}
    >
      <label className="flex items-center gap-1.5">
        From
        <input
          className="field min-h-9 w-24 py-1"
          placeholder="3.71 V"
          value={rise.fromV}
          onChange={(e) => setRise({ ...rise, fromV: e.target.value })}
        />
      </label>
      <label className="flex items-center gap-1.5">
        to
        <input
          className="field min-h-9 w-24 py-1"
          placeholder="3.84 V"
          value={rise.toV}
          onChange={(e) => setRise({ ...rise, toV: e.target.value })}
        />
      </label>
      <label className="flex items-center gap-1.5">
        in
        <input
          className="field min-h-9 w-16 py-1"
          inputMode="numeric"
          placeholder="15"
          value={rise.minutes}
          onChange={(e) => setRise({ ...rise, minutes: e.target.value })}
        />
        minutes
      </label>
      <button type="submit" className="button min-h-9" disabled={saving}>
        Save
      </button>
    </form>
  );
}

/** What was seen where a step failed, or why it was not done. */
export function ReasonForm({
  asks,
  saving,
  onKeep,
  onDrop,
}: {
  asks: Ask;
  saving: boolean;
  onKeep: (reason: string) => void;
  onDrop: (asks: null) => void;
}) {
  const [reason, setReason] = useState('');
  return (
    <form
      className="flex flex-wrap items-center gap-1.5 text-sm"
      onSubmit={(e) => {
        e.preventDefault();
        onKeep(reason);
      }}
      onKeyDown={(e) => {
        if (e.key === 'Escape') onDrop(null);
      }}
    >
      <label className="flex min-w-0 flex-1 items-center gap-1.5">
        {asks === 'fail' ? 'What was seen' : 'Reason'}
        <input
          autoFocus
          className="field min-h-9 min-w-0 flex-1 py-1"
          value={reason}
          onChange={(e) => setReason(e.target.value)}
        />
      </label>
      <button type="submit" className="button min-h-9" disabled={saving}>
        Save
      </button>
      <button type="button" className="button min-h-9" onClick={() => onDrop(null)}>
        Cancel
      </button>
    </form>
  );
}
