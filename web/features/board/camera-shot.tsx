'use client';

import { Camera } from 'lucide-react';
import { useEffect, useState } from 'react';
import { WhichCamera } from '@/features/camera/source-buttons';
import { useCamera } from '@/features/camera/use-camera';
import { pictureOf } from '@/features/camera/picture';
import { Dialog } from '@/ui/dialog';
import { GatedButton } from '@/ui/kit/gated-button';

/** As fine as a camera gives: a point is put on it by eye. Pixels. */
const finest = { width: { ideal: 4096 }, height: { ideal: 3072 } };

/** A picture by the camera of this device: a phone's back camera, or one over the bench. */
export function CameraShot({ onTake }: { onTake: (file: File) => void }) {
  const [isOpen, setIsOpen] = useState(false);
  return (
    <>
      <button type="button" className="button min-h-9" onClick={() => setIsOpen(true)}>
        <Camera size={17} aria-hidden /> Use a camera
      </button>
      {isOpen && (
        <Dialog open wide title="Picture of the board" onClose={() => setIsOpen(false)}>
          <Live
            onTake={(file) => {
              setIsOpen(false);
              onTake(file);
            }}
          />
        </Dialog>
      )}
    </>
  );
}

function Live({ onTake }: { onTake: (file: File) => void }) {
  const camera = useCamera(finest);
  const { video, source, problem, start } = camera;
  useEffect(() => void start(), [start]);
  const take = async (): Promise<void> => {
    if (!video.current) return;
    const picture = await pictureOf(video.current);
    const canvas = new OffscreenCanvas(picture.width, picture.height);
    canvas.getContext('2d')?.drawImage(picture, 0, 0);
    onTake(new File([await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.92 })], 'board.jpg'));
  };
  return (
    <>
      <p className="mt-1 text-sm text-muted">
        Hold it level over the board, without glare. Battery out, supply off before you lean over it.
      </p>
      <video ref={video} muted playsInline className="mt-3 max-h-[60dvh] w-full rounded-lg bg-black object-contain" />
      {problem && (
        <p role="alert" className="mt-2 text-decide">
          {problem}
        </p>
      )}
      <p className="mt-3 flex flex-wrap gap-2">
        <GatedButton
          className="button button-main"
          blocked={source.kind === 'camera' ? null : 'Waiting for the camera'}
          onClick={() => void take()}
        >
          Take the picture
        </GatedButton>
        <WhichCamera camera={camera} />
      </p>
    </>
  );
}
