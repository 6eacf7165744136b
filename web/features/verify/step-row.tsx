'use client';

import { Check, Minus, X } from 'lucide-react';
import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { useKey } from '@/ui/keys';
import { keepProof, startTimer, takeBack } from './actions';
import { ReasonForm, RiseForm, RunChoices, StepButtons, type Ask, type Step } from './step-forms';
import { TimeLeft } from './time-left';
import type { VerifyView } from './view';
import { useGo } from '@/ui/link';

/** What is said of a step: how it ended and why, a run, or a measured rise. */
interface ProofEntry {
  result?: string;
  reason?: string;
  run?: string;
  fromV?: string;
  toV?: string;
  minutes?: number | null;
}

const marks = {
  pass: { icon: Check, word: 'passed', tone: 'text-good' },
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
  const [asks, setAsks] = useState<Ask | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const of = { jobId: view.jobId, protocol: step.protocol, step: step.id };
  const timer = view.timers.find((t) => t.protocol === step.protocol && t.step === step.id);
  const keep = (entry: ProofEntry): void => {
    setProblem(null);
    save(() => keepProof({ ...of, ...entry }), {
      done: `${step.says}: saved.`,
      undo: () => save(() => takeBack(of)),
      then: () => setAsks(null),
      failed: setProblem,
    });
  };
  const start = (): void => save(() => startTimer(of), { done: 'The timer is running. The job waits until then.' });
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
          {isOpen && step.needs && <span className="block text-sm text-muted">{step.needs}</span>}
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
        {isMarked && canPass && !view.isPractice && (
          <StepKeys onPass={() => keep({ result: 'pass' })} onAsk={setAsks} />
        )}
        {isMarked && !canPass && isOpen && !view.isPractice && <StepKeys onPass={null} onAsk={setAsks} />}
        {isMarked && isOpen && step.by === 'run' && <TypeKey jobId={view.jobId} />}
        {isOpen && !view.isClosed && view.isPractice && step.by !== 'run' && (
          <TryIt isMarked={isMarked} saving={saving} onTry={() => keep({ result: 'pass' })} />
        )}
        {isOpen && !view.isClosed && !view.isPractice && (
          <StepButtons
            isMarked={isMarked}
            saving={saving}
            onTime={step.by === 'timer' && !timer ? start : null}
            onPass={canPass ? () => keep({ result: 'pass' }) : null}
            onAsk={setAsks}
          />
        )}
        {step.isSaid && !view.isClosed && (
          <button
            type="button"
            className="button min-h-9 text-sm"
            disabled={saving}
            onClick={() => save(() => takeBack(of), { done: `${step.says}: open again.` })}
          >
            Undo
          </button>
        )}
      </div>
      {isOpen && step.by === 'run' && !view.isClosed && (
        <RunChoices view={view} step={step} isMarked={isMarked} saving={saving} onTake={(run) => keep({ run })} />
      )}
      {isOpen && step.by === 'rise' && !view.isClosed && !view.isPractice && <RiseForm saving={saving} onKeep={keep} />}
      {asks && (
        <ReasonForm asks={asks} saving={saving} onKeep={(reason) => keep({ result: asks, reason })} onDrop={setAsks} />
      )}
      {problem && (
        <p role="alert" className="rounded-lg border border-decide bg-decide-soft px-3 py-1.5 text-sm">
          {problem}
        </p>
      )}
    </li>
  );
}

/** A practice unit is asked: whether it passes is not for whoever practises to say. */
function TryIt({ isMarked, saving, onTry }: { isMarked: boolean; saving: boolean; onTry: () => void }) {
  return (
    <button type="button" className="button min-h-9" disabled={saving} onClick={onTry}>
      Try it on this unit {isMarked && <TryKey onTry={onTry} />}
    </button>
  );
}

function TryKey({ onTry }: { onTry: () => void }) {
  useKey('y', 'try the selected step on the practice unit', onTry);
  return <kbd aria-hidden>y</kbd>;
}

/** A run for the marked step is typed without reaching for the mouse. */
function TypeKey({ jobId }: { jobId: number }) {
  const go = useGo();
  useKey('r', 'type a run for the selected step', () => go(`/jobs/${jobId}?add=run`));
  return null;
}

/** The keys of the step that is next. */
function StepKeys({ onPass, onAsk }: { onPass: (() => void) | null; onAsk: (what: Ask) => void }) {
  useKey('y', 'the selected step passes', () => onPass?.());
  useKey('f', 'the selected step fails', () => onAsk('fail'));
  useKey('d', 'the selected step is not done', () => onAsk('not-done'));
  return null;
}
