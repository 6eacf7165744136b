import type { LibraryQuestion } from '@umbral/core';
import type { Remote } from 'comlink';
import { changesSince, type KnownLibrary } from './known-library.ts';
import type { EngineAnswers, EngineOptions } from './engine-answers.ts';

/** An engine that can be told what the shop learned: on another thread, or here. */
type Told = Pick<Remote<EngineAnswers>, 'libraryRevision' | 'learn'> | EngineAnswers;

/** What is asked with a case beside its profile. */
export interface AskOptions extends Pick<EngineOptions, 'shop'> {
  /** The library that has a say, and which of its cases do not. */
  library?: LibraryQuestion & { known: KnownLibrary };
}

/** Engines that are being told what they do not know yet of the library. */
const telling = new WeakMap<Told, Promise<void>>();

/** Tells an engine what changed in the library since it was told the last time, one change after the other. */
async function tell(engine: Told, revision: number): Promise<void> {
  for (;;) {
    const since = await engine.libraryRevision();
    if (since >= revision) return;
    const underWay = telling.get(engine);
    if (underWay) {
      await underWay;
      continue;
    }
    const told = changesSince(since, async (change) => engine.learn(change)).finally(() => telling.delete(engine));
    telling.set(engine, told);
    // A change that is not through yet is known to nobody else: what there is has been told.
    return told;
  }
}

/** The same of an engine that whoever began it told of the library. */
export function asTold<Options extends AskOptions>(options: Options): Options {
  const { library } = options;
  return library ? { ...options, library: { ...library, known: { ...library.known, revision: null } } } : options;
}

/** What an engine is asked with, once it knows the library. */
export async function withLibrary(engine: Told, { library, shop }: AskOptions): Promise<EngineOptions> {
  if (!library) return { shop };
  const { known, without, before } = library;
  if (known.revision !== null) await tell(engine, known.revision);
  return { shop, library: { recalibration: known.recalibration, without, before } };
}
