import { AsyncLocalStorage } from 'node:async_hooks';

export type Role = 'lead' | 'technician';

export interface Person {
  id: number;
  name: string;
  role: Role;
}

/** For whom work is done: a person, by themselves or through a token of theirs. */
export interface Actor {
  person: Person;
  /** Name of the token; null for a person at a screen. */
  token: string | null;
  /** Number of the token; null for a person at a screen. */
  tokenId: number | null;
}

declare global {
  // Pages, routes and actions are bundled apart; they share one process.
  var umbralActors: AsyncLocalStorage<Actor> | undefined;
}

const actors = (): AsyncLocalStorage<Actor> => (globalThis.umbralActors ??= new AsyncLocalStorage());

/** Does something for somebody: what is written meanwhile carries their name. */
export function asActor<T>(actor: Actor, work: () => T): T {
  return actors().run(actor, work);
}

/** Whoever the work under way is for; null for the application itself, as when it loads samples. */
export function actor(): Actor | null {
  return actors().getStore() ?? null;
}

/** Does something for nobody: work of the application itself that a request only set off. */
export function asNobody<T>(work: () => T): T {
  return actors().exit(work);
}
