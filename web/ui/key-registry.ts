export interface KeyBinding {
  key: string;
  what: string;
  act: () => void;
}

/**
 * How long a key that nothing is bound to yet is kept, in milliseconds: a page that is still coming to life takes it,
 * and nobody is surprised by a key of long ago.
 */
export const keptForMs = 4000;

/** What the keys of the present screen do. The binding added last wins. */
export interface KeyRegistry {
  /** Binds a key, and acts at once where it was pressed just before. Returns what takes the binding away. */
  add: (binding: KeyBinding) => () => void;
  /** Acts on a key; one that nothing is bound to is kept for whatever binds it next. Returns whether something acted. */
  press: (key: string) => boolean;
  /** Forgets a kept key: something else was done since. */
  forget: () => void;
  list: () => readonly KeyBinding[];
}

/**
 * @param onChange called with the bindings whenever they change
 * @param now the time in milliseconds
 */
export function createKeyRegistry(
  onChange: (bindings: readonly KeyBinding[]) => void,
  now: () => number = () => performance.now(),
): KeyRegistry {
  let bindings: readonly KeyBinding[] = [];
  let kept: { key: string; at: number } | null = null;
  const change = (to: readonly KeyBinding[]): void => {
    bindings = to;
    onChange(to);
  };
  return {
    add: (binding) => {
      change([...bindings, binding]);
      if (kept?.key === binding.key) {
        const isRecent = now() - kept.at <= keptForMs;
        kept = null;
        if (isRecent) binding.act();
      }
      return () => change(bindings.filter((b) => b !== binding));
    },
    press: (key) => {
      const binding = bindings.findLast((b) => b.key === key);
      kept = binding ? null : { key, at: now() };
      binding?.act();
      return binding !== undefined;
    },
    forget: () => {
      kept = null;
    },
    list: () => bindings,
  };
}

/** Keeps the last plain key that is pressed before the scripts have taken the page over; see {@link takeEarlyKey}. */
export const earlyKeyScript = `(function(){addEventListener('keydown',function(e){if(document.documentElement.dataset.live)return;var t=e.target;if(e.ctrlKey||e.metaKey||e.altKey||(t&&/^(INPUT|TEXTAREA|SELECT)$/.test(t.tagName)&&!/^(checkbox|radio)$/.test(t.type)))return;window.umbralEarlyKey=e.key},true);addEventListener('pointerdown',function(){delete window.umbralEarlyKey},true)})()`;

/** The key that was pressed before the page came to life, once. */
export function takeEarlyKey(): string | null {
  const key = window.umbralEarlyKey ?? null;
  delete window.umbralEarlyKey;
  return key;
}

declare global {
  interface Window {
    umbralEarlyKey?: string;
  }
}
