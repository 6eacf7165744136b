'use client';

import { useEffect, useRef, useState } from 'react';
import type { UnknownOutput } from '@/server/edges/recorder/outputs';

const everyMs = 3000;

/**
 * Contact with a supply was lost while its output was on: said on every page, above everything else, dialogs among it, until
 * the supply itself says that it is off. Nothing here can switch it off meanwhile, so somebody has to.
 */
export function OutputAlarm() {
  const [outputs, setOutputs] = useState<UnknownOutput[]>([]);
  useEffect(() => {
    let isOver = false;
    const look = async (): Promise<void> => {
      try {
        const answer = await fetch('/api/recorder/outputs', { cache: 'no-store' });
        const body = (await answer.json()) as { ok: boolean; value?: UnknownOutput[] };
        if (!isOver && body.ok && body.value) setOutputs(body.value);
      } catch {
        // Nobody answers: what was known is what there is to say.
      }
    };
    const first = setTimeout(() => void look(), 0);
    const timer = setInterval(() => void look(), everyMs);
    return () => {
      isOver = true;
      clearTimeout(first);
      clearInterval(timer);
    };
  }, []);
  const alarm = useRef<HTMLDivElement>(null);
  // Pages and dialogs begin below it, so that nothing of them is out of reach while it stands there.
  useEffect(() => {
    const [at, page] = [alarm.current, document.documentElement];
    if (!at) return undefined;
    const watched = new ResizeObserver(() => page.style.setProperty('--alarm', `${at.offsetHeight}px`));
    watched.observe(at);
    return () => {
      watched.disconnect();
      page.style.removeProperty('--alarm');
    };
  }, [outputs.length]);
  if (outputs.length === 0) return null;
  return (
    <div
      ref={alarm}
      role="alert"
      aria-label="Outputs that may be on"
      className="fixed inset-x-0 top-0 z-[200] max-h-[60vh] divide-y divide-paper overflow-y-auto bg-decide"
    >
      {outputs.map(({ key, name, bench }) => (
        <div key={key} className="px-4 py-3 text-xl font-bold text-paper">
          Switch off {name} at the supply itself.
          <span className="block text-base font-medium">
            {bench === null
              ? 'Contact was lost while its output was on. It may still be on, and Umbral cannot switch it off until contact is back.'
              : `The supply is at ${bench}. Contact was lost while its output was on. It may still be on, and Umbral cannot switch it off until contact is back.`}
          </span>
        </div>
      ))}
    </div>
  );
}
