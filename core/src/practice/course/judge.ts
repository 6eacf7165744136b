import {
  circuitNames,
  circuitTypes,
  patternNames,
  patternTypes,
  type CircuitId,
  type PatternId,
} from '../../catalogue/index.ts';
import { operatingPoint } from '../../bench/index.ts';
import { formatCurrent, formatPower, formatResistance, formatVoltage, parseQuantity } from '../../quantity/index.ts';
import { parseFault, shippedProfile, targetOf } from '../../twin/index.ts';
import { drawLessonRun, withFigures } from './lesson-run.ts';
import settings from './judge.json';
import type { LessonPlace, LessonRun, Question } from './lesson.ts';

/** An answer, judged. */
interface Judged {
  isRight: boolean;
  /** The right answer in words, and why. */
  right: string;
  why: string;
  /** What is wrong about the answer that was given, or what it would have been right for; empty where it is right. */
  whyNot: string;
}

type WithOptions = Exclude<Question, { kind: 'read' | 'reckon' }>;

/** What can be chosen as an answer, in words and in the order in which it is shown; empty where a number is typed. */
export function optionsOf(question: Question): string[] {
  if (question.kind === 'read' || question.kind === 'reckon') return [];
  const words = wordsOf(question);
  return shownOrder(question).map((k) => words[k]);
}

function wordsOf(question: WithOptions): string[] {
  if (question.kind === 'choose') return question.options;
  return question.options.map((id) =>
    question.kind === 'pattern' ? patternNames[id as PatternId] : circuitNames[id as CircuitId],
  );
}

/** Options stand by the alphabet, so that their order says nothing about which is right. */
function shownOrder(question: WithOptions): number[] {
  const words = wordsOf(question);
  return words.map((_, k) => k).sort((a, b) => words[a].localeCompare(words[b], 'en', { numeric: true }));
}

/**
 * Judges an answer by what the twin shows.
 *
 * @param given the number of an option from 0, or a value as it is typed; milliamperes where a current has no unit
 * @returns null for what is no answer at all: no such option, no number
 */
export function judgeAnswer(question: Question, given: string): Judged | null {
  if (question.kind === 'read' || question.kind === 'reckon') return judgeNumber(question, given);
  const options = optionsOf(question);
  const index = shownOrder(question).indexOf(rightOption(question));
  const chosen = /^\d+$/.test(given) ? Number(given) : -1;
  if (options[chosen] === undefined) return null;
  const why = question.kind === 'choose' ? question.why : withFigures(question.why, drawLessonRun(question.run));
  const isRight = chosen === index;
  return {
    isRight,
    right: options[index],
    why,
    whyNot: isRight ? '' : whyNotThis(question, shownOrder(question)[chosen]),
  };
}

/** Why an option that was chosen is wrong. */
function whyNotThis(question: WithOptions, chosen: number): string {
  if (question.kind === 'choose') return question.whyNot[chosen] ?? '';
  if (question.kind === 'pattern') {
    const id = question.options[chosen];
    return `“${patternNames[id]}” looks otherwise: ${patternTypes[id].explains}`;
  }
  const id = question.options[chosen];
  return `${circuitNames[id]}: ${circuitTypes[id].explains}`;
}

function rightOption(question: WithOptions): number {
  if (question.kind === 'choose') return question.right;
  if (question.kind === 'pattern') return question.options.indexOf(drawLessonRun(question.run).pattern);
  return question.options.indexOf(circuitAtFault(question.run));
}

/** The circuit that the fault of a lesson's run is in. */
export function circuitAtFault({ profile: id, fault }: LessonRun): CircuitId {
  const profile = shippedProfile(id);
  if (!profile) throw new RangeError(`there is no shipped profile "${id}"`);
  const { at, kind } = parseFault(profile, fault);
  return kind === 'none' ? 'none' : (targetOf(profile, at)?.circuit ?? 'unmodelled');
}

type Numeric = Extract<Question, { kind: 'read' | 'reckon' }>;

const units = {
  amps: { kind: 'current', bare: 'mA', say: (x: number) => formatCurrent(x, settings.shownA) },
  volts: { kind: 'voltage', bare: 'V', say: formatVoltage },
  ohm: { kind: 'resistance', bare: 'ohm', say: formatResistance },
  defectW: { kind: 'power', bare: 'W', say: formatPower },
} as const;

/** The unit that a number without one is in, which is the one that was asked for; empty where an option is chosen. */
export function askedUnit(question: Question): string {
  if (question.kind !== 'read' && question.kind !== 'reckon') return '';
  return question.kind === 'reckon' && question.quantity === 'amps' ? 'A' : units[question.quantity].bare;
}

/**
 * A number that is right but for its unit: amperes typed where milliamperes were asked for.
 *
 * @returns what to type instead, to be asked before it is judged; null where it is no such slip
 */
export function unitSlip(question: Question, given: string): string | null {
  if ((question.kind !== 'read' && question.kind !== 'reckon') || /[a-zΩ]/i.test(given)) return null;
  const unit = askedUnit(question);
  const other = unit === 'mA' ? 'A' : unit === 'A' ? 'mA' : null;
  if (other === null || judgeNumber(question, given)?.isRight !== false) return null;
  return judgeNumber(question, `${given} ${other}`)?.isRight
    ? `${given} ${unit} or ${given} ${other}? Type the unit, or the number in ${unit}.`
    : null;
}

function judgeNumber(question: Numeric, given: string): Judged | null {
  const unit = units[question.quantity];
  const text = /[a-zΩ]/i.test(given) ? given : `${given} ${askedUnit(question)}`;
  const read = parseQuantity(text, unit.kind);
  if (!read.ok) return null;
  const right = rightNumber(question);
  const off = Math.abs(read.value - right);
  const least = question.kind === 'read' && question.quantity === 'amps' ? settings.minA : 0;
  const why = question.kind === 'read' ? withFigures(question.why, drawLessonRun(question.run)) : question.why;
  const isRight = off <= Math.max(least, question.within * Math.abs(right));
  return { isRight, right: unit.say(right), why, whyNot: isRight ? '' : otherPlace(question, read.value) };
}

const places = {
  before: 'before power-on',
  peak: 'at its highest',
  end: 'at the end',
  whole: 'on the average',
} as const;

/** A level that was read off another place of the run. */
function otherPlace(question: Numeric, value: number): string {
  if (question.kind !== 'read') return '';
  const { levels } = drawLessonRun(question.run);
  const off = (place: LessonPlace): number => Math.abs(levels[place][question.quantity] / value - 1);
  const [found] = (Object.keys(places) as LessonPlace[])
    .filter((place) => place !== question.at && off(place) <= question.within)
    .sort((a, b) => off(a) - off(b));
  return found ? `What you typed is the level ${places[found]}.` : '';
}

function rightNumber(question: Numeric): number {
  if (question.kind === 'read') return drawLessonRun(question.run).levels[question.at][question.quantity];
  const { setV, limitA, ohm, leadsOhm } = question.of;
  const point = operatingPoint(setV, limitA, ohm, leadsOhm);
  return question.quantity === 'ohm' ? ohm + leadsOhm : point[question.quantity];
}
