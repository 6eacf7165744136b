'use client';

import { Film, Video } from 'lucide-react';
import type { useCamera } from './use-camera';

/** Where the pictures come from: a camera of this device, or a video. */
export function SourceButtons({
  camera,
  onStarted,
  openFile,
  startsHere,
}: {
  camera: ReturnType<typeof useCamera>;
  onStarted: (isThere: boolean) => void;
  openFile: (file: File | undefined) => void;
  /** It was added a moment ago: starting the camera is what comes next. */
  startsHere: boolean;
}) {
  const { source } = camera;
  const isOff = source.kind === 'none';
  return (
    <>
      <WhichCamera camera={camera} onStarted={onStarted} />
      <button
        type="button"
        className={`button ${isOff ? 'button-main' : ''}`}
        autoFocus={startsHere}
        onClick={() => (isOff ? void camera.start().then(onStarted) : camera.stop())}
      >
        {isOff && <Video size={17} aria-hidden />}
        {isOff ? 'Start the camera' : source.kind === 'file' ? 'Close the video' : 'Stop the camera'}
      </button>
      <label className="button focus-within:outline-2">
        <Film size={17} aria-hidden /> Video file
        <input
          type="file"
          accept="video/*"
          className="sr-only"
          onChange={(e) => {
            openFile(e.target.files?.[0]);
            e.target.value = '';
          }}
        />
      </label>
    </>
  );
}

/** Which camera of this device it is, where there are several. */
export function WhichCamera({
  camera: { devices, start },
  onStarted = () => undefined,
}: {
  camera: Pick<ReturnType<typeof useCamera>, 'devices' | 'start'>;
  onStarted?: (isThere: boolean) => void;
}) {
  if (devices.length < 2) return null;
  return (
    <select
      className="field w-auto max-w-52"
      aria-label="Which camera"
      value=""
      onChange={(e) => void start(e.target.value).then(onStarted)}
    >
      <option value="" disabled>
        another camera …
      </option>
      {devices.map((d) => (
        <option key={d.id} value={d.id}>
          {d.label}
        </option>
      ))}
    </select>
  );
}
