'use client';

import { Check, Minus, X } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { useSave } from '@/features/job/use-save';
import { useKey } from '@/ui/keys';
import { keepProof, startTimer, takeBack } from './actions';
import { TimeLeft } from './time-left';
import type { VerifyView } from './view';

type Step = NonNullable<VerifyView['proof']>['protocols'][number]['steps'][number];

const marks = {
  pass: { icon: Check, word: 'shown', tone: 'text-good' },
  fail: { icon: X, word: 'failed', tone: 'text-decide' },
  'not-done': { icon: Minus, word: 'not done', tone: 'text-muted' },
} as const;

/** One step of a proof: what shows it, what was said, and the buttons to say it. */
export function StepRow({
  view,
  step,
  isMarked,
}: {
  view: VerifyView;
  step: Step;
  /** The step that the keys speak of. */
  isMarked: boolean;
}) {
  const { saving, save } = useSave();
  const [asks, setAsks] = useState<'fail' | 'not-done' | null>(null);
  const [reason, setReason] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const [rise, setRise] = useState({ fromV: '', toV: '', minutes: '' });
  const of = { jobId: view.jobId, protocol: step.protocol, step: step.id };
  const timer = view.timers.find((t) => t.protocol === step.protocol && t.step === step.id);
  const say = (entry: { result?: string; reason?: string; run?: string }): void => {
    setProblem(null);
    save(() => keepProof({ ...of, ...entry }), {
      done: `${step.says}: kept.`,
      undo: () => save(() => takeBack(of)),
      then: () => {
        setAsks(null);
        setReason('');
      },
      failed: setProblem,
    });
  };
  const isOpen = step.result === null;
  const canPass = isOpen && step.by !== 'run' && step.by !== 'rise';
  const mark = step.result ? marks[step.result] : null;
  return (
    <li
      aria-current={isMarked ? 'step' : undefined}
      className={`grid gap-1.5 border-l-4 px-3 py-2 ${isMarked ? 'border-decide bg-decide-soft' : 'border-transparent'}`}
    >
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <span className="min-w-0 flex-1 basis-64">
          {step.says}
          {mark && (
            <span className={`block text-sm ${mark.tone}`}>
              <mark.icon size={15} className="-mt-0.5 inline" aria-hidden /> {mark.word}
              {step.because && `: ${step.because}`}
            </span>
          )}
          {timer && isOpen && (
            <span className="block text-sm">
              <TimeLeft dueAt={timer.dueAt} />
            </span>
          )}
        </span>
        {isMarked && canPass && <StepKeys onPass={() => say({ result: 'pass' })} onAsk={setAsks} />}
        {isMarked && !canPass && isOpen && <StepKeys onPass={null} onAsk={setAsks} />}
        {isMarked && isOpen && step.by === 'run' && <TypeKey jobId={view.jobId} />}
        {isOpen && !view.isClosed && (
          <span className="flex flex-wrap gap-1.5">
            {step.by === 'timer' && !timer && (
              <button
                type="button"
                className="button min-h-9"
                disabled={saving}
                onClick={() => save(() => startTimer(of), { done: 'Its time runs; the job waits until then.' })}
              >
                Start the time
              </button>
            )}
            {canPass && (
              <button
                type="button"
                className="button min-h-9"
                disabled={saving}
                onClick={() => say({ result: 'pass' })}
              >
                Holds {isMarked && <kbd aria-hidden>y</kbd>}
              </button>
            )}
            <button type="button" className="button min-h-9" disabled={saving} onClick={() => setAsks('fail')}>
              Fails {isMarked && <kbd aria-hidden>f</kbd>}
            </button>
            <button type="button" className="button min-h-9" disabled={saving} onClick={() => setAsks('not-done')}>
              Not done {isMarked && <kbd aria-hidden>d</kbd>}
            </button>
          </span>
        )}
        {step.isSaid && !view.isClosed && (
          <button
            type="button"
            className="button min-h-9 text-sm"
            disabled={saving}
            onClick={() => save(() => takeBack(of), { done: `${step.says}: open again.` })}
          >
            Take back
          </button>
        )}
      </div>
      {isOpen && step.by === 'run' && !view.isClosed && (
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
                onClick={() => say({ run: r.key })}
              >
                Take run {r.title}
              </button>
            ))}
          <Link className="chip inline-flex min-h-9 items-center hover:border-edge" href={`/jobs/${view.jobId}/record`}>
            Record it
          </Link>
          <Link
            className="chip inline-flex min-h-9 items-center hover:border-edge"
            href={`/jobs/${view.jobId}?add=run`}
          >
            Type it {isMarked && <kbd aria-hidden>r</kbd>}
          </Link>
        </div>
      )}
      {isOpen && step.by === 'rise' && !view.isClosed && (
        <form
          className="flex flex-wrap items-center gap-1.5 text-sm"
          onSubmit={(e) => {
            e.preventDefault();
            setProblem(null);
            save(
              () =>
                keepProof({
                  ...of,
                  fromV: rise.fromV,
                  toV: rise.toV,
                  minutes: rise.minutes === '' ? null : Number(rise.minutes),
                }),
              { done: `${step.says}: kept.`, undo: () => save(() => takeBack(of)), failed: setProblem },
            );
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
            Keep
          </button>
        </form>
      )}
      {asks && (
        <form
          className="flex flex-wrap items-center gap-1.5 text-sm"
          onSubmit={(e) => {
            e.preventDefault();
            say({ result: asks, reason });
          }}
        >
          <label className="flex min-w-0 flex-1 items-center gap-1.5">
            {asks === 'fail' ? 'What was seen' : 'Why not'}
            <input
              autoFocus
              className="field min-h-9 min-w-0 flex-1 py-1"
              value={reason}
              onChange={(e) => setReason(e.target.value)}
            />
          </label>
          <button type="submit" className="button min-h-9" disabled={saving}>
            Keep
          </button>
          <button type="button" className="button min-h-9" onClick={() => setAsks(null)}>
            Never mind
          </button>
        </form>
      )}
      {problem && (
        <p role="alert" className="rounded-lg border border-decide bg-decide-soft px-3 py-1.5 text-sm">
          {problem}
        </p>
      )}
    </li>
  );
}

/** A run for the marked step is typed without reaching for the mouse. */
function TypeKey({ jobId }: { jobId: number }) {
  const router = useRouter();
  useKey('r', 'type a run for the marked step', () => router.push(`/jobs/${jobId}?add=run`));
  return null;
}

/** The keys of the step that is next. */
function StepKeys({ onPass, onAsk }: { onPass: (() => void) | null; onAsk: (what: 'fail' | 'not-done') => void }) {
  useKey('y', 'the marked step holds', () => onPass?.());
  useKey('f', 'the marked step fails', () => onAsk('fail'));
  useKey('d', 'the marked step is not done', () => onAsk('not-done'));
  return null;
}
