import type { Case } from '../case/index.ts';
import type { Shape } from '../shape/index.ts';
import { alikeCases, type AlikeCase, type LibraryQuestion } from './alike.ts';
import { memoryOf, type Memory } from './memory.ts';
import { CaseShelf } from './shelf.ts';

/** What a library says of a case, as the engine takes it. */
interface LibrarySays {
  memory: Memory | null;
  /** The same cases with their runs, to be shown. */
  alike: AlikeCase[];
}

/** The confirmed cases of a shop, and what they teach. */
export class Library extends CaseShelf {
  /**
   * Everything that the library has to say of a case.
   *
   * @param value the case; what it says of its outcome is not looked at
   * @param shapes by run id
   */
  ask(value: Case, shapes: ReadonlyMap<string, Shape>, question: LibraryQuestion): LibrarySays {
    const alike = alikeCases(this, value, shapes, question);
    return { alike, memory: memoryOf(alike) };
  }
}
