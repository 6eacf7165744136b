'use client';

import dynamic from 'next/dynamic';
import { circuitNames, formatMoney, formatPercent } from '@umbral/core/words';
import type { Scorecard, ScorecardGroup } from '@umbral/core';
import Link from '@/ui/link';
import { Empty } from '@/ui/parts';
import { adviceFor } from './advice';
import { Cases } from './cases';
import { FigureButton, MeanFigure, ShareFigure } from './figure';
import { holdsWords, type Holds } from './holds';
import type { GroupLine, ScorecardPageView } from './queries';
import { ReplayCard } from './replay';

/** A chart, with the room that it takes until its script is there. */
const RecalibrationCard = dynamic(() => import('./recalibration').then((m) => m.RecalibrationCard), {
  ssr: false,
  loading: () => <div style={{ height: 340 }} />,
});
const Reliability = dynamic(() => import('./reliability').then((m) => m.Reliability), {
  ssr: false,
  loading: () => <div style={{ height: 260 }} />,
});

const groupWords: Record<ScorecardGroup, string> = {
  pattern: 'pattern',
  class: 'kind of device',
  model: 'model',
  technician: 'technician',
  month: 'month',
  engine: 'engine',
};

const minutesWords = (x: number): string => `${Math.round(x)} min`;

/** How often the call was right, whether its percentages hold, and for what. */
export function ScorecardView({ view, isLead }: { view: ScorecardPageView; isLead: boolean }) {
  const { card } = view;
  if (card.closed === 0)
    return (
      <main className="mx-auto max-w-[1280px] px-4 py-4">
        <h1 className="text-2xl">Scorecard</h1>
        <Empty title="No closed jobs yet">
          <p>
            The verdict is saved when a device is opened. When the job is closed, it is compared with the confirmed
            cause.
          </p>
          <Link href="/" className="button">
            Go to the bench
          </Link>
        </Empty>
      </main>
    );
  return (
    <Cases>
      <main className="mx-auto max-w-[1280px] px-4 py-4">
        <h1 className="text-2xl">Scorecard</h1>
        <p className="text-muted">
          {card.scored.value.toLocaleString('en')} of {card.closed.toLocaleString('en')} closed jobs have a confirmed
          cause and a verdict saved before opening. Only these count as right or wrong.
        </p>
        <p className="mt-1 text-lg">{trustSentence(card, view.holds, view.groups)}</p>
        <p className="text-lg font-semibold">{adviceFor(card, view)}</p>
        <div className="mt-3 grid gap-3 sm:grid-cols-2 lg:grid-cols-5">
          <ShareFigure name="First suspect right" figure={card.first} of="verdicts" />
          <ShareFigure name="Among the first three" figure={card.firstThree} of="verdicts" />
          <ShareFigure
            name={`In the named group (${(card.groupSize ?? 0).toFixed(1)} suspects on average)`}
            figure={card.group}
            of="verdicts"
          />
          <ShareFigure name="Part right when the circuit was right" figure={card.element} of="verdicts with a part" />
          <ShareFigure name="Not found or disappeared" figure={card.notFound} of="closed jobs" />
        </div>
        <div className="mt-3 grid gap-3 lg:grid-cols-2">
          <section aria-label="Percentages" className="card">
            <h2 className="text-lg">Are the percentages right?</h2>
            <Reliability bins={card.reliability} />
            {card.calibrationError !== null && (
              <p className="mt-1 text-sm text-muted">
                Off by {Math.round(100 * card.calibrationError)} points on average.
              </p>
            )}
          </section>
          <div className="grid content-start gap-3">
            <Baselines card={card} />
            <section aria-label="Effort" className="card">
              <h2 className="text-lg">Effort</h2>
              <MeanFigure name="Minutes to the verdict" figure={card.minutesToCall} words={minutesWords} />
              <MeanFigure name="Minutes to the cause" figure={card.minutesToCause} words={minutesWords} />
              <MeanFigure name="Points measured" figure={card.probes} words={(x) => x.toFixed(1)} />
              <MeanFigure
                name="Cost of the work"
                figure={card.minutesToCause}
                words={(minutes) => formatMoney((minutes / 60) * view.hourlyCost)}
              />
            </section>
            <Confusions card={card} />
          </div>
        </div>
        <Groups view={view} />
        <div className="mt-3 grid gap-3 lg:grid-cols-2">
          <RecalibrationCard view={view.recalibration} isLead={isLead} />
          <ReplayCard view={view} isLead={isLead} />
        </div>
      </main>
    </Cases>
  );
}

/** Whether to trust the percentages, and for what not, in one sentence. */
function trustSentence(card: Scorecard, all: Holds, groups: readonly GroupLine[]): string {
  if (all === 'too-few') return 'Too few confirmed verdicts to check the percentages.';
  const said = `On average the first suspect was given ${formatPercent(card.said ?? 0)} and was right in ${formatPercent(card.first.value.share)}`;
  const over = groups.filter((g) => g.holds === 'too-much').map((g) => g.name);
  const word =
    all === 'holds'
      ? 'The percentages are right'
      : all === 'too-much'
        ? 'The percentages are too high'
        : 'The percentages are too low';
  return `${word}. ${said}.${over.length > 0 ? ` Do not rely on them for: ${over.slice(0, 4).join(', ')}.` : ''}`;
}

