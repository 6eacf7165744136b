'use client';

import { countOf, sayMinutes } from '@umbral/core/words';
import { Check } from 'lucide-react';
import Link, { useGo } from '@/ui/link';
import { useSave } from '@/ui/kit/use-save';
import type { PracticeHome } from '@/server/work/practice/home';
import { LocalDate } from '@/ui/kit/local-date';
import { useKey } from '@/ui/keys';
import { takeNextUnit, takeTeam } from './actions';
import { ChooseUnit } from './choose-unit';

/** Practice: what to do next, the course, what one gets wrong, and how well one calls. */
export function PracticeView({ home, isLead }: { home: PracticeHome; isLead: boolean }) {
  const isNew = home.figures.units === 0 && home.course.every((l) => l.answered === 0);
  return (
    <main className="mx-auto max-w-[1200px] px-4 pb-8">
      <div className="flex flex-wrap items-baseline gap-x-4 pt-2.5">
        <h1 className="text-2xl">Practice</h1>
        <p className="text-muted">Simulated devices. None of this counts as a job.</p>
        {isLead && (
          <Link href="/practice/team" className="ml-auto underline">
            Skills by person
          </Link>
        )}
      </div>
      <div className="mt-3 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_360px]">
        <div className="grid min-w-0 content-start gap-3.5">
          <Now home={home} isNew={isNew} />
          <Course home={home} />
        </div>
        <div className="grid min-w-0 content-start gap-3.5">
          {home.open.length > 0 && <OnTheBench home={home} />}
          <Team home={home} />
          {home.figures.units > 0 && <Figures home={home} />}
          {home.mixedUp.length > 0 && <MixedUpList home={home} />}
          <ChooseUnit choice={home.choice} />
        </div>
      </div>
    </main>
  );
}

function Now({ home, isNew }: { home: PracticeHome; isNew: boolean }) {
  const go = useGo();
  const { saving, save } = useSave();
  const lesson = home.course.find((l) => !l.isDone);
  const take = (): void => save(() => takeNextUnit(), { then: (id) => go(`/jobs/${id}`) });
  useKey('x', 'start the next practice unit', take);
  return (
    <section aria-label="Now" className="card grid gap-2 p-4">
      <h2 className="text-xl">{isNew ? 'New to this? Start here.' : 'Now'}</h2>
      <div className="flex flex-wrap gap-2">
        {lesson && (
          <Link className="button button-main" href={`/practice/lessons/${lesson.id}`}>
            Lesson {lesson.number}: {lesson.title}
          </Link>
        )}
        <button type="button" className={lesson ? 'button' : 'button button-main'} disabled={saving} onClick={take}>
          Next unit <kbd>x</kbd>
        </button>
        <Link className="button" href="/practice/cards">
          Pattern drill{home.cardsDue > 0 ? `: ${home.cardsDue} due` : ', 1 minute'}
        </Link>
      </div>
      <p className="text-sm text-muted">
        {isNew
          ? 'Twelve lessons of ten minutes each: read, look, answer, then find the fault in a device. Later units are chosen from what you get wrong.'
          : 'The next unit is chosen from what you mix up and what is new to you. A call takes about five minutes.'}
      </p>
    </section>
  );
}

function Course({ home }: { home: PracticeHome }) {
  return (
    <section aria-label="Course" className="card p-4">
      <h2 className="text-xl">The course</h2>
      <ol className="mt-1">
        {home.course.map((l) => (
          <li key={l.id} className="border-t border-line first:border-0">
            <Link
              href={`/practice/lessons/${l.id}`}
              className="grid grid-cols-[2rem_minmax(0,1fr)_auto] items-baseline gap-x-2 py-2 hover:bg-raised"
            >
              <span className="text-muted">{l.number}</span>
              <span>
                <strong>{l.title}</strong> <span className="text-muted">{l.idea}</span>
              </span>
              <span className="text-sm text-muted">
                {l.isDone ? (
                  <span className="flex items-center gap-1 text-good">
                    <Check size={16} aria-hidden /> done
                  </span>
                ) : l.answered > 0 ? (
                  `${l.answered} of ${l.questions}`
                ) : (
                  ''
                )}
              </span>
            </Link>
          </li>
        ))}
      </ol>
    </section>
  );
}

