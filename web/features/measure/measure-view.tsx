'use client';

import dynamic from 'next/dynamic';
import Link from '@/ui/link';
import { useMemo, useRef, useState } from 'react';
import { type ReadingMode } from '@umbral/core/words';
import { Hazard } from '@/ui/parts';
import { SuspectList } from '@/features/suspects/suspect-list';
import { OwnPointForm, type OwnPoint } from './own-point';
import { Ladder } from './ladder';
import { ExpectedHere, Proposals } from './proposals';
import { NotKept } from './not-kept';
import { TypeLine, useHow, useTypedLine } from './type-line';
import { useEntry, type Typed } from './use-entry';
import type { MeasureView } from './view';
import type { NetState } from '@/features/board/map-canvas';
import type { MapPoint } from '@/features/board/view';
import { usePreference } from '@/ui/preference';
import { nextOpen, sayRead, statusOf, type Phase, type TestView } from './words';

const BoardMap = dynamic(() => import('@/features/board/board-map').then((m) => m.BoardMap), {
  ssr: false,
  loading: () => <p className="p-4 text-muted">The map is loading …</p>,
});

/** Two views of the same points. */
const shownAs = { list: 'List', map: 'Board map' } as const;

/** Measuring at the opened device: the ladder of rails, one line to type into, what to probe next and why. */
export function MeasureBoard({ view }: { view: MeasureView }) {
  const { probes } = view;
  const first = probes[0] ?? null;
  const [chosen, setChosen] = useState<{ rail: string; mode: ReadingMode; phase: Phase } | null>(null);
  const at = chosen ?? {
    rail: first?.at[0] ?? view.rungs[0]?.id ?? '',
    mode: first?.mode ?? ('voltage' as ReadingMode),
    phase: first?.phase ?? ('after' as Phase),
  };
  const how = useHow();
  const input = useRef<HTMLInputElement>(null);
  const entry = useEntry(view.jobId);
  const count = useRef(0);
  const [own, setOwn] = useState<OwnPoint | null>(null);
  const [as, setAs] = usePreference('measure-as', 'list');
  const [isSwitched, setIsSwitched] = useState(false);
  const known = view.rungs.find((r) => r.id === at.rail) ?? null;
  // A point of one's own has no rung until something was read there.
  const free = known === null && own !== null && own.where === at.rail ? own : null;
  const rung = useMemo(
    () =>
      known ??
      (free ? { id: free.where, name: free.where, nominalV: null, circuit: free.circuit, state: free.state } : null),
    [known, free],
  );
  const line = useTypedLine(at.rail, at.mode, rung?.nominalV ?? null, how.leadsOhm);

  const choose = (rail: string): void => {
    setChosen({ ...at, rail });
    input.current?.focus();
  };
  /** A point of the map: its net may be one that the ladder does not have yet. */
  const measureAt = ({ net, netName, circuit }: MapPoint): void => {
    if (!view.rungs.some((r) => r.id === net)) setOwn({ where: netName, circuit: circuit ?? '', state: '' });
    choose(net);
  };
  const follow = (test: TestView): void => {
    if (test.mode === null) return;
    setChosen({ rail: test.at[0], mode: test.mode, phase: test.phase ?? at.phase });
    input.current?.focus();
  };
  const step = (by: number): void => {
    const place = view.rungs.findIndex((r) => r.id === at.rail);
    const to = view.rungs[Math.min(view.rungs.length - 1, Math.max(0, place + by))];
    if (to) choose(to.id);
  };
  /** Where the probe goes now: as planned without what was just read, or down the ladder. */
  const goOn = (): void => {
    const planned = probes.find(
      (t) => t.mode === at.mode && t.phase === (at.mode === 'voltage' ? at.phase : null) && !t.at.includes(at.rail),
    );
    const rail = how.order === 'plan' && !how.good ? planned?.at[0] : undefined;
    const next = rail ?? nextOpen(view.rungs, at.rail, at.mode, at.phase);
    setChosen({ ...at, rail: next ?? at.rail });
  };
  const submit = (): void => {
    if (!rung || !line.parsed?.ok) return;
    const typed: Typed = {
      key: `${Date.now()}-${count.current++}`,
      where: rung.id,
      name: rung.name,
      text: line.text,
      mode: at.mode,
      phase: at.phase,
      redProbe: how.redProbe,
      leadsOhm: how.leadsOhm,
      good: how.good,
      circuit: rung.circuit ?? '',
      state: rung.state,
    };
    entry.take(typed);
    line.setText('');
    goOn();
  };
  const waiting = new Map(entry.pending.filter((p) => p.status === 'saving').map((p) => [p.where, p.text]));

  const choice = (
    <div role="group" aria-label="Show as" className="flex gap-1">
      {Object.entries(shownAs).map(([id, name]) => (
        <button
          key={id}
          type="button"
          aria-pressed={as === id}
          className={`button min-h-9 ${as === id ? 'border-edge bg-penumbra' : ''}`}
          // The buttons stand elsewhere in the other view: the one that was pressed keeps the focus.
          autoFocus={isSwitched && as === id}
          onClick={() => {
            setIsSwitched(true);
            setAs(id);
          }}
        >
          {name}
        </button>
      ))}
    </div>
  );
  return (
    <div className="mt-2 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_360px]">
      <section
        aria-label="Readings"
        className={`flex min-w-0 flex-col ${as === 'map' ? 'lg:min-h-[calc(100dvh-7.5rem)]' : 'lg:h-[calc(100dvh-7.5rem)] lg:min-h-[34rem]'}`}
      >
        {view.hazards.map((h) => (
          <div key={h} className="mb-1.5">
            <Hazard>{h}</Hazard>
          </div>
        ))}
        <TypeLine
          view={view}
          rung={rung}
          at={at}
          onAt={setChosen}
          line={line}
          how={how}
          input={input}
          onSubmit={submit}
          onStep={step}
        />
        {as === 'list' && (
          <OwnPointForm
            places={view.rungs.map((r) => r.name)}
            onTake={(point) => {
              setOwn(point);
              choose(point.where);
            }}
          />
        )}
        <NotKept entry={entry} />
        <Contradictions of={view.contradictions} />
        <div className="mt-2 flex min-h-0 flex-1 flex-col">
          {as === 'map' ? (
            <BoardMap
              lead={choice}
              board={view.board}
              nets={netsOf(view, at.phase, waiting)}
              plan={planned(probes, at.mode, at.phase)}
              current={at.rail}
              onMeasure={measureAt}
            />
          ) : (
            <>
              <div className="mb-2">{choice}</div>
              <Ladder rungs={view.rungs} current={at.rail} phase={at.phase} waiting={waiting} onChoose={choose} />
            </>
          )}
        </div>
        <p className="mt-1.5 text-sm text-muted">
          {view.isOwn
            ? `Rails of ${view.profile}.`
            : 'This model has no profile. These are the usual points of this kind of device, plus your own.'}
        </p>
      </section>
      <section aria-label="Plan" className="flex min-w-0 flex-col gap-3">
        <div className="card p-3">
          <h2 className="font-bold">{view.isDecided ? 'Isolated' : 'Suspects'}</h2>
          <SuspectList suspects={view.suspects} />
        </div>
        <ExpectedHere test={as === 'map' ? expectedAt(view, at) : undefined} />
        <Proposals jobId={view.jobId} next={view.next} current={at} works={view.works} onFollow={follow} />
        <Link href={`/jobs/${view.jobId}/locate`} className="button">
          Locate a short
        </Link>
      </section>
    </div>
  );
}

