'use client';

import { Monitor, Moon, Sun } from 'lucide-react';
import { useSyncExternalStore } from 'react';

type Choice = 'system' | 'light' | 'dark';

const storageKey = 'umbral-theme';

/** Runs before the first paint, so that no page flashes in the wrong theme. */
export const themeScript = `(function(){try{var c=localStorage.getItem('${storageKey}');var d=c==='dark'||(c!=='light'&&matchMedia('(prefers-color-scheme: dark)').matches);document.documentElement.dataset.theme=d?'dark':'light'}catch(e){document.documentElement.dataset.theme='light'}})()`;

function read(): Choice {
  const stored = localStorage.getItem(storageKey);
  return stored === 'light' || stored === 'dark' ? stored : 'system';
}

function apply(): void {
  const choice = read();
  const dark = choice === 'dark' || (choice === 'system' && matchMedia('(prefers-color-scheme: dark)').matches);
  document.documentElement.dataset.theme = dark ? 'dark' : 'light';
}

function subscribe(changed: () => void): () => void {
  const media = matchMedia('(prefers-color-scheme: dark)');
  const update = (): void => {
    apply();
    changed();
  };
  media.addEventListener('change', update);
  addEventListener('umbral-theme', update);
  return () => {
    media.removeEventListener('change', update);
    removeEventListener('umbral-theme', update);
  };
}

const following: Record<Choice, Choice> = { system: 'light', light: 'dark', dark: 'system' };
const words: Record<Choice, string> = { system: 'as the system', light: 'light', dark: 'dark' };

/** One button that steps through system, light and dark. */
export function ThemeSwitch() {
  const choice = useSyncExternalStore<Choice>(subscribe, read, () => 'system');
  const Icon = { system: Monitor, light: Sun, dark: Moon }[choice];
  const label = `Theme: ${words[choice]}; switch to ${words[following[choice]]}`;
  return (
    <button
      type="button"
      className="button button-quiet w-11 px-0"
      aria-label={label}
      title={label}
      onClick={() => {
        localStorage.setItem(storageKey, following[choice]);
        dispatchEvent(new Event('umbral-theme'));
      }}
    >
      <Icon size={18} aria-hidden />
    </button>
  );
}
