import { usePreference } from './preference';

/** How single letters act: as they are, only with Alt held, or not at all. Speech input and a slip of the hand type letters. */
const keyModes = {
  alone: 'on',
  alt: 'with Alt',
  off: 'off',
} as const;
export type KeyMode = keyof typeof keyModes;

const isMode = (text: string): text is KeyMode => Object.hasOwn(keyModes, text);

/** How keys act for a person at this browser. */
export function useKeyMode(personId: number | null): [KeyMode, (mode: KeyMode) => void] {
  const [kept, keep] = usePreference(`keys-${personId ?? 'nobody'}`, 'alone');
  return [isMode(kept) ? kept : 'alone', keep];
}

/**
 * The key that was meant, in this mode; null where it means nothing. Keys that type nothing, such as the arrows, act in every
 * mode.
 */
export function meantKey(event: Pick<KeyboardEvent, 'key' | 'code' | 'altKey'>, mode: KeyMode): string | null {
  const typesNothing = event.key.length > 1;
  if (typesNothing) return event.altKey ? null : event.key;
  if (mode === 'alone') return event.altKey ? null : event.key;
  if (mode === 'off' || !event.altKey) return null;
  // With Alt held some keyboards type another sign.
  const letter = /^Key([A-Z])$/.exec(event.code)?.[1];
  return letter ? letter.toLowerCase() : event.key;
}

/** The choice of it, for whoever is at this screen. */
export function KeyModeChoice({ personId }: { personId: number | null }) {
  const [mode, choose] = useKeyMode(personId);
  return (
    <fieldset className="flex flex-wrap items-center gap-x-4 gap-y-1">
      <legend className="font-semibold">Single-letter shortcuts</legend>
      {Object.entries(keyModes).map(([id, name]) => (
        <label key={id} className="flex min-h-11 items-center gap-2">
          <input type="radio" name="key-mode" checked={mode === id} onChange={() => choose(id as KeyMode)} />
          {name}
        </label>
      ))}
    </fieldset>
  );
}
