'use client';

import type { Framing } from '@umbral/core/display';
import { Pencil } from 'lucide-react';
import { useState, type DragEvent } from 'react';
import { Hazard } from '@/ui/parts';
import { Outline } from '@/ui/kit/on-picture';
import { Corners } from './corners';
import { FramingButtons } from './framing-buttons';
import { NumbersForm } from './numbers-form';
import { ReadState } from './read-state';
import { SourceButtons } from './source-buttons';
import { useCamera } from './use-camera';
import { useFraming } from './use-framing';
import { useStrip } from './use-strip';
import { useWatch } from './use-watch';
import { quantityWords } from './words';

/** A camera on the display of one instrument: picture, framing, what is read, and the pictures kept as proof. */
export function CameraPanel({
  instrument,
  name,
  saved,
  recording = null,
}: {
  instrument: string;
  name: string;
  saved: Framing | null;
  /** The job that this instrument records for now. */
  recording?: { jobId: number } | null;
}) {
  const camera = useCamera();
  const { video, source } = camera;
  const isOn = source.kind !== 'none';
  const { watch, snapshot } = useWatch(video, isOn);
  const frame = useFraming(watch, video, instrument, saved);
  const { framing, isEditing } = frame;
  const [keepsStrip, setKeepsStrip] = useState(false);
  useStrip(video, snapshot, keepsStrip && recording ? recording.jobId : null, framing?.isMirrored ?? false);
  const started = async (isThere: boolean): Promise<void> => {
    if (!isThere) return;
    frame.begin();
    if (!framing) await frame.find();
  };
  const openFile = (file: File | undefined): void => {
    if (file) void camera.open(file).then(() => started(true));
  };
  const onDrop = (event: DragEvent): void => {
    event.preventDefault();
    event.stopPropagation();
    openFile(event.dataTransfer.files[0]);
  };
  return (
    <section
      aria-label={`Camera on ${name}`}
      className="card grid gap-3"
      onDragOver={(e) => e.preventDefault()}
      onDrop={onDrop}
    >
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="mr-auto text-lg">Camera on {name}</h2>
        <SourceButtons
          camera={camera}
          onStarted={(isThere) => void started(isThere)}
          openFile={openFile}
          startsHere={saved === null}
        />
      </div>
      {camera.problem && <Hazard>{camera.problem}</Hazard>}
      <div className={isEditing ? '' : 'flex flex-wrap items-start gap-x-5 gap-y-3'}>
        <div
          className={`relative w-fit overflow-hidden ${isEditing ? 'mx-auto' : ''} rounded-lg bg-black ${isOn ? '' : 'hidden'}`}
        >
          <video
            ref={video}
            muted
            playsInline
            controls={source.kind === 'file' && !isEditing}
            aria-label="Picture of the camera"
            className={`block w-auto max-w-full ${isEditing ? 'max-h-[45vh]' : 'max-h-44'} ${framing?.isMirrored ? '-scale-x-100' : ''}`}
          />
          {isEditing
            ? framing?.numbers.map((n, k) => (
                <Corners
                  key={k}
                  name={quantityWords[n.quantity]}
                  corners={n.corners}
                  isChosen={k === frame.chosen}
                  onChoose={() => frame.choose(k)}
                  onChange={(corners) =>
                    frame.change({
                      ...framing,
                      numbers: framing.numbers.map((was, at) => (at === k ? { ...was, corners } : was)),
                    })
                  }
                />
              ))
            : snapshot?.state?.corners.map((corners, k) => (
                <Outline key={k} corners={corners} color={snapshot.reading?.doubts[k] ? '#f3925a' : '#7fc9ae'} />
              ))}
        </div>
        {isOn && !isEditing && snapshot && framing && (
          <div className="min-w-60 flex-1">
            <ReadState snapshot={snapshot} framing={framing} onStandsThere={() => watch?.standsThere()} />
          </div>
        )}
      </div>
      {!isOn && (
        <p className="text-muted">
          Point a camera at the display. Use a camera of this computer, a phone with this page open, or drop a video
          here. The numbers are read on this device. No picture leaves it.
        </p>
      )}
      {isOn && isEditing && (
        <div className="grid gap-2">
          {frame.says && (
            <p className="text-sm" role="status">
              {frame.says}
            </p>
          )}
          {framing && (
            <NumbersForm
              numbers={framing.numbers}
              texts={snapshot?.state?.texts ?? []}
              chosen={frame.chosen}
              choose={frame.choose}
              onChange={(numbers) => frame.change({ ...framing, numbers })}
            />
          )}
        </div>
      )}
      {isOn && (
        <div className="flex flex-wrap items-center gap-2">
          {isEditing ? (
            <FramingButtons frame={frame} />
          ) : (
            <>
              <button type="button" className="button" onClick={frame.edit}>
                <Pencil size={16} aria-hidden /> Frame again
              </button>
              <label className="flex min-h-10 items-center gap-2">
                <input type="checkbox" checked={keepsStrip} onChange={(e) => setKeepsStrip(e.target.checked)} />
                save one picture per second with the job, as proof
              </label>
            </>
          )}
        </div>
      )}
    </section>
  );
}
