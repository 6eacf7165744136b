'use client';

import Link from '@/ui/link';
import type { ReadingMode } from '@umbral/core/words';
import type { Phase, TestView } from './words';

/** What each suspect expects at the point that was chosen, where it is not the one that is proposed first. */
export function ExpectedHere({ test }: { test: TestView | undefined }) {
  if (!test) return null;
  return (
    <div className="card p-3">
      <h2 className="font-bold">Here: {test.title}</h2>
      <Predictions of={test} />
    </div>
  );
}

/** What each suspect expects of a test. */
function Predictions({ of }: { of: TestView }) {
  return (
    <ul aria-label="Expected value for each suspect" className="mt-1.5 text-sm">
      {of.predicts.map((p) => (
        <li key={p.name} className="flex justify-between gap-3 border-t border-line py-0.5 first:border-0">
          <span className="min-w-0 truncate">{p.name}</span>
          <span className="text-right">{p.says}</span>
        </li>
      ))}
    </ul>
  );
}

/** What to do next at the opened device, what each suspect expects of it, and where it is done. */
export function Proposals({
  jobId,
  next,
  current,
  works,
  onFollow,
}: {
  jobId: number;
  next: readonly TestView[];
  current: { rail: string; mode: ReadingMode; phase: Phase };
  /** It was seen to work: what is left is to prove it. */
  works: boolean;
  onFollow: (test: TestView) => void;
}) {
  const [best, ...others] = next;
  if (works)
    return (
      <div className="card grid gap-2 p-3 text-sm">
        <p>Values from before the repair are crossed out. What is left is to prove the repair.</p>
        <Link className="button" href={`/jobs/${jobId}/verify`}>
          Verify
        </Link>
      </div>
    );
  if (!best)
    return (
      <div className="card p-3 text-sm text-muted">
        No further measurement helps. Act on the first suspect, with a run before and a run after.
      </div>
    );
  const isHere = best.kind === 'reading' && best.mode === current.mode && best.at.includes(current.rail);
  return (
    <div className="card p-3">
      <h2 className="font-bold">Next: {best.title}</h2>
      <p className="text-sm text-muted">
        {best.says}
        {best.risk && ` · ${best.risk}`}
      </p>
      <Predictions of={best} />
      {!isHere && (
        <div className="mt-2">
          <Go jobId={jobId} test={best} onFollow={onFollow} isMain />
        </div>
      )}
      {others.length > 0 && (
        <details className="mt-2 text-sm">
          <summary>Other tests, most useful per minute first</summary>
          <ol className="mt-1 grid gap-1">
            {others.map((test) => (
              <li key={test.id} className="flex items-center justify-between gap-2">
                <span className="min-w-0">
                  {test.title} <span className="text-muted">· {test.says}</span>
                </span>
                <Go jobId={jobId} test={test} onFollow={onFollow} />
              </li>
            ))}
          </ol>
        </details>
      )}
    </div>
  );
}

/** Where a test is done that is not done with a probe. */
function placeOf(test: TestView): { to: string; word: string } {
  if (test.kind === 'injection') return { to: '/locate', word: 'Locate' };
  if (test.kind === 'action' && test.id.includes('disconnect')) return { to: '/record', word: 'Record' };
  if (test.kind === 'verify') return { to: '/record', word: 'Record' };
  return { to: '', word: 'Go to the job' };
}

function Go({
  jobId,
  test,
  onFollow,
  isMain = false,
}: {
  jobId: number;
  test: TestView;
  onFollow: (test: TestView) => void;
  isMain?: boolean;
}) {
  const look = `button min-h-9 ${isMain ? 'button-main' : ''}`;
  if (test.kind === 'reading')
    return (
      <button type="button" className={look} onClick={() => onFollow(test)}>
        Probe here
      </button>
    );
  const { to, word } = placeOf(test);
  return (
    <Link className={look} href={`/jobs/${jobId}${to}`}>
      {word}
    </Link>
  );
}
