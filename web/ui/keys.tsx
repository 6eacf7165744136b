'use client';

import dynamic from 'next/dynamic';
import {
  createContext,
  useContext,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type ReactNode,
} from 'react';
import { meantKey, useKeyMode } from './key-mode';
import { createKeyRegistry, takeEarlyKey, type KeyBinding, type KeyRegistry } from './key-registry';

const KeyList = dynamic(() => import('./key-list').then((m) => m.KeyList), { ssr: false });

const Context = createContext<KeyRegistry | null>(null);

function isTyping(target: EventTarget | null): boolean {
  const element = target instanceof HTMLElement ? target : null;
  // A box that is ticked takes no letters.
  if (element instanceof HTMLInputElement && /^(checkbox|radio)$/.test(element.type)) return false;
  return element !== null && (element.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(element.tagName));
}

/**
 * Keys for what recurs: they do not fire while typing, and `?` lists those that work on this screen. Whoever wants letters to
 * act only with Alt, or not at all, chooses that.
 */
export function KeyProvider({ children, personId = null }: { children: ReactNode; personId?: number | null }) {
  const [mode] = useKeyMode(personId);
  const [listed, setListed] = useState<readonly KeyBinding[] | null>(null);
  // An open list follows: parts of the screen may still be coming to life.
  const registry = useMemo(() => createKeyRegistry((to) => setListed((shown) => (shown ? to : null))), []);
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.metaKey || isTyping(event.target)) return registry.forget();
      if (document.querySelector('[role="dialog"]') !== null) return registry.forget();
      const key = meantKey(event, mode);
      if (key === null) return registry.forget();
      if (key === '?') {
        event.preventDefault();
        setListed(registry.list());
        return;
      }
      if (registry.press(key)) event.preventDefault();
    };
    addEventListener('keydown', onKey);
    addEventListener('pointerdown', registry.forget);
    document.documentElement.dataset.live = 'yes';
    const early = takeEarlyKey();
    if (early !== null && (mode === 'alone' || early.length > 1)) registry.press(early);
    return () => {
      removeEventListener('keydown', onKey);
      removeEventListener('pointerdown', registry.forget);
    };
  }, [registry, mode]);
  return (
    <Context.Provider value={registry}>
      {children}
      {listed && <KeyList bindings={listed} personId={personId} onClose={() => setListed(null)} />}
    </Context.Provider>
  );
}

/**
 * Binds a key while the component is shown. What is seen can be pressed: the binding stands before the browser paints,
 * however busy the page is after it.
 */
export function useKey(key: string, what: string, act: () => void): void {
  const registry = useContext(Context);
  const latest = useRef(act);
  useLayoutEffect(() => {
    latest.current = act;
  });
  useLayoutEffect(() => registry?.add({ key, what, act: () => latest.current() }), [registry, key, what]);
}
