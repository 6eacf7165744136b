import { circuitTypes, type CircuitId } from '../catalogue/index.ts';
import { formatMoney } from './money.ts';
import { inWords } from './worth.ts';

/** What a customer is told about a device. */
export interface LetterFacts {
  label: string;
  complaint: string;
  /** The leading suspect, with its probability. */
  circuit: CircuitId;
  p: number;
  fee: number;
  /** Earned for saying what it is, where nothing is repaired. */
  diagnosisFee: number;
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
  return n >= 10 ? 'nearly always' : `in about ${n} of 10 cases`;
}

const about = ({ label, complaint }: LetterFacts): string =>
  complaint === '' ? `Your device: ${label}.` : `Your device: ${label}. You reported: "${complaint}".`;

const found = ({ circuit, p }: LetterFacts): string =>
  circuit === 'unmodelled' || circuit === 'none'
    ? 'What is wrong with it cannot be said yet.'
    : `So far the fault is ${inWords(p)} in ${circuitTypes[circuit].plain}.`;

/** What nothing that is not found costs. */
const otherwise = ({ diagnosisFee }: LetterFacts): string =>
  diagnosisFee > 0
    ? `If it cannot be repaired, finding that out costs ${formatMoney(diagnosisFee)}.`
    : 'If it cannot be repaired, it costs nothing.';

/** A quote in plain words, with the probability in words and never sounder than it is. */
export function quoteText(facts: LetterFacts): string {
  const data = facts.dataWanted
    ? `You want what is stored on it: that is brought out first, for ${formatMoney(facts.dataFee)}, where it can be.`
    : 'What is stored on it may be lost: tell us if you need it.';
  return [
    about(facts),
    found(facts),
    `The repair costs ${formatMoney(facts.fee)}. Such repairs succeed ${outOfTen(facts.success)}. ${otherwise(facts)}`,
    facts.ready === null ? '' : `It would be ready by ${facts.ready}.`,
    data,
    'Would you like us to continue?',
  ]
    .filter((line) => line !== '')
    .join('\n');
}

/** What a customer is told where the shop stops, and what becomes of the data. */
export function declineText(facts: LetterFacts): string {
  return [
    about(facts),
    found(facts),
    `A repair would cost more than it is worth to you, or it is one that we do not make. We stop here${
      facts.diagnosisFee > 0 ? `; what was done costs ${formatMoney(facts.diagnosisFee)}` : ', and it costs you nothing'
    }.`,
    facts.dataWanted
      ? `You want what is stored on it. We can try to bring only that out, for ${formatMoney(facts.dataFee)} if it succeeds.`
      : 'If you need what is stored on it, tell us before you give it away.',
    'You can have it back as it is, or leave it to us for parts.',
  ].join('\n');
}
