'use client';

import { createContext, useCallback, useContext, useState, type ReactNode } from 'react';

interface Toast {
  id: number;
  text: string;
  tone: 'done' | 'problem';
  undo?: () => void;
}

const Context = createContext<(toast: Omit<Toast, 'id'>) => void>(() => undefined);

let nextId = 1;

/** Short messages at the foot of the screen: what was done, with undo, or what went wrong, which stays until closed. */
export function ToastProvider({ children }: { children: ReactNode }) {
  const [toasts, setToasts] = useState<Toast[]>([]);
  const close = useCallback((id: number) => setToasts((all) => all.filter((t) => t.id !== id)), []);
  const show = useCallback(
    (toast: Omit<Toast, 'id'>) => {
      const id = nextId++;
      setToasts((all) => [...all.slice(-3), { ...toast, id }]);
      if (toast.tone === 'done') setTimeout(() => close(id), toast.undo ? 9000 : 4000);
    },
    [close],
  );
  return (
    <Context.Provider value={show}>
      {children}
      <div aria-live="polite" className="fixed inset-x-4 bottom-4 z-[60] flex flex-col items-center gap-2">
        {toasts.map((t) => (
          <div
            key={t.id}
            role={t.tone === 'problem' ? 'alert' : 'status'}
            className={`arrives flex max-w-xl items-center gap-3 rounded-xl border px-4 py-2 shadow-lg ${
              t.tone === 'problem' ? 'border-decide bg-decide-soft' : 'border-line bg-raised'
            }`}
          >
            <span>{t.text}</span>
            {t.undo && (
              <button
                type="button"
                className="button min-h-9"
                onClick={() => {
                  t.undo?.();
                  close(t.id);
                }}
              >
                Undo
              </button>
            )}
            <button
              type="button"
              className="button button-quiet"
              aria-label="Close message"
              onClick={() => close(t.id)}
            >
              ×
            </button>
          </div>
        ))}
      </div>
    </Context.Provider>
  );
}

export function useToast() {
  return useContext(Context);
}
