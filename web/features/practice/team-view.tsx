import { countOf, circuitNames } from '@umbral/core/words';
import Link from '@/ui/link';
import type { UnitChoice } from '@/server/work/practice/home';
import type { LearnerView, TeamUnitView } from '@/server/work/practice/team';
import { Empty } from '@/ui/parts';
import { ChooseUnit } from './choose-unit';

/** For the lead: who is ready for what, with the calls that it stands on, and the unit of the week. */
export function TeamView({
  learners,
  team,
  choice,
}: {
  learners: LearnerView[];
  team: TeamUnitView | null;
  choice: UnitChoice;
}) {
  return (
    <main className="mx-auto max-w-[1200px] px-4 pb-8">
      <p className="pt-2.5 text-sm text-muted">
        <Link href="/practice" className="underline">
          Practice
        </Link>
      </p>
      <h1 className="text-2xl">Skills by person</h1>
      <p className="text-muted">
        Based on each person’s last twelve units. Ready means: at least six units, 80 % of the engine’s points, right as
        often as sure, and no risk taken.
      </p>
      <div className="mt-3 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_340px]">
        <div className="grid min-w-0 content-start gap-3">
          {learners.length === 0 && (
            <Empty title="No practice yet">
              <p>Figures appear here after the first unit or lesson.</p>
            </Empty>
          )}
          {learners.map((l) => (
            <Learner key={l.id} learner={l} />
          ))}
        </div>
        <div className="grid content-start gap-3">
          {team && (
            <p className="card p-3 text-sm">
              This week: {team.model}. It cannot be changed once someone has started it.
            </p>
          )}
          <ChooseUnit choice={choice} forTeam />
          <p className="text-sm text-muted">To practise a closed job, open it and choose More, Practise this fault.</p>
        </div>
      </div>
    </main>
  );
}

function Learner({ learner: l }: { learner: LearnerView }) {
  const f = l.figures;
  return (
    <section aria-label={l.name} className="card grid gap-2 p-4">
      <h2 className="text-lg">{l.name}</h2>
      <p className="text-sm text-muted">
        {l.lessonsDone} of 12 lessons · {countOf(f.units, 'unit')}, right in {f.right} · {Math.round(f.points)} points;
        the engine {Math.round(f.enginePoints)}
        {f.risks > 0 && ` · ${countOf(f.risks, 'risk')} taken`}
      </p>
      <div className="grid gap-3 sm:grid-cols-2">
        <Ready title="By device" list={l.byClass} />
        <Ready title="By depth" list={l.byDepth} />
      </div>
      <details className="text-sm">
        <summary className="min-h-9 py-1.5">Latest units</summary>
        <ul className="grid gap-1">
          {l.last.map((u) => (
            <li key={u.jobId}>
              <Link href={`/jobs/${u.jobId}`} className="underline">
                {circuitNames[u.circuit]}
              </Link>
              {u.said === u.circuit ? ', right' : `, called ${circuitNames[u.said]}`}: {Math.round(u.points)} points
            </li>
          ))}
        </ul>
      </details>
    </section>
  );
}

function Ready({ title, list }: { title: string; list: LearnerView['byClass'] }) {
  return (
    <div>
      <h3 className="text-sm font-semibold">{title}</h3>
      <ul className="text-sm">
        {list.map(({ name, ready }) => (
          <li key={name}>
            <strong className={ready.isReady ? 'text-good' : ''}>
              {name}: {ready.isReady ? 'ready' : 'not yet'}
            </strong>{' '}
            <span className="text-muted">{ready.says}</span>
          </li>
        ))}
      </ul>
    </div>
  );
}
