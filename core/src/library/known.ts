import type { Case } from '../case/index.ts';
import type { Shape } from '../shape/index.ts';
import { alikeCases, type AlikeCase } from './alike.ts';
import { memoryOf, type Memory } from './memory.ts';
import { SignatureIndex } from './search.ts';
import type { LibraryCase } from './signature.ts';

/** What a library says of a case, as the engine takes it. */
export interface LibrarySays {
  memory: Memory | null;
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
    const alike = alikeCases(this.index, value, shapes, { without, counts });
    return { alike, memory: memoryOf(alike) };
  }
}