/** How the nets stand, by what they are called. */
function netsOf(view: MeasureView, phase: Phase, waiting: ReadonlyMap<string, string>): Map<string, NetState> {
  return new Map(
    view.rungs.map((rung) => [
      rung.id,
      {
        status: statusOf(rung, phase),
        reading: waiting.get(rung.id) ?? sayRead(rung, phase, 'now'),
        was: sayRead(rung, phase, 'before'),
        good: rung.good,
      },
    ]),
  );
}

/** The planned test at a point, unless it is the one that is proposed anyway. */
const expectedAt = (
  { probes, next }: MeasureView,
  at: { rail: string; mode: ReadingMode; phase: Phase },
): TestView | undefined => {
  const here = probes.find(
    (t) => t.at.includes(at.rail) && t.mode === at.mode && (at.mode !== 'voltage' || t.phase === at.phase),
  );
  return here?.id === next.at(0)?.id ? undefined : here;
};

/** Nets in the order in which the plan measures them, as the probe is set. */
const planned = (probes: readonly TestView[], mode: ReadingMode, phase: Phase): string[] => [
  ...new Set(
    probes.filter((t) => t.mode === mode && (mode !== 'voltage' || t.phase === phase)).flatMap((t) => t.at.slice(0, 1)),
  ),
];

/** Readings that cannot both be right. */
function Contradictions({ of }: { of: readonly string[] }) {
  if (of.length === 0) return null;
  return (
    <ul aria-label="Contradictions" className="mt-2 grid gap-1.5">
      {of.map((says) => (
        <li key={says} className="rounded-lg border border-decide bg-decide-soft px-3 py-1.5 text-sm">
          {says}
        </li>
      ))}
    </ul>
  );
}
