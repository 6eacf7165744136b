import type { CircuitId, FaultKind, PatternId } from '../../catalogue/index.ts';
import type { TwinSetup } from '../../twin/index.ts';
import course from './lessons.json';

/** A run that a lesson shows: a model, a fault as the command line takes it, and how it is fed. */
export interface LessonRun {
  profile: string;
  fault: string;
  feed: TwinSetup['feed'];
  /** The device's own battery is connected; it is where left out. */
  battery?: boolean;
  /** Another unit of the model, with levels and times of its own; the model itself where left out. */
  unit?: number;
}

/** Where in a run: before the press, at its highest after it, at its end, or all of it. */
export type LessonPlace = 'before' | 'peak' | 'end' | 'whole';

/** What a lesson says of a place of its run, with the figures of the run in braces: `{before}`, `{peak}`, `{end}`, `{volts}`. */
interface LessonPoint {
  at: LessonPlace;
  says: string;
}

interface Asked {
  /** With the figures of what is reckoned in braces: `{setV}`, `{limitA}`, `{ohm}`, `{leadsOhm}`, `{total}`, `{amps}`, `{defectW}`. */
  asks: string;
  /** Said after the answer, with the figures of the run, or of what is reckoned, in braces. */
  why: string;
}

/** What can be chosen, and of each that is wrong why it is; empty for the right one. */
interface Choice {
  options: string[];
  right: number;
  whyNot: string[];
}

/** What a lesson asks. The right answer of all but `choose` is worked out from the twin, never written down. */
export type Question = Asked &
  (
    | { kind: 'read'; run: LessonRun; at: LessonPlace; quantity: 'amps' | 'volts'; within: number }
    | { kind: 'pattern'; run: LessonRun; options: PatternId[] }
    | { kind: 'circuit'; run: LessonRun; options: CircuitId[] }
    | (Choice & { kind: 'choose'; others?: (Asked & Choice)[] })
    | {
        kind: 'reckon';
        /** A supply on a short. Volts, amperes, ohms. */
        of: { setV: number; limitA: number; ohm: number; leadsOhm: number };
        quantity: 'amps' | 'defectW' | 'ohm';
        within: number;
      }
  );

/** A unit at the end of a lesson: one of these circuits, by chance. */
interface LessonUnit {
  profile: string;
  circuits: CircuitId[];
  /** Kinds of fault that need the lesson; any where left out. */
  kinds?: FaultKind[];
  severity?: 'slight' | 'hard';
}

/** One idea in ten minutes: read, look, answer, then units that need it. */
export interface CourseLesson {
  id: string;
  title: string;
  idea: string;
  text: string[];
  /** Where the work can hurt somebody; left out where it cannot. */
  caution?: string;
  example: LessonRun;
  points: LessonPoint[];
  questions: Question[];
  units: LessonUnit[];
}

/** The course, in its order. */
export const courseLessons = course.lessons as unknown as readonly CourseLesson[];
/** Minutes that a lesson is made for. */
export const lessonMinutes = course.minutes;

/** Circuits that a lesson is the first to need: of its units, and among its answers. */
export function circuitsTaughtIn(lesson: CourseLesson): CircuitId[] {
  const known = new Set(courseLessons.slice(0, courseLessons.indexOf(lesson)).flatMap(circuitsIn));
  return circuitsIn(lesson).filter((id) => !known.has(id));
}

/** Circuits that somebody knows who has come to a lesson: of that one and of all before it. */
export function circuitsTaughtBy(lesson: CourseLesson): CircuitId[] {
  return [...new Set(courseLessons.slice(0, courseLessons.indexOf(lesson) + 1).flatMap(circuitsIn))];
}

const circuitsIn = ({ units, questions }: CourseLesson): CircuitId[] => [
  ...new Set([
    ...units.flatMap((u) => u.circuits),
    ...questions.flatMap((q) => (q.kind === 'circuit' ? q.options : [])),
  ]),
];

/** A lesson by its id; null where there is none. */
export function courseLessonOf(id: string): CourseLesson | null {
  return courseLessons.find((l) => l.id === id) ?? null;
}
