'use client';

import { useState } from 'react';
import { useRecorder } from '@/ui/kit/use-recorder';
import type { CameraInstrument } from '@/server/edges/recorder/cameras';
import { AddCamera } from './add-camera';
import { CameraPanel } from './camera-panel';

/** A camera on a display, on whatever device has this page open: a phone beside the bench, or the bench's own computer. */
export function CameraView({ cameras, wanted }: { cameras: CameraInstrument[]; wanted: string | null }) {
  const [key, setKey] = useState(wanted);
  const { states } = useRecorder();
  const camera = cameras.find((c) => c.key === key) ?? cameras[0];
  const recording = states?.find((s) => s.key === camera?.key)?.recording ?? null;
  return (
    <div className="mt-3 grid gap-3">
      {cameras.length > 1 && (
        <label className="flex items-center gap-2">
          <span className="font-semibold">Instrument</span>
          <select className="field w-auto" value={camera.key} onChange={(e) => setKey(e.target.value)}>
            {cameras.map((c) => (
              <option key={c.key} value={c.key}>
                {c.name}
              </option>
            ))}
          </select>
        </label>
      )}
      {camera && (
        <CameraPanel
          key={camera.key}
          instrument={camera.key}
          name={camera.name}
          saved={camera.framing}
          recording={recording}
        />
      )}
      {recording && (
        <p role="status">
          Recording for{' '}
          <a className="underline" href={`/jobs/${recording.jobId}/record`}>
            job {recording.jobId}
          </a>
          , {Math.round(recording.seconds)} s.
        </p>
      )}
      {states?.some((s) => s.simulated) && (
        <p className="text-sm text-muted">
          No instrument available?{' '}
          <a className="underline" href="/camera/display">
            The simulated bench shows its display
          </a>{' '}
          on another screen.
        </p>
      )}
      <AddCamera isFirst={cameras.length === 0} onAdded={setKey} />
    </div>
  );
}
