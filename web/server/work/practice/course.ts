import {
  askedUnit,
  circuitsTaughtIn,
  circuitTypes,
  courseLessonOf,
  courseLessons,
  drawLessonRun,
  envelopeOf,
  judgeAnswer,
  lessonMinutes,
  optionsOf,
  questionAgain,
  unitSlip,
  withFigures,
  type CourseLesson,
  type LessonRun,
  type Question,
} from '@umbral/core';
import * as yup from 'yup';
import { json, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import type { Person } from '../../record/actor.ts';
import type { LessonAnswer } from '../../record/tables.ts';
import { makeUnit, newSeed } from './units.ts';

/** A run of a lesson, ready to be drawn. */
export interface LessonPicture {
  t0: number;
  t1: number;
  /** Amperes in even stretches; null where nothing was measured. */
  mean: (number | null)[];
  high: (number | null)[];
  /** Volts in the same stretches. */
  volts: (number | null)[];
  promptAt: number | null;
  /** Places that are pointed at, with what is to be seen there. */
  points: { from: number; to: number; says: string }[];
  /** What the meter shows, in words. */
  feed: string;
}

/** A question as it is asked, with its answer where it was given. */
export interface QuestionView {
  index: number;
  asks: string;
  options: string[];
  /** Unit of what is typed; empty where something is chosen. */
  unit: string;
  picture: LessonPicture | null;
  answer: (LessonAnswer & { right: string; why: string; whyNot: string }) | null;
  /** As it is asked again after a wrong answer; null where the answer is right, or there is none. */
  again: Pick<QuestionView, 'asks' | 'options' | 'picture'> | null;
}

export interface LessonView {
  id: string;
  number: number;
  /** How many lessons there are, and the minutes that one is made for. */
  of: number;
  minutes: number;
  title: string;
  idea: string;
  text: string[];
  caution: string;
  /** Circuits that are new in it. */
  circuits: { name: string; explains: string }[];
  picture: LessonPicture;
  questions: QuestionView[];
  /** Units that need it: the job where it was begun. */
  units: { index: number; jobId: number | null; isCalled: boolean; isFinished: boolean }[];
  isDone: boolean;
  next: { id: string; title: string } | null;
}

/** A lesson in the list of the course. */
export interface LessonListed {
  id: string;
  number: number;
  title: string;
  idea: string;
  answered: number;
  questions: number;
  isDone: boolean;
}

/** The course with how far somebody came. */
export async function loadCourse(q: Queries, personId: number): Promise<LessonListed[]> {
  const rows = await q('practice_lessons').where({ person_id: personId });
  return courseLessons.map((lesson, k) => {
    const row = rows.find((r) => r.lesson === lesson.id);
    return {
      id: lesson.id,
      number: k + 1,
      title: lesson.title,
      idea: lesson.idea,
      answered: Object.keys(row?.answers ?? {}).length,
      questions: lesson.questions.length,
      isDone: row?.done_at != null,
    };
  });
}

/**
 * A lesson with what somebody answered so far.
 *
 * @throws {ExpectedError} for a lesson that there is not
 */
export async function loadLesson(q: Queries, id: string, personId: number): Promise<LessonView> {
  const lesson = known(id);
  const row = await q('practice_lessons').where({ person_id: personId, lesson: id }).first();
  const number = courseLessons.indexOf(lesson) + 1;
  const following = courseLessons[number];
  return {
    id,
    number,
    of: courseLessons.length,
    minutes: lessonMinutes,
    title: lesson.title,
    idea: lesson.idea,
    text: lesson.text,
    caution: lesson.caution ?? '',
    circuits: circuitsTaughtIn(lesson).map((id) => ({
      name: circuitTypes[id].name,
      explains: circuitTypes[id].explains,
    })),
    picture: picture(lesson.example, lesson.points),
    questions: lesson.questions.map((question, index) => questionView(question, index, row?.answers[index] ?? null)),
    units: await unitsOf(q, lesson, personId),
    isDone: row?.done_at != null,
    next: following ? { id: following.id, title: following.title } : null,
  };
}

function known(id: string): CourseLesson {
  const lesson = courseLessonOf(id);
  if (!lesson) throw missing(`Lesson "${id}"`);
  return lesson;
}

function questionView(question: Question, index: number, answer: LessonAnswer | null): QuestionView {
  const times = timesWrong(answer);
  // What was answered stays as it was asked.
  const asked = questionAgain(question, Math.max(0, answer && !answer.isRight ? times - 1 : times));
  const judged = answer ? judgeAnswer(asked, answer.given) : null;
  return {
    index,
    ...askedView(asked),
    unit: askedUnit(asked),
    answer: answer && judged ? { ...answer, right: judged.right, why: judged.why, whyNot: judged.whyNot } : null,
    again: answer && !answer.isRight ? askedView(questionAgain(question, times)) : null,
  };
}

const askedView = (question: Question): Pick<QuestionView, 'asks' | 'options' | 'picture'> => ({
  asks: question.asks,
  options: optionsOf(question),
  picture: 'run' in question ? picture(question.run, []) : null,
});

/** How often a question was answered wrong; answers of before it was counted are one time. */
const timesWrong = (answer: LessonAnswer | null): number => answer?.wrong ?? (answer && !answer.isRight ? 1 : 0);

/** Where nothing was measured there is null, which JSON has. */
const plainNumbers = (values: Float32Array): (number | null)[] =>
  Array.from(values, (x) => (Number.isNaN(x) ? null : Number(x.toFixed(shownDecimals))));

const shownDecimals = 4;
const stretches = 160;
export const feedWords = {
  battery: 'supply at the battery connector',
  'usb-c': 'USB-C meter',
  'dc-in': 'supply at the input',
};

/** A run of the course as it is drawn. */
export function picture(run: LessonRun, points: CourseLesson['points']): LessonPicture {
  const drawn = drawLessonRun(run);
  const { trace, levels } = drawn;
  const [t0, t1] = [trace.t[0], trace.t[trace.t.length - 1]];
  const { mean, high } = envelopeOf(trace.t, trace.i, t0, t1, stretches);
  const { mean: volts } = envelopeOf(trace.t, trace.v, t0, t1, stretches);
  return {
    t0,
    t1,
    mean: plainNumbers(mean),
    high: plainNumbers(high),
    volts: plainNumbers(volts),
    promptAt: drawn.run.markers.find((m) => m.event === 'prompt')?.t ?? null,
    points: points.map(({ at, says }) => {
      const [from, to] = levels[at].span;
      return { from, to, says: withFigures(says, drawn) };
    }),
    feed: feedWords[run.feed],
  };
}

async function unitsOf(q: Queries, lesson: CourseLesson, personId: number): Promise<LessonView['units']> {
  const rows = (await q('practice_units as u')
    .join('jobs as j', 'j.id', 'u.job_id')
    .leftJoin('practice_calls as c', 'c.job_id', 'u.job_id')
    .where('u.person_id', personId)
    .where('u.lesson', lesson.id)
    .whereNull('j.deleted_at')
    .orderBy('u.job_id')
    .select('u.job_id', 'u.finished_at', { called: 'c.job_id' })) as {
    job_id: number;
    finished_at: Date | null;
    called: number | null;
  }[];
  return lesson.units.map((_, index) => {
    const row = rows[index];
    return {
      index,
      jobId: row?.job_id ?? null,
      isCalled: row?.called != null,
      isFinished: row?.finished_at != null,
    };
  });
}

export const answerInput = yup.object({
  lesson: yup.string().max(60).required(),
  question: yup.number().integer().min(0).max(50).required(),
  given: yup.string().trim().max(60).required('Answer: type or choose one'),
});

/**
 * Keeps an answer. After a wrong one the question comes again, with other numbers where it has any; a right one stays.
 *
 * @throws {ExpectedError} for what is no answer: no such option, or not a number
 */
export async function answerQuestion(input: yup.InferType<typeof answerInput>, person: Person): Promise<void> {
  const lesson = known(input.lesson);
  const question = lesson.questions[input.question];
  if (!question) throw missing(`Question ${input.question + 1}`);
  await transaction(async (q) => {
    const at = { person_id: person.id, lesson: lesson.id };
    await q('practice_lessons').insert(at).onConflict(['person_id', 'lesson']).ignore();
    const row = await q('practice_lessons').where(at).forUpdate().first();
    const answers = row?.answers ?? {};
    const before = answers[input.question] ?? null;
    if (before?.isRight) return;
    const times = timesWrong(before);
    const asked = questionAgain(question, times);
    const slip = unitSlip(asked, input.given);
    if (slip) throw new ExpectedError('input', slip);
    const judged = judgeAnswer(asked, input.given);
    const unit = askedUnit(asked);
    const expected = unit === '' ? 'one of the options' : `a number in ${unit}`;
    if (!judged) throw new ExpectedError('input', `Answer: "${input.given}" is not possible; expected ${expected}.`);
    const wrong = times + (judged.isRight ? 0 : 1);
    const next = { ...answers, [input.question]: { given: input.given, isRight: judged.isRight, wrong } };
    await q('practice_lessons')
      .where(at)
      .update({ answers: json(next) });
    await closeLesson(q, lesson, person.id);
  });
}

/** A lesson is done when every answer is right and every unit of it was called. */
export async function closeLesson(q: Queries, lesson: CourseLesson, personId: number): Promise<void> {
  const at = { person_id: personId, lesson: lesson.id };
  const row = await q('practice_lessons').where(at).first();
  if (!row || row.done_at) return;
  const units = await unitsOf(q, lesson, personId);
  const isAnswered = lesson.questions.every((_, k) => row.answers[k]?.isRight === true);
  if (isAnswered && units.every((u) => u.isCalled))
    await q('practice_lessons').where(at).update({ done_at: q.fn.now() });
}

/**
 * The unit of a lesson: the one that was begun, or a new one.
 *
 * @returns number of its job
 */
export async function lessonUnit(id: string, index: number, person: Person): Promise<number> {
  const lesson = known(id);
  return transaction(async (q) => {
    await q.raw('SELECT pg_advisory_xact_lock(?, ?)', [4714, person.id]);
    const units = await unitsOf(q, lesson, person.id);
    const unit = units[index];
    const wanted = lesson.units[index];
    if (!unit || !wanted) throw missing(`Unit ${index + 1}`);
    if (unit.jobId !== null) return unit.jobId;
    // Units follow each other: the first that was not begun is the one to begin.
    const seed = newSeed();
    const circuit = wanted.circuits[seed % wanted.circuits.length];
    return makeUnit(q, person, {
      source: 'lesson',
      lesson: lesson.id,
      profile: wanted.profile,
      version: 0,
      circuit,
      kinds: wanted.kinds ?? null,
      severity: wanted.severity ?? null,
      seenOn: { feed: lesson.example.feed, battery: lesson.example.battery ?? true },
      seed,
    });
  });
}
