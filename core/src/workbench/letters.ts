import { circuitTypes, type CircuitId } from '../catalogue/index.ts';
import { formatMoney } from './money.ts';
import { inWords } from './worth.ts';
import settings from './worth.json';

/** What a customer is told about a device. */
export interface LetterFacts {
  /** Who writes, and how they are reached; empty where nobody said. */
  shop: { name: string; contact: string };
  /** Day of the letter, and the last day on which a quote holds, in words. */
  date: string;
  validUntil: string;
  label: string;
  complaint: string;
  /** The leading suspect, with its probability. */
  circuit: CircuitId;
  p: number;
  fee: number;
  /** Earned for saying what it is, where nothing is repaired. */
  diagnosisFee: number;
  /** The shop repairs what is suspected first. */
  isDoneHere: boolean;
  /** Chance that the repair succeeds once it is begun, 0 to 1. */
  success: number;
  /** Day by which it would be ready, in words; null where nobody said. */
  ready: string | null;
  dataWanted: boolean;
  dataFee: number;
}

/** A share as somebody says it across a counter: "in about 8 of 10 cases". */
export function outOfTen(p: number): string {
  const n = Math.round(10 * p);
  if (n <= 0) return 'in fewer than 1 of 20 cases';
  return n >= 10 ? 'in nearly all cases' : `in about ${n} of 10 cases`;
}

const about = ({ label, complaint }: LetterFacts): string =>
  complaint === '' ? `Your device: ${label}.` : `Your device: ${label}. You reported: "${complaint}".`;

const isUnknown = ({ circuit }: LetterFacts): boolean => circuit === 'unmodelled' || circuit === 'none';

/** Known well enough that the repair is offered for what it is. */
const isSure = (facts: LetterFacts): boolean => !isUnknown(facts) && facts.p >= settings.sureFrom;

const found = (facts: LetterFacts): string => {
  const { circuit, p } = facts;
  if (isUnknown(facts)) return 'We do not know yet what is wrong with it.';
  const { plain } = circuitTypes[circuit];
  return isSure(facts)
    ? `The fault is ${inWords(p)} in ${plain}.`
    : `We are not sure yet what is wrong with it. The fault is in ${plain} ${outOfTen(p)} like this one.`;
};

/** What it costs, and how often it works: one statement, since a repair of the wrong place does not work at all. */
const offer = (facts: LetterFacts): string => {
  const { fee, success, isDoneHere } = facts;
  if (isUnknown(facts)) return `A repair costs ${formatMoney(fee)}. ${otherwise(facts)}`;
  if (!isDoneHere)
    return isSure(facts)
      ? `We do not repair that ourselves. ${otherwise(facts)}`
      : `If it is there, we cannot repair it. If not, the repair costs ${formatMoney(fee)}. ${otherwise(facts)}`;
  return isSure(facts)
    ? `The repair costs ${formatMoney(fee)} and works ${outOfTen(success)}. ${otherwise(facts)}`
    : `If it is there, the repair costs ${formatMoney(fee)} and works ${outOfTen(success)}. If not, we ask you before it costs more. ${otherwise(facts)}`;
};

const head = ({ shop: { name, contact }, date }: LetterFacts): string =>
  [name, contact, date].filter(Boolean).join('\n');

/** What nothing that is not found costs. */
const otherwise = ({ diagnosisFee }: LetterFacts): string =>
  diagnosisFee > 0
    ? `If it cannot be repaired, you pay ${formatMoney(diagnosisFee)} for the diagnosis.`
    : 'If it cannot be repaired, you pay nothing.';

/** A quote in plain words, with the probability in words and never sounder than it is. */
export function quoteText(facts: LetterFacts): string {
  const data = facts.dataWanted
    ? `We will try to save your data first. If that works, it costs ${formatMoney(facts.dataFee)}.`
    : 'The data on it may be lost. Tell us if you need it.';
  return [
    head(facts),
    about(facts),
    found(facts),
    offer(facts),
    facts.ready === null ? '' : `It should be ready by ${facts.ready}.`,
    data,
    `This price holds until ${facts.validUntil}. Would you like us to continue?`,
  ]
    .filter((line) => line !== '')
    .join('\n');
}

/** What a customer is told where the shop stops, and what becomes of the data. */
export function declineText(facts: LetterFacts): string {
  return [
    head(facts),
    about(facts),
    found(facts),
    `We recommend not to repair it. A repair would cost more than it is worth, or we do not offer it${
      facts.diagnosisFee > 0 ? `. The diagnosis costs ${formatMoney(facts.diagnosisFee)}` : '. You pay nothing'
    }.`,
    facts.dataWanted
      ? `You asked us to save your data. We can try that on its own. If it works, it costs ${formatMoney(facts.dataFee)}.`
      : 'If you need the data on it, tell us before you give the device away.',
    'You can collect the device as it is, or leave it with us for parts.',
  ].join('\n');
}
