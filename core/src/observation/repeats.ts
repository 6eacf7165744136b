import { nameOverlap } from '../hypotheses/index.ts';
import { normalise, type PerHypothesis } from '../inference/index.ts';
import settings from './learned.json';
import type { Learned, RepeatedCase } from './learned.ts';
import { background, type Over, type Question } from './question.ts';
import type { History } from './kind.ts';

/** Under every mass, above what underflows. */
const smallest = 1e-300;

/** A confirmed case with what of it supports each hypothesis. */
interface Component {
  repeated: RepeatedCase;
  /** How likely the case in hand is a repeat of it and shows what was seen, by hypothesis; 0 where it speaks for another. */
  mass: number[];
}

/**
 * Whether the case in hand is a confirmed one once more. Under every hypothesis it repeats one of the confirmed cases of
 * it, each as likely as its weight, or is something new, worth `newCauses` of them (a Chinese restaurant process; Blackwell &
 * MacQueen 1973): a repeat shows what that case showed, something new what the tables and the twin expect. So what was seen
 * is weighed once, by one likelihood that both have a say in, and never by both of them after each other.
 *
 *     P(seen | h) = (b · P_usual(seen | h) + Σ w_i · P(seen | repeat of i)) / (b + Σ w_i)
 */
export class Repeats {
  private readonly components: Component[];
  /** The same for something new, by hypothesis. */
  private readonly fresh: number[];
  private readonly sharpness: number;

  /**
   * @param usual what everything until now says by hypothesis, natural log, up to a constant
   */
  constructor(
    private readonly history: Pick<History, 'space' | 'over'>,
    learned: Learned,
    private readonly usual: PerHypothesis,
  ) {
    const { newCauses } = settings;
    this.sharpness = learned.trust.sharpness;
    const any = anyLikeness(learned.repeats);
    const support = learned.repeats.map((r) => supportOf(r, history.space.hypotheses));
    const total = usual.map((_, h) => newCauses + support.reduce((sum, w) => sum + w[h], 0));
    this.components = learned.repeats.map((repeated, i) => ({
      repeated,
      mass: support[i].map((w, h) => (w / total[h]) * (repeated.likeness === null ? 1 : repeated.likeness / any)),
    }));
    const relative = relativeTo(usual, history.over);
    this.fresh = relative.map((x, h) => (newCauses / total[h]) * x ** this.sharpness);
  }

  /** What the confirmed cases add to what is usual: natural log by hypothesis, up to a constant. */
  increments(): number[] {
    const relative = relativeTo(this.usual, this.history.over);
    return relative.map((x, h) => Math.log(Math.max(this.massOf(h), 1e-12)) - Math.log(Math.max(x, 1e-12)));
  }

  private massOf(h: number): number {
    return this.components.reduce((sum, c) => sum + c.mass[h], this.fresh[h]);
  }

  /** A question with what the confirmed cases answered to it: as entering and planning both take it. */
  mix(question: Question): Question {
    const usual = this.tempered(question);
    const told = this.components.filter((c) => c.repeated.answers[question.key] !== undefined);
    if (told.length === 0) return usual === question.outcomes ? question : { ...question, outcomes: usual };
    const words = Object.keys(question.outcomes);
    const outcomes = Object.fromEntries(
      words.map((word) => [
        word,
        usual[word].map((p, h) => {
          const total = Math.max(this.massOf(h), smallest);
          return told.reduce((sum, c) => sum + (c.mass[h] / total) * (answerShare(c, question, word) - p), p);
        }),
      ]),
    );
    return { ...question, outcomes };
  }

  /** Takes an answer in: the cases that gave it gain. */
  answered(question: Question, word: string): void {
    const usual = this.tempered(question)[word];
    if (!usual) return;
    for (let h = 0; h < this.fresh.length; h++) {
      for (const c of this.components) {
        if (c.mass[h] === 0) continue;
        c.mass[h] *= c.repeated.answers[question.key] === undefined ? usual[h] : answerShare(c, question, word);
      }
      this.fresh[h] *= usual[h];
    }
  }

  private tempered({ outcomes }: Question): Question['outcomes'] {
    if (this.sharpness === 1) return outcomes;
    const words = Object.keys(outcomes);
    const columns = this.fresh.map((_, h) => normalise(words.map((word) => outcomes[word][h] ** this.sharpness)));
    return Object.fromEntries(words.map((word, k) => [word, columns.map((column) => column[k])]));
  }

  /** Cases by how likely this one repeats them, the likeliest first; sums to less than 1 over all. */
  likeliest(posterior: PerHypothesis): { id: string; p: number }[] {
    return this.components
      .map(({ repeated, mass }) => ({
        id: repeated.id,
        p: mass.reduce((sum, m, h) => sum + (m > 0 ? (posterior[h] * m) / this.massOf(h) : 0), 0),
      }))
      .sort((a, b) => b.p - a.p);
  }
}

/** How likely a repeat of a case gives an answer: the same, but for a slip. */
function answerShare({ repeated }: Component, question: Question, word: string): number {
  const others = Math.max(1, Object.keys(question.outcomes).length - 1);
  return repeated.answers[question.key] === word ? settings.agree : (1 - settings.agree) / others;
}

/** Likelihood relative to what any fault would show, by hypothesis. */
function relativeTo(logs: PerHypothesis, over: Over): number[] {
  const highest = Math.max(...logs);
  const list = logs.map((x) => Math.exp(x - highest));
  const any = Math.max(background(list, over), smallest);
  return list.map((x) => x / any);
}

/** How alike any confirmed case is to this one: runs that every case shows say nothing. */
function anyLikeness(repeats: readonly RepeatedCase[]): number {
  const known = repeats.filter((r) => r.likeness !== null);
  const { worth, likeness } = settings.anyRuns;
  const highest = Math.max(0, ...known.map((r) => r.likeness ?? 0));
  const [sum, weight] = known.reduce(([s, w], r) => [s + r.weight * (r.likeness ?? 0), w + r.weight], [0, 0]);
  return Math.max((worth * likeness * highest + sum) / (worth + weight), 1e-12);
}

/** How far a case speaks for each hypothesis: its circuit, and within it its own element before others. */
function supportOf(repeated: RepeatedCase, hypotheses: History['space']['hypotheses']): number[] {
  return hypotheses.map((h) => {
    if (h.circuit !== repeated.circuit) return 0;
    if (repeated.element === '' || h.target === null) return repeated.weight;
    const isSame =
      h.fault?.at === repeated.element || nameOverlap(h.target, repeated.element) >= settings.sameElementFrom;
    return repeated.weight * (isSame ? 1 : settings.otherElement);
  });
}