function OnTheBench({ home }: { home: PracticeHome }) {
  return (
    <section aria-label="On your practice bench" className="card p-4">
      <h2 className="text-lg">On your practice bench</h2>
      <ul className="mt-1 grid gap-1">
        {home.open.map((u) => (
          <li key={u.jobId}>
            <Link href={`/jobs/${u.jobId}`} className="underline decoration-edge underline-offset-2">
              {u.label}
            </Link>{' '}
            <span className="text-sm text-muted">{u.isCalled ? 'called, not finished' : 'not called yet'}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

function Team({ home: { team } }: { home: PracticeHome }) {
  const go = useGo();
  const { saving, save } = useSave();
  if (!team) return null;
  return (
    <section aria-label="Unit of the week" className="card grid gap-1.5 p-4">
      <h2 className="text-lg">Unit of the week</h2>
      <p className="text-sm text-muted">{team.model}, the same for everyone.</p>
      <button
        type="button"
        className="button"
        disabled={saving}
        onClick={() => save(() => takeTeam(), { then: (id) => go(`/jobs/${id}`) })}
      >
        {team.jobId === null ? 'Try it' : 'Continue'}
      </button>
      {team.results.length > 0 && (
        <ol className="text-sm">
          {team.results.map((r) => (
            <li key={r.name} className="flex justify-between gap-2">
              <span className="truncate">{r.name}</span>
              <span className="tabular-nums">
                {Math.round(r.points)} points{r.right ? ', right' : ''}
              </span>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}

function Figures({ home: { figures: f, lastCalls } }: { home: PracticeHome }) {
  return (
    <section aria-label="Your calls" className="card grid gap-1.5 p-4">
      <h2 className="text-lg">Your calls</h2>
      <p>
        <strong>{Math.round(f.points)} points</strong> on average; the engine got {Math.round(f.enginePoints)} on the
        same units.
      </p>
      <p className="text-sm text-muted">
        Right in {f.right} of {f.units}
        {f.minutes > 0 && ` · ${sayMinutes(f.minutes)} per unit`}
        {f.risks > 0 && ` · ${countOf(f.risks, 'risk')} taken`}
        {f.testPoints !== null && ` · next tests ${Math.round(f.testPoints)} of 100`}
      </p>
      {f.final && (
        <p className="text-sm">
          After measuring: {Math.round(f.final.points)} points; the engine {Math.round(f.final.engine)} (
          {countOf(f.final.of, 'unit')}).
        </p>
      )}
      <Points calls={lastCalls} />
      <h3 className="text-sm font-semibold">How sure you are, and how often you are right</h3>
      <ul className="text-sm">
        {f.calibration.map((g) => (
          <li key={g.said}>
            You say {Math.round(100 * g.said)} % and are right {g.right} of {countOf(g.of, 'time')}.
          </li>
        ))}
      </ul>
      <OverTime stretches={f.overTime} />
    </section>
  );
}

const shownStretches = 6;

/** How sure one was and how often right, ten calls after ten: the two come together as somebody learns to say what they know. */
function OverTime({ stretches }: { stretches: PracticeHome['figures']['overTime'] }) {
  if (stretches.length < 2) return null;
  return (
    <table className="w-full text-sm">
      <caption className="text-left font-semibold">In groups of ten calls, latest at the bottom</caption>
      <tbody>
        {stretches.slice(-shownStretches).map((s, k) => (
          <tr key={k} className="border-t border-dotted border-line">
            <td className="py-0.5">
              Sure <span className="tabular-nums">{Math.round(100 * s.said)} %</span>
            </td>
            <td className="text-right">
              right{' '}
              <span className="tabular-nums">
                {s.right} of {s.of}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The points of the last calls as bars over those of the engine, the oldest first. */
function Points({ calls }: { calls: PracticeHome['lastCalls'] }) {
  const width = 100 / Math.max(12, calls.length);
  const high = (points: number): number => 30 * Math.max(0, Math.min(100, points)) * 0.01;
  return (
    <svg
      viewBox="0 0 100 32"
      preserveAspectRatio="none"
      className="h-14 w-full"
      role="img"
      aria-label={`Points of the last ${calls.length} calls: ${calls.map((c) => Math.round(c.points)).join(', ')}`}
    >
      {calls.map((c, k) => (
        <g key={k}>
          <rect
            x={k * width}
            y={31 - high(c.engine)}
            width={width * 0.8}
            height={high(c.engine)}
            fill="var(--penumbra)"
          />
          <rect x={k * width} y={31 - high(c.points)} width={width * 0.8} height={high(c.points)} fill="var(--umbra)" />
        </g>
      ))}
      <path d="M0 31.5H100" stroke="var(--line)" />
    </svg>
  );
}

function MixedUpList({ home }: { home: PracticeHome }) {
  return (
    <section aria-label="What you mix up" className="card p-4">
      <h2 className="text-lg">What you mix up</h2>
      <ul className="mt-1 grid gap-1.5 text-sm">
        {home.mixedUp.slice(0, 8).map((m) => (
          <li key={m.circuits.join()}>
            {m.circuits.join(' and ')}
            <span className="block text-muted">
              {countOf(m.wrong, 'time')}
              {m.lastRight ? (
                <>
                  , last right <LocalDate iso={m.lastRight} />
                </>
              ) : (
                ', not right yet'
              )}
              {m.isDue && ' · due now'}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
