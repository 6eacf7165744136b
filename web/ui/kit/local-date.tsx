'use client';

import { useSyncExternalStore } from 'react';
import { localDay, localMoment } from '@/ui/local-time';

const never = (): (() => void) => () => undefined;

/** A moment in the reader's own time. The server does not know the zone, so it shows the day and the browser the rest. */
export function LocalDate({ iso, time = false }: { iso: string; time?: boolean }) {
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  const text = inBrowser ? (time ? localMoment(iso) : localDay(iso)) : iso.slice(0, 10);
  return <time dateTime={iso}>{text}</time>;
}
