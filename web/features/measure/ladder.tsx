'use client';

import { memo, useEffect, useRef } from 'react';
import { formatVoltage, sayMeasured } from '@umbral/core/words';
import type { RungView } from './view';
import { sayPhase, type Phase } from './words';

const stateNames: Record<string, string> = {
  always: 'always on',
  standby: 'standby',
  boot: 'while it boots',
  run: 'running',
  '': 'state not stated',
};

/** The rails by power state, from what is always on upwards; what follows from others is told apart from what was read. */
export function Ladder({
  rungs,
  current,
  phase,
  waiting,
  onChoose,
}: {
  rungs: readonly RungView[];
  current: string;
  phase: Phase;
  /** Values that are being saved, by rail. */
  waiting: ReadonlyMap<string, string>;
  onChoose: (id: string) => void;
}) {
  const list = useRef<HTMLOListElement>(null);
  // Only the list moves: the line that is typed into stays where it is.
  useEffect(() => {
    const item = list.current?.querySelector<HTMLElement>('[aria-current]')?.closest('li');
    if (!list.current || !item) return;
    const [top, bottom] = [item.offsetTop, item.offsetTop + item.offsetHeight];
    const room = 28;
    if (top - room < list.current.scrollTop) list.current.scrollTop = top - room;
    else if (bottom > list.current.scrollTop + list.current.clientHeight)
      list.current.scrollTop = bottom - list.current.clientHeight;
  }, [current]);
  return (
    <ol
      ref={list}
      aria-label="Rail list"
      className="relative max-h-[26rem] min-h-64 overflow-y-auto rounded-xl border border-line lg:max-h-none lg:flex-1"
    >
      {rungs.map((rung, k) => (
        <Rung
          key={rung.id}
          rung={rung}
          heading={rung.state === rungs[k - 1]?.state ? null : (stateNames[rung.state] ?? rung.state)}
          isCurrent={rung.id === current}
          phase={phase}
          waiting={waiting.get(rung.id) ?? null}
          onChoose={onChoose}
        />
      ))}
    </ol>
  );
}

const toneClass = {
  good: 'text-good',
  bad: 'font-semibold text-decide',
  implied: 'text-muted italic',
  none: 'text-muted',
} as const;

/** One rail. Only what changed is drawn anew: two hundred of them take typing without a hitch. */
const Rung = memo(function Rung({
  rung,
  heading,
  isCurrent,
  phase,
  waiting,
  onChoose,
}: {
  rung: RungView;
  heading: string | null;
  isCurrent: boolean;
  phase: Phase;
  waiting: string | null;
  onChoose: (id: string) => void;
}) {
  const said = sayPhase(rung.phases[phase]);
  const { seen } = rung.phases[phase];
  const unpowered = (['diode', 'resistance'] as const).flatMap((mode) => {
    const reading = rung[mode];
    return reading ? [{ mode, reading }] : [];
  });
  return (
    <li>
      {heading && (
        <p className="sticky top-0 z-10 border-y border-line bg-raised px-3 py-0.5 text-sm font-semibold">{heading}</p>
      )}
      <button
        type="button"
        aria-current={isCurrent ? 'true' : undefined}
        onClick={() => onChoose(rung.id)}
        className={`grid w-full grid-cols-[minmax(0,1fr)_auto] items-baseline gap-x-3 border-l-4 px-3 py-1 text-left sm:grid-cols-[minmax(0,1.2fr)_8rem_minmax(0,1fr)_minmax(0,1.2fr)] ${
          isCurrent ? 'border-decide bg-decide-soft' : 'border-transparent hover:bg-raised'
        }`}
      >
        <span className="min-w-0">
          <span className="block truncate">
            {rung.name}{' '}
            {rung.nominalV !== null && <span className="text-sm text-muted">{formatVoltage(rung.nominalV)}</span>}
          </span>
          {rung.shorted >= 0.05 && (
            <span className="block text-sm text-decide">short suspected, {Math.round(100 * rung.shorted)} %</span>
          )}
        </span>
        <span className="text-right tabular-nums">
          {!waiting && seen?.was && <s className="mr-1.5 text-sm text-muted">{sayMeasured(seen.was)}</s>}
          {waiting ?? (seen ? seen.isOld ? <s className="text-muted">{sayMeasured(seen)}</s> : sayMeasured(seen) : '')}
          {waiting && <span className="block text-sm text-muted">saving</span>}
        </span>
        <span className={`min-w-0 text-sm ${seen?.isOld ? 'text-muted line-through' : toneClass[said.tone]}`}>
          {said.word}
        </span>
        <span className="min-w-0 text-right text-sm sm:text-left">
          {unpowered.map(({ mode, reading }) => (
            <span key={mode} className="block">
              {mode === 'diode' ? 'diode ' : ''}
              {reading.was && <s className="mr-1 text-muted">{sayMeasured(reading.was)}</s>}
              {reading.isOld ? <s className="text-muted">{sayMeasured(reading)}</s> : sayMeasured(reading)}
              {mode === 'resistance' ? ' to ground' : ''}
              {!reading.isOld && againstOf(reading)}
              {oldOf(reading)}
            </span>
          ))}
          {rung.good.length > 0 && <span className="block text-muted">known good: {rung.good.join(', ')}</span>}
        </span>
      </button>
    </li>
  );
});

/** Something was changed since. */
function oldOf(reading: NonNullable<RungView['diode']>): string {
  return reading.isOld ? ', before the last change' : '';
}

function againstOf(reading: NonNullable<RungView['diode']>): string {
  return reading.against ? `, ${reading.against.word}` : '';
}
