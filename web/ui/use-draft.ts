'use client';

import { useEffect, useState, type RefObject } from 'react';

/** A field as it is found again after a reload: by what it is called and where it stands among those of the same name. */
interface KeptField {
  name: string;
  nth: number;
  value: string | boolean;
}

type Field = HTMLInputElement | HTMLTextAreaElement | HTMLSelectElement;

/** Fields that show only after others are filled come within so many pictures. */
const patienceFrames = 10;

const nameOf = (field: Field): string =>
  field.name || field.getAttribute('aria-label') || field.labels?.[0]?.textContent || field.type;

/** What holds words of a person; never what is secret. */
const fieldsIn = (panel: HTMLElement): Field[] =>
  [...panel.querySelectorAll<Field>('input, textarea, select')].filter(
    (field) => !/^(password|file|hidden|submit|button|radio)$/.test(field.type),
  );

const isBox = (field: Field): field is HTMLInputElement => field.type === 'checkbox';

function fieldsOf(panel: HTMLElement): { field: Field; name: string; nth: number }[] {
  const seen = new Map<string, number>();
  return fieldsIn(panel).map((field) => {
    const name = nameOf(field);
    const nth = seen.get(name) ?? 0;
    seen.set(name, nth + 1);
    return { field, name, nth };
  });
}

/** As if a person had typed it, so that whoever holds the value hears of it. */
function fill(field: Field, value: string | boolean): void {
  if (isBox(field)) {
    if (field.checked !== value) field.click();
    return;
  }
  if (field.value === value || typeof value !== 'string') return;
  const kind =
    field instanceof HTMLTextAreaElement
      ? HTMLTextAreaElement
      : field instanceof HTMLSelectElement
        ? HTMLSelectElement
        : HTMLInputElement;
  Object.getOwnPropertyDescriptor(kind.prototype, 'value')?.set?.call(field, value);
  field.dispatchEvent(new Event(field instanceof HTMLSelectElement ? 'change' : 'input', { bubbles: true }));
}

/** Of one person: whoever signs in at the same window is not given somebody else's words. */
const keyOf = (path: string, title: string): string =>
  `umbral.draft ${document.documentElement.dataset.person ?? ''} ${path} ${title}`;

function read(key: string): KeptField[] {
  try {
    return JSON.parse(sessionStorage.getItem(key) ?? '[]') as KeptField[];
  } catch {
    return [];
  }
}

/**
 * Keeps what somebody types into a dialog in their window, so that a reload, Back, or a new sign-in loses none of it: the next
 * time the same dialog opens on the same page it is there again. It goes when the dialog is closed or what it holds was sent.
 *
 * @param panel in which the fields stand
 * @param isOn false for what must be typed anew each time
 * @returns whether something was brought back
 */
export function useDraft(panel: RefObject<HTMLElement | null>, title: string, isOn: boolean): boolean {
  const [isBack, setBack] = useState(false);
  useEffect(() => {
    const at = panel.current;
    if (!isOn || !at) return undefined;
    const path = location.pathname;
    const key = keyOf(path, title);
    let [isOver, isSent] = [false, false];
    const untouched = JSON.stringify(valuesOf(at));
    const kept = read(key);
    if (kept.length > 0) void bring(at, kept, () => isOver).then(() => !isOver && setBack(true));
    const keep = (): void => {
      isSent = false;
      const values = JSON.stringify(valuesOf(at));
      if (values === untouched) sessionStorage.removeItem(key);
      else sessionStorage.setItem(key, values);
    };
    const sent = (): void => void (isSent = true);
    at.addEventListener('input', keep);
    at.addEventListener('change', keep);
    at.addEventListener('submit', sent);
    return () => {
      isOver = true;
      at.removeEventListener('input', keep);
      at.removeEventListener('change', keep);
      at.removeEventListener('submit', sent);
      // Another page took its place: that was no answer to what is typed here.
      if (location.pathname === path || isSent) sessionStorage.removeItem(key);
    };
  }, [panel, title, isOn]);
  return isBack;
}

/** Fills what is there, and what shows after that. */
async function bring(panel: HTMLElement, kept: KeptField[], isOver: () => boolean): Promise<void> {
  let left = kept;
  for (let frame = 0; frame < patienceFrames && left.length > 0 && !isOver(); frame++) {
    const there = fieldsOf(panel);
    const missing: KeptField[] = [];
    for (const one of left) {
      const found = there.find((f) => f.name === one.name && f.nth === one.nth);
      if (found) fill(found.field, one.value);
      else missing.push(one);
    }
    left = missing;
    await new Promise((resolve) => requestAnimationFrame(resolve));
  }
}

const valuesOf = (panel: HTMLElement): KeptField[] =>
  fieldsOf(panel).map(({ field, name, nth }) => ({ name, nth, value: isBox(field) ? field.checked : field.value }));
