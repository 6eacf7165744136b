'use client';

import dynamic from 'next/dynamic';
import { createContext, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';

const KeyList = dynamic(() => import('./key-list').then((m) => m.KeyList), { ssr: false });

interface KeyBinding {
  key: string;
  what: string;
  act: () => void;
}

interface Registry {
  add: (binding: KeyBinding) => () => void;
}

const Context = createContext<Registry | null>(null);

function isTyping(target: EventTarget | null): boolean {
  const element = target instanceof HTMLElement ? target : null;
  return element !== null && (element.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(element.tagName));
}

/** Keys for what recurs: they do not fire while typing, and `?` lists those that work on this screen. */
export function KeyProvider({ children }: { children: ReactNode }) {
  const bindings = useRef<KeyBinding[]>([]);
  const [listed, setListed] = useState<KeyBinding[] | null>(null);
  const registry = useMemo<Registry>(() => {
    const change = (to: KeyBinding[]): void => {
      bindings.current = to;
      // An open list follows: parts of the screen may still be coming to life.
      setListed((shown) => (shown ? to : null));
    };
    return {
      add: (binding) => {
        change([...bindings.current, binding]);
        return () => change(bindings.current.filter((b) => b !== binding));
      },
    };
  }, []);
  useEffect(() => {
    document.documentElement.dataset.live = 'yes';
    const onKey = (event: KeyboardEvent): void => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      if (document.querySelector('[role="dialog"]') !== null) return;
      if (event.key === '?') {
        event.preventDefault();
        setListed(bindings.current);
        return;
      }
      const binding = bindings.current.findLast((b) => b.key === event.key);
      if (!binding) return;
      event.preventDefault();
      binding.act();
    };
    addEventListener('keydown', onKey);
    return () => removeEventListener('keydown', onKey);
  }, []);
  return (
    <Context.Provider value={registry}>
      {children}
      {listed && <KeyList bindings={listed} onClose={() => setListed(null)} />}
    </Context.Provider>
  );
}

/** Binds a key while the component is shown. */
export function useKey(key: string, what: string, act: () => void): void {
  const registry = useContext(Context);
  const latest = useRef(act);
  useEffect(() => {
    latest.current = act;
  });
  useEffect(() => registry?.add({ key, what, act: () => latest.current() }), [registry, key, what]);
}
