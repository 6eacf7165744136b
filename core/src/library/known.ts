import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';
import type { ConfirmedCounts, Counts, PoolingWorth } from '../hypotheses/index.ts';
import type { Learned, Trust } from '../observation/index.ts';
import type { Shape } from '../shape/index.ts';
import { alikeCases, modelKey, repeatedCase, type AlikeCase } from './alike.ts';
import { learnedWorth, type ModelCounts } from './pooling.ts';
import { SignatureIndex } from './search.ts';
import settings from './settings.json';
import type { LibraryCase } from './signature.ts';
import { learnedTrust } from './trust.ts';

/** What a library says of a case, as the engine takes it. */
export interface LibrarySays {
  learned: Learned;
  confirmed: ConfirmedCounts;
  /** The same cases with their runs, to be shown. */
  alike: AlikeCase[];
}

export interface LibraryQuestion {
  /** Id of the case in hand, which never counts as one before itself. */
  without: string;
  /** Milliseconds since 1970: only cases that were confirmed before count; all where null. */
  before: number | null;
}

/** The confirmed cases of a shop, and what they teach. */
export class Library {
  readonly index: SignatureIndex;
  private readonly worths = new Map<number, PoolingWorth>();

  /** @param cases the oldest first */
  constructor(readonly cases: readonly LibraryCase[]) {
    this.index = new SignatureIndex(cases);
  }

  /**
   * Everything that the library has to say of a case.
   *
   * @param value the case; what it says of its outcome is not looked at
   * @param shapes by run id
   */
  ask(value: Case, shapes: ReadonlyMap<string, Shape>, { without, before }: LibraryQuestion): LibrarySays {
    const counts = (one: LibraryCase): boolean => one.id !== without && (before === null || one.closedAt < before);
    const known = this.cases.filter(counts);
    const alike = alikeCases(this.index, value, shapes, { without, counts });
    const model = modelKey(value.device.model);
    const trust: Trust = learnedTrust(
      known.map((one) => ({ ...one, model: modelKey(one.model) })),
      model,
      value.device.class,
    );
    return {
      alike,
      learned: { repeats: alike.map(repeatedCase), trust },
      confirmed: {
        model: countsOf(model === '' ? [] : known.filter((one) => modelKey(one.model) === model)),
        class: countsOf(known.filter((one) => one.deviceClass === value.device.class)),
        all: countsOf(known),
        worth: this.worthOf(known),
      },
    };
  }

  /**
   * The worth moves little by a few cases, and takes long to work out: it is that of the first so many, rounded down, which
   * is the same for whoever asks.
   */
  private worthOf(known: readonly LibraryCase[]): PoolingWorth {
    const first = Math.floor(known.length / settings.worthEvery) * settings.worthEvery;
    const kept = this.worths.get(first);
    if (kept) return kept;
    const worth = learnedWorth(modelCounts(this.cases.slice(0, first)));
    this.worths.set(first, worth);
    return worth;
  }
}

function countsOf(cases: readonly LibraryCase[]): Counts {
  const sums = new Map<CircuitId, number>();
  for (const { circuit, weight } of cases) sums.set(circuit, (sums.get(circuit) ?? 0) + weight);
  return Object.fromEntries(circuitIds.flatMap((id) => (sums.has(id) ? [[id, sums.get(id)]] : []))) as Counts;
}

function modelCounts(cases: readonly LibraryCase[]): ModelCounts[] {
  const by = new Map<string, LibraryCase[]>();
  for (const one of cases) {
    const key = `${one.deviceClass} ${modelKey(one.model)}`;
    by.set(key, [...(by.get(key) ?? []), one]);
  }
  return [...by].map(([model, list]) => ({ model, deviceClass: list[0].deviceClass, counts: countsOf(list) }));
}
