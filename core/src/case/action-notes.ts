/** What a suspect was expected to show after a change, said before it was made. */
interface NotedPrediction {
  /** Id and name of the suspect: an element of the profile, or a circuit. */
  id: string;
  name: string;
  /** Its probability then, 0 to 1. */
  p: number;
  /** How the reading was expected to move, and how surely, 0 to 1. */
  moved: string;
  certainty: number;
}

/** What is noted of a change beside what the format names; each of them may be empty. */
export interface ActionNotes {
  /** Number on the part, with its suffix. */
  part: string;
  /** How it sat: dot, bevel, pin 1. */
  orientation: string;
  /** What makes its result weaker evidence: `donor`, `reworked`, `variant`. */
  confounders: readonly string[];
  predicts: readonly NotedPrediction[];
  /** What was missing when it was entered all the same. */
  without: readonly string[];
  /** `off`: what was taken off is meant to stay off. */
  stays: 'off' | null;
  /** A whole unit was swapped, with every circuit on it. */
  unit: SwappedUnit | null;
  /** What came in: a thing known to be good, or the device's own put back. Null where nobody said. */
  with: Origin | null;
}

/** Whole things that a device is put together from, and what is outside of it, as they are called in a sentence. */
export const unitNames = {
  board: 'board',
  pack: 'battery',
  display: 'display',
  charger: 'charger',
  flex: 'flex',
  halves: 'board half',
  'port-board': 'port board',
  peripheral: 'plug-in part',
  cable: 'cable',
  button: 'button',
} as const;
export type SwappedUnit = keyof typeof unitNames;
export const swappedUnits = Object.keys(unitNames) as SwappedUnit[];

/** Whose thing it is. */
export const origins = ['good', 'own'] as const;
export type Origin = (typeof origins)[number];

export const noNotes: Readonly<ActionNotes> = {
  part: '',
  orientation: '',
  confounders: [],
  predicts: [],
  without: [],
  stays: null,
  unit: null,
  with: null,
};

type Keys = Readonly<Record<string, unknown>>;

const texts = (value: unknown): value is string[] => Array.isArray(value) && value.every((x) => typeof x === 'string');
const predictions = (value: unknown): value is NotedPrediction[] =>
  Array.isArray(value) &&
  value.every((x: unknown) => {
    const { id, name, moved, p, certainty } = (x ?? {}) as Partial<Record<keyof NotedPrediction, unknown>>;
    return [id, name, moved].every((t) => typeof t === 'string') && [p, certainty].every((n) => typeof n === 'number');
  });
const isNote: Record<keyof ActionNotes, (value: unknown) => boolean> = {
  part: (value) => typeof value === 'string',
  orientation: (value) => typeof value === 'string',
  confounders: texts,
  predicts: predictions,
  without: texts,
  stays: (value) => value === 'off',
  unit: (value) => swappedUnits.some((unit) => unit === value),
  with: (value) => origins.some((origin) => origin === value),
};

/**
 * Reads the notes of a change from the keys of a package that the format does not name. A key of another form is somebody
 * else's: it is kept as it is.
 *
 * @param keys keys of one action that the format does not name
 * @returns the notes, and the keys that are none; `extra` is left out where there are none
 */
export function readNotes(keys: Keys | null | undefined): ActionNotes & { extra?: Record<string, unknown> } {
  const notes: Record<string, unknown> = { ...noNotes };
  const extra: Record<string, unknown> = {};
  for (const [key, value] of Object.entries(keys ?? {})) {
    const own = Object.hasOwn(isNote, key) && isNote[key as keyof ActionNotes](value);
    (own ? notes : extra)[key] = value;
  }
  return { ...(notes as unknown as ActionNotes), ...(Object.keys(extra).length > 0 ? { extra } : {}) };
}

/**
 * The keys that `readNotes` reads again: notes that are not empty, and the keys that are none.
 *
 * @returns null where there is nothing to keep
 */
export function keysOfNotes(action: ActionNotes & { extra?: Keys }): Record<string, unknown> | null {
  const { part, orientation, confounders, predicts, without, stays, unit, with: origin } = action;
  const notes = { part, orientation, confounders, predicts, without, stays, unit, with: origin };
  const filled = Object.entries(notes).filter(([, value]) => value !== null && value.length > 0);
  const keys = { ...action.extra, ...Object.fromEntries(filled) };
  return Object.keys(keys).length > 0 ? keys : null;
}