function Baselines({ card }: { card: Scorecard }) {
  const rows: [string, number | null][] = [
    ['The verdict', card.logScore],
    ['Patterns alone', card.patternAlone],
    ['Base rates alone', card.baseRates],
  ];
  const best = Math.max(...rows.map(([, x]) => (x === null ? 0 : Math.exp(x))));
  return (
    <section aria-label="Compared with simpler methods" className="card">
      <h2 className="text-lg">Compared with simpler methods</h2>
      <p className="text-sm text-muted">Average probability given to the true circuit (geometric mean).</p>
      {rows.map(([name, log]) => (
        <p key={name} className="mt-1 grid grid-cols-[13em_1fr_3.5em] items-center gap-2 text-sm">
          <span>{name}</span>
          <span className="h-3 rounded-sm bg-raised" aria-hidden>
            <span
              className="block h-3 rounded-sm bg-edge"
              style={{ width: `${log === null || best === 0 ? 0 : (100 * Math.exp(log)) / best}%` }}
            />
          </span>
          <strong className="text-right">{log === null ? '' : formatPercent(Math.exp(log))}</strong>
        </p>
      ))}
    </section>
  );
}

function Confusions({ card }: { card: Scorecard }) {
  if (card.confusions.length === 0) return null;
  return (
    <section aria-label="Most common mix-ups" className="card">
      <h2 className="text-lg">Most common mix-ups</h2>
      <ul className="mt-1 grid gap-1 text-sm">
        {card.confusions.slice(0, 6).map((c) => (
          <li key={`${c.was} ${c.said}`} className="flex justify-between gap-3">
            <span>
              {circuitNames[c.was]} <span className="text-muted">mistaken for {circuitNames[c.said]}</span>
            </span>
            <FigureButton
              jobs={c.jobs}
              counted={c.counted}
              what={`${circuitNames[c.was]} mistaken for ${circuitNames[c.said]}`}
            >
              {c.jobs}
            </FigureButton>
          </li>
        ))}
      </ul>
    </section>
  );
}

const holdsTone: Record<Holds, string> = {
  holds: 'text-good',
  'too-much': 'font-semibold text-decide',
  'too-little': 'font-semibold',
  'too-few': 'text-muted',
};

function Groups({ view }: { view: ScorecardPageView }) {
  return (
    <section aria-label="Group by" className="card mt-3">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="mr-2 text-lg">By</h2>
        {(Object.keys(groupWords) as ScorecardGroup[]).map((g) => (
          <Link
            key={g}
            href={`/scorecard?by=${g}`}
            scroll={false}
            aria-current={g === view.group ? 'true' : undefined}
            className={`chip inline-flex min-h-9 items-center ${g === view.group ? 'bg-umbra text-paper' : 'bg-raised hover:border-edge'}`}
          >
            {groupWords[g]}
          </Link>
        ))}
      </div>
      <div className="mt-2 overflow-x-auto">
        <table className="w-full min-w-[640px] text-sm">
          <thead className="text-left text-muted">
            <tr>
              {[
                groupWords[view.group],
                'verdicts',
                'said',
                'first right',
                '95 % range',
                'percentages',
                'not found',
                'min to cause',
              ].map((h) => (
                <th key={h} scope="col" className="pr-3 font-normal">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {view.groups.map(({ key, name, card, holds }) => (
              <tr key={key} className="border-t border-line">
                <th scope="row" className="py-1 pr-3 text-left font-semibold">
                  {name}
                </th>
                <td className="pr-3">
                  <FigureButton {...card.scored} group={{ by: view.group, key }} what={name}>
                    {card.scored.value}
                  </FigureButton>
                </td>
                <td className="pr-3">{card.said === null ? '' : formatPercent(card.said)}</td>
                <td className="pr-3">
                  <FigureButton {...card.first} group={{ by: view.group, key }} what={`${name}: first suspect right`}>
                    {card.first.value.of === 0 ? '' : formatPercent(card.first.value.share)}
                  </FigureButton>
                </td>
                <td className="pr-3">
                  {card.first.value.of === 0
                    ? ''
                    : `${formatPercent(card.first.value.low)} to ${formatPercent(card.first.value.high)}`}
                </td>
                <td className={`pr-3 ${holdsTone[holds]}`}>{holdsWords[holds]}</td>
                <td className="pr-3">
                  <FigureButton {...card.notFound} group={{ by: view.group, key }} what={`${name}: not found`}>
                    {card.notFound.value.hits} of {card.closed}
                  </FigureButton>
                </td>
                <td>{card.minutesToCause.value === null ? '' : Math.round(card.minutesToCause.value)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
