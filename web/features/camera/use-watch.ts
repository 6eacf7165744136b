'use client';

import { useEffect, useState, useSyncExternalStore, type RefObject } from 'react';
import { DisplayWatch, type SeenBody } from './display-watch';
import { elsewhereWords, silentWords, whyUnread } from './words';

interface Answer {
  ok: boolean;
  message?: string;
}

async function tellRecorder(body: SeenBody): Promise<string | null> {
  const response = await fetch('/api/recorder/seen', { method: 'POST', body: JSON.stringify(body) });
  const answer = (await response.json()) as Answer;
  return answer.ok ? null : (answer.message ?? `The server answered ${response.status}.`);
}

const seconds = (): number => performance.now() / 1000;

/** Reads the pictures of a video element while this is on the screen, beside the page's own thread. */
export function useWatch(video: RefObject<HTMLVideoElement | null>, isOn: boolean) {
  const [watch, setWatch] = useState<DisplayWatch | null>(null);
  useEffect(() => {
    const made = new DisplayWatch({
      thread: () => new Worker(new URL('./reader.worker.ts', import.meta.url)),
      tell: tellRecorder,
      now: seconds,
      why: whyUnread,
      elsewhere: elsewhereWords,
      silent: silentWords,
    });
    // The thread is there from the first drawing on.
    // eslint-disable-next-line react-hooks/set-state-in-effect
    setWatch(made);
    return () => made.close();
  }, []);
  useEffect(() => {
    const element = video.current;
    if (!watch || !isOn || !element) return;
    let handle = 0;
    let isOver = false;
    const onPicture = (now: number, meta: VideoFrameCallbackMetadata): void => {
      if (isOver) return;
      handle = element.requestVideoFrameCallback(onPicture);
      if (!watch.isDue(now / 1000)) return;
      // A camera says when it took a picture; of a file it counts when it is shown.
      const t = (meta.captureTime ?? now) / 1000;
      createImageBitmap(element)
        .then((picture) => (isOver ? picture.close() : watch.take(t, picture)))
        .catch(() => undefined);
    };
    handle = element.requestVideoFrameCallback(onPicture);
    return () => {
      isOver = true;
      element.cancelVideoFrameCallback(handle);
    };
  }, [watch, isOn, video]);
  const snapshot = useSyncExternalStore(
    watch ? watch.subscribe : never,
    () => watch?.snapshot() ?? null,
    () => null,
  );
  return { watch, snapshot };
}

const never = (): (() => void) => () => undefined;
