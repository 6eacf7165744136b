'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import dynamic from 'next/dynamic';
import Link, { useGo } from '@/ui/link';
import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import type { LessonView as View, QuestionView } from '@/server/work/practice/course';
import { Hazard } from '@/ui/parts';
import { answer, takeLessonUnit } from './actions';
import { TextField } from '@/ui/kit/fields';

/** A chart, with the room that it takes until its script is there. */
const LessonPicture = dynamic(() => import('./lesson-picture').then((m) => m.LessonPicture), {
  ssr: false,
  loading: () => <div style={{ height: 220 }} />,
});

/** One idea: read it, look at it, answer, then find it in a unit. */
export function LessonView({ lesson }: { lesson: View }) {
  const { picture, questions } = lesson;
  // One question after the other: the next comes when the one before it was answered.
  const reached = questions.findIndex((q) => q.answer === null);
  const shown = reached < 0 ? questions : questions.slice(0, reached + 1);
  return (
    <main className="mx-auto max-w-3xl px-4 pb-10">
      <p className="pt-2.5 text-sm text-muted">
        <Link href="/practice" className="underline">
          Practice
        </Link>{' '}
        · lesson {lesson.number} of {lesson.of}, about {lesson.minutes} minutes
      </p>
      <h1 className="text-2xl">{lesson.title}</h1>
      <p className="mt-1 text-lg">{lesson.idea}</p>
      {lesson.caution && (
        <div className="mt-3">
          <Hazard>{lesson.caution}</Hazard>
        </div>
      )}
      <div className="mt-3 grid gap-2">
        {lesson.text.map((t) => (
          <p key={t}>{t}</p>
        ))}
      </div>
      <section aria-label="Example" className="card mt-3 p-3">
        <LessonPicture picture={picture} label={picture.points.map((p) => p.says).join(' ')} />
        <ol className="mt-2 grid list-decimal gap-1 pl-5">
          {picture.points.map((p) => (
            <li key={p.says}>{p.says}</li>
          ))}
        </ol>
      </section>
      {lesson.circuits.length > 0 && (
        <>
          <h2 className="mt-5 text-xl">Circuits in this lesson</h2>
          <dl className="mt-2 grid gap-1.5">
            {lesson.circuits.map((c) => (
              <div key={c.name}>
                <dt className="font-semibold">{c.name}</dt>
                <dd>{c.explains}</dd>
              </div>
            ))}
          </dl>
        </>
      )}
      <h2 className="mt-5 text-xl">Questions</h2>
      <div className="mt-2 grid gap-3">
        {shown.map((question) => (
          <Asked key={question.index} lesson={lesson.id} question={question} of={questions.length} />
        ))}
      </div>
      {reached < 0 && <Units lesson={lesson} />}
    </main>
  );
}

function Asked({ lesson, question, of }: { lesson: string; question: QuestionView; of: number }) {
  const { saving, save } = useSave();
  const [typed, setTyped] = useState('');
  const [problem, setProblem] = useState('');
  const [isTriedAgain, setTriedAgain] = useState(false);
  const { answer: given, unit } = question;
  const { asks, options, picture } = (isTriedAgain && question.again) || question;
  const send = (said: string): void => {
    setProblem('');
    save(() => answer({ lesson, question: question.index, given: said }), {
      then: () => setTriedAgain(false),
      failed: setProblem,
    });
  };
  return (
    <section aria-label={`Question ${question.index + 1}`} className="card grid gap-2 p-3">
      <p className="font-semibold">
        <span className="text-muted">
          {question.index + 1} of {of}
        </span>{' '}
        {asks}
      </p>
      {picture && <LessonPicture picture={picture} label={`A run: ${picture.feed}`} />}
      {given && !isTriedAgain ? (
        <p role="status">
          <strong className={given.isRight ? 'text-good' : 'text-decide'}>{given.isRight ? 'Right.' : 'No.'}</strong>{' '}
          {!given.isRight && (
            <>
              {given.whyNot} The answer is “{given.right}”.{' '}
            </>
          )}
          {given.why}
          {!given.isRight && (
            <button type="button" className="button button-quiet ml-2" onClick={() => setTriedAgain(true)}>
              Try again
            </button>
          )}
        </p>
      ) : options.length > 0 ? (
        <div className="grid gap-2">
          {options.map((o, k) => (
            <button
              key={o}
              type="button"
              className="button justify-start text-left"
              disabled={saving}
              onClick={() => send(String(k))}
            >
              {o}
            </button>
          ))}
        </div>
      ) : (
        <form
          className="flex items-end gap-2"
          onSubmit={(e) => {
            e.preventDefault();
            send(typed);
          }}
        >
          <div className="w-40">
            <TextField label={`In ${unit}`} inputMode="decimal" autoComplete="off" value={typed} onValue={setTyped} />
          </div>
          <GatedButton
            type="submit"
            className="button button-main"
            disabled={saving}
            blocked={typed.trim() === '' ? 'Type your answer first' : null}
          >
            Answer
          </GatedButton>
        </form>
      )}
      {problem && (
        <p role="alert" className="text-sm text-decide">
          {problem}
        </p>
      )}
    </section>
  );
}

function Units({ lesson }: { lesson: View }) {
  const go = useGo();
  const { saving, save } = useSave();
  const begun = lesson.units.filter((u) => u.jobId !== null).length;
  return (
    <section aria-label="Units" className="mt-5">
      <h2 className="text-xl">Find a fault</h2>
      <p className="text-muted">
        A new device on your own bench. Switch it on, make your call, and compare it with the engine.
      </p>
      <ul className="mt-2 grid gap-2">
        {lesson.units.map((u) => (
          <li key={u.index} className="card flex flex-wrap items-center gap-2 p-3">
            <span className="mr-auto">
              Unit {u.index + 1}
              {u.isFinished ? ': finished' : u.isCalled ? ': called' : u.jobId !== null ? ': on your bench' : ''}
            </span>
            {u.jobId !== null ? (
              <Link className="button" href={`/jobs/${u.jobId}`}>
                {u.isFinished ? 'Open again' : 'Go on'}
              </Link>
            ) : (
              <GatedButton
                type="button"
                className="button button-main"
                disabled={saving}
                blocked={u.index !== begun ? 'Finish the previous unit first' : null}
                onClick={() => save(() => takeLessonUnit(lesson.id, u.index), { then: (id) => go(`/jobs/${id}`) })}
              >
                Start
              </GatedButton>
            )}
          </li>
        ))}
      </ul>
      {lesson.isDone && (
        <p role="status" className="mt-3 text-lg">
          Lesson {lesson.number} is done.{' '}
          {lesson.next && (
            <Link className="button button-main" href={`/practice/lessons/${lesson.next.id}`}>
              Next: {lesson.next.title}
            </Link>
          )}
        </p>
      )}
    </section>
  );
}
