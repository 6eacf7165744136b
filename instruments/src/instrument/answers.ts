import type { ScpiDialect } from '../dialect/index.ts';
import { LineCutter, textOf } from '../transport/index.ts';

/** Cuts what arrives into answers. */
interface AnswerCutter {
  push(piece: Uint8Array): void;
  /** Something was left out here: what was kept is no beginning of an answer. */
  skip(): void;
  stop(): void;
}

/** @param onAnswer told of every answer, without its end; never of an empty one */
export function answerCutter(ends: ScpiDialect['answer'], onAnswer: (answer: string) => void): AnswerCutter {
  if (ends.ends === 'line') {
    const cutter = new LineCutter(onAnswer);
    return { push: (piece) => cutter.push(textOf(piece)), skip: () => cutter.skip(), stop: () => undefined };
  }
  let kept = '';
  let timer: NodeJS.Timeout | undefined;
  const tell = (answer: string): void => {
    const plain = answer.trim();
    if (plain !== '') onAnswer(plain);
  };
  const pushed =
    ends.ends === 'length'
      ? (): void => {
          for (; kept.length >= ends.characters; kept = kept.slice(ends.characters))
            tell(kept.slice(0, ends.characters));
        }
      : (): void => {
          clearTimeout(timer);
          timer = setTimeout(() => {
            const answer = kept;
            kept = '';
            tell(answer);
          }, ends.ms);
        };
  return {
    push: (piece) => {
      kept = (kept + textOf(piece)).slice(-mostCharacters);
      pushed();
    },
    skip: () => (kept = ''),
    stop: () => clearTimeout(timer),
  };
}

/** More without an end is no answer. */
const mostCharacters = 4096;
