'use client';

import { useCallback, useEffect, useState } from 'react';
import type { RecorderHealth, StationState } from '@umbral/instruments';
import { Outline, type OutlineState } from '@umbral/instruments/outline';
import { useQuestion } from '@/ui/question';
import { useToast } from '@/ui/toast';

interface SamplesEvent {
  instrument: string;
  recording: number;
  from: number;
  t: number[];
  i: (number | null)[];
  v: (number | null)[];
}

/** How often the screen follows, milliseconds: well above ten pictures a second. */
const frameMs = 66;

/** The instruments as they are now, with the outline of what is being recorded, by recording. */
export function useRecorder() {
  const [states, setStates] = useState<StationState[] | null>(null);
  const [isHeard, setHeard] = useState(true);
  const [health, setHealth] = useState<RecorderHealth | null>(null);
  const [frame, setFrame] = useState(0);
  // Changed in place many times a second; `frame` says when to look again.
  const [shapes] = useState(() => new Map<number, Outline>());
  useEffect(() => {
    const source = new EventSource('/api/recorder/events');
    let dirty = false;
    source.addEventListener('state', (event: MessageEvent<string>) => {
      setHeard(true);
      setStates(JSON.parse(event.data) as StationState[]);
    });
    source.addEventListener('health', (event: MessageEvent<string>) => {
      const next = JSON.parse(event.data) as RecorderHealth;
      setHealth((was) => (JSON.stringify(was) === JSON.stringify(next) ? was : next));
    });
    source.addEventListener('samples', (event: MessageEvent<string>) => {
      const { recording, t, i, v } = JSON.parse(event.data) as SamplesEvent;
      const shape = shapes.get(recording) ?? new Outline();
      shapes.set(recording, shape);
      t.forEach((at, k) => shape.add(at, i[k] ?? NaN, v[k] ?? NaN));
      dirty = true;
    });
    source.addEventListener('outline', (event: MessageEvent<string>) => {
      const { recording, outline } = JSON.parse(event.data) as { recording: number; outline: OutlineState };
      shapes.set(recording, Outline.from(outline));
      dirty = true;
    });
    for (const silence of ['away', 'error']) source.addEventListener(silence, () => setHeard(false));
    const timer = setInterval(() => {
      if (dirty) setFrame((n) => n + 1);
      dirty = false;
    }, frameMs);
    return () => {
      source.close();
      clearInterval(timer);
    };
  }, [shapes]);
  const shapeOf = useCallback((recording: number | undefined) => shapes.get(recording ?? -1) ?? null, [shapes]);
  return { states, isHeard, health, frame, shapeOf };
}

type Answer<T> = { ok: true; value: T } | { ok: false; kind?: string; message: string };

async function answerTo<T>(name: string, body: unknown): Promise<Answer<T>> {
  try {
    const response = await fetch(`/api/recorder/${name}`, { method: 'POST', body: JSON.stringify(body) });
    return (await response.json()) as Answer<T>;
  } catch {
    return { ok: false, message: 'The server could not be reached. An armed output switches off within 5 s.' };
  }
}

/**
 * Asks the server to do something at the bench; says what it refuses, and asks what is odd. Null where it was not done.
 */
export function useAct() {
  const toast = useToast();
  const ask = useQuestion();
  return useCallback(
    async <T>(name: string, body: unknown, quiet = false): Promise<T | null> => {
      let answer = await answerTo<T>(name, body);
      if (!answer.ok && answer.kind === 'asked') {
        if (!(await ask(answer.message))) return null;
        answer = await answerTo<T>(name, { ...(body as object), confirmed: true });
      }
      if (answer.ok) return answer.value;
      if (!quiet) toast({ tone: 'problem', text: answer.message });
      return null;
    },
    [toast, ask],
  );
}
