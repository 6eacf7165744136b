'use client';

import { playNotes } from '@/ui/sound';

/** Two falling tones, twice: unlike what a recording sounds. */
export function playAlarm(): void {
  playNotes([
    [880, 0.18],
    [587, 0.28],
    [880, 0.18],
    [587, 0.28],
  ]);
}

/** Whether this browser can show notices of the system at all. */
export function canNotify(): boolean {
  return typeof Notification !== 'undefined' && 'serviceWorker' in navigator;
}

/**
 * Shows a notice of the system, where that was allowed; says nothing otherwise.
 *
 * @param path what is opened when it is pressed
 */
export async function showNotice(title: string, body: string, path: string): Promise<void> {
  if (!canNotify() || Notification.permission !== 'granted' || document.visibilityState === 'visible') return;
  try {
    await navigator.serviceWorker.register('/notices.js');
    const registration = await navigator.serviceWorker.ready;
    await registration.showNotification(title, { body, tag: path, icon: '/icon.svg', data: { path } });
  } catch {
    // The bar on the page says it all the same.
  }
}
