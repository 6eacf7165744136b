'use client';

import { useCallback, useEffect, useRef, useState } from 'react';
import { cameraProblem } from './words';

/** Where the pictures come from. */
type PictureSource = { kind: 'none' } | { kind: 'camera'; label: string } | { kind: 'file'; name: string };

const lookAgainMs = 2000;
/** Enough for digits of a display that fills a third of the picture; more costs time. Pixels. */
const usual: MediaTrackConstraints = { width: { ideal: 1280 }, height: { ideal: 720 }, frameRate: { ideal: 30 } };

/** Gives back what a video element shows: the camera's light goes out. */
function releaseFrom(element: HTMLVideoElement | null): void {
  if (!element) return;
  if (element.srcObject instanceof MediaStream) element.srcObject.getTracks().forEach((track) => track.stop());
  element.srcObject = null;
  if (element.src) URL.revokeObjectURL(element.src);
  element.removeAttribute('src');
  element.load();
}

/**
 * Shows a camera.
 *
 * @param deviceId which; the one at the back of a phone where it is left out
 * @throws {DOMException} of the browser where it gives none
 */
async function play(
  element: HTMLVideoElement | null,
  wanted: MediaTrackConstraints,
  deviceId?: string,
): Promise<MediaStreamTrack> {
  const which = deviceId ? { deviceId: { exact: deviceId } } : { facingMode: { ideal: 'environment' } };
  const stream = await navigator.mediaDevices.getUserMedia({ video: { ...wanted, ...which } });
  releaseFrom(element);
  const [track] = stream.getVideoTracks();
  if (!element) {
    track.stop();
    throw new DOMException('The page was closed.', 'AbortError');
  }
  element.srcObject = stream;
  await element.play().catch(() => undefined);
  return track;
}

async function knownCameras(): Promise<{ id: string; label: string }[]> {
  const all = await navigator.mediaDevices.enumerateDevices();
  return all
    .filter((d) => d.kind === 'videoinput')
    .map((d, k) => ({ id: d.deviceId, label: d.label || `Camera ${k + 1}` }));
}

/**
 * A video element with a camera's pictures or those of a file; a camera that was taken away is looked for until it is back.
 *
 * @param wanted size and rate that the camera is asked for; always the same object
 */
export function useCamera(wanted = usual) {
  const video = useRef<HTMLVideoElement>(null);
  const [source, setSource] = useState<PictureSource>({ kind: 'none' });
  const [problem, setProblem] = useState('');
  const [devices, setDevices] = useState<{ id: string; label: string }[]>([]);
  const [lost, setLost] = useState<{ id: string } | null>(null);

  const release = useCallback(() => releaseFrom(video.current), []);

  const stop = useCallback(() => {
    release();
    setLost(null);
    setSource({ kind: 'none' });
  }, [release]);

  const start = useCallback(
    async (deviceId?: string): Promise<boolean> => {
      let track: MediaStreamTrack;
      try {
        track = await play(video.current, wanted, deviceId);
      } catch (error) {
        setProblem(cameraProblem(error));
        return false;
      }
      const id = track.getSettings().deviceId ?? '';
      track.onended = () => {
        setProblem('The camera was disconnected. Reading continues when it is back.');
        setLost({ id });
      };
      setProblem('');
      setLost(null);
      setSource({ kind: 'camera', label: track.label || 'camera' });
      setDevices(await knownCameras());
      return true;
    },
    [wanted],
  );

  const open = useCallback(
    async (file: File): Promise<void> => {
      release();
      const element = video.current;
      if (!element) return;
      element.src = URL.createObjectURL(file);
      setLost(null);
      try {
        await element.play();
        setProblem('');
        setSource({ kind: 'file', name: file.name });
      } catch {
        setProblem(`${file.name} is not a video this browser can play.`);
        setSource({ kind: 'none' });
      }
    },
    [release],
  );

  useAgain(lost?.id ?? null, start);
  useEffect(() => release, [release]);

  return { video, source, problem, devices, start, open, stop };
}

/** Tries to start a camera that was taken away, until it is back. */
function useAgain(id: string | null, start: (id: string) => Promise<boolean>): void {
  useEffect(() => {
    if (id === null) return;
    const timer = setInterval(() => void start(id), lookAgainMs);
    return () => clearInterval(timer);
  }, [id, start]);
}
