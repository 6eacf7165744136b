import { formatCurrent, formatPower, formatResistance, formatVoltage } from '../../quantity/index.ts';
import { operatingPoint } from '../../bench/index.ts';
import { circuitAtFault } from './judge.ts';
import { drawLessonRun } from './lesson-run.ts';
import settings from './lesson-run.json';
import type { LessonRun, Question } from './lesson.ts';

/**
 * A question as it is asked again after wrong answers: another unit of the model, other values to reckon with. What is asked
 * without a number comes again as it is.
 *
 * @param times how often it was answered wrong before; 0 for the question itself
 */
export function questionAgain(question: Question, times: number): Question {
  if (question.kind === 'reckon') {
    const { factors } = settings;
    const of = { ...question.of, ohm: Number((question.of.ohm * factors[times % factors.length]).toPrecision(2)) };
    return { ...question, of, asks: withReckoned(question.asks, of), why: withReckoned(question.why, of) };
  }
  if (question.kind === 'choose') {
    const ways = [question, ...(question.others ?? [])];
    return { ...question, ...ways[times % ways.length] };
  }
  const run = times === 0 ? question.run : anotherUnit(question, times);
  return { ...question, run, why: question.why.replaceAll('{fault}', faultWords(run)) };
}

/** A fault with a value, bent as often as it was asked for. */
function bent(fault: string, times: number): string {
  const { factors } = settings;
  return fault.replace(/=([\d.]+)$/, (_, value: string) => `=${Number(value) * factors[times % factors.length]}`);
}

const faultWords = ({ fault }: LessonRun): string => formatResistance(Number(/=([\d.]+)$/.exec(fault)?.[1] ?? 0));

/** The next unit of the model for which the question has an answer among those that can be given. */
function anotherUnit(question: Extract<Question, { run: LessonRun }>, times: number): LessonRun {
  let left = times;
  for (let unit = 1; unit <= settings.units; unit++) {
    // What is read changes with the fault; what it is called must not.
    const fault = question.kind === 'read' ? bent(question.run.fault, times) : question.run.fault;
    const run = { ...question.run, unit, fault };
    const isFit =
      question.kind === 'read' ||
      (question.kind === 'pattern'
        ? drawLessonRun(run).pattern === drawLessonRun(question.run).pattern
        : circuitAtFault(run) === circuitAtFault(question.run));
    if (isFit && --left === 0) return run;
  }
  return question.run;
}

/** A sentence with what is reckoned in the place of its braces. */
function withReckoned(
  says: string,
  { setV, limitA, ohm, leadsOhm }: Extract<Question, { kind: 'reckon' }>['of'],
): string {
  const { amps, defectW } = operatingPoint(setV, limitA, ohm, leadsOhm);
  const words: Record<string, string> = {
    setV: formatVoltage(setV),
    limitA: formatCurrent(limitA),
    ohm: formatResistance(ohm),
    leadsOhm: formatResistance(leadsOhm),
    total: formatResistance(ohm + leadsOhm),
    amps: formatCurrent(Number(amps.toPrecision(2))),
    defectW: formatPower(Number(defectW.toPrecision(2))),
  };
  return says.replaceAll(/\{(\w+)\}/g, (whole, name: string) => words[name] ?? whole);
}
