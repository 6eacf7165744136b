import { cleanup, configure, render } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { ReactNode } from 'react';
import { KeyProvider } from '@/ui/keys';
import { ToastProvider } from '@/ui/toast';

// What a test waits for comes or does not; a slow machine is no reason to give up after a second.
configure({ asyncUtilTimeout: 60_000 });

/** A page without a browser sees no element move or grow. */
class NoObserver {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
Object.assign(globalThis, { ResizeObserver: NoObserver, IntersectionObserver: NoObserver });

/** Shows a part of the interface as the application does, with its keys and its messages, and a person before it. */
export function show(children: ReactNode) {
  const person = userEvent.setup();
  return { person, ...render(children, { wrapper: Around }) };
}

/** What stands around every page of the application. */
function Around({ children }: { children: ReactNode }) {
  return (
    <KeyProvider>
      <ToastProvider>{children}</ToastProvider>
    </KeyProvider>
  );
}

/** An answer of a server action that went well. */
export const kept = <T,>(value: T) => ({ ok: true as const, value });

/** An answer of a server action that was refused. */
export const refused = (message: string) => ({ ok: false as const, kind: 'input' as const, message });

afterEach(() => {
  cleanup();
  localStorage.clear();
});
