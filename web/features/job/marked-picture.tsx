'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { useState } from 'react';
import { markPicture } from './actions';
import { useSave } from '@/ui/kit/use-save';
import type { PictureView } from './view';

const step = 0.02;
const inside = (x: number): number => Math.min(1, Math.max(0, x));

/** A picture with a place on it: set by a press or by the arrow keys, with what is there in words. */
export function MarkedPicture({ jobId, picture }: { jobId: number; picture: PictureView }) {
  const [at, setAt] = useState<{ x: number; y: number } | null>(picture.point);
  const [says, setSays] = useState(picture.point?.says ?? '');
  const { saving, save } = useSave();
  const isChanged = at?.x !== picture.point?.x || at?.y !== picture.point?.y || says !== (picture.point?.says ?? '');
  const keep = (point: { x: number; y: number; says: string } | null): void =>
    save(() => markPicture({ jobId, pictureId: picture.id, point }), {
      done: point ? 'Mark saved.' : 'Mark removed.',
    });
  return (
    <>
      <div
        role="application"
        aria-label="Place on the picture. Click, or move with the arrow keys"
        tabIndex={0}
        className="relative mx-auto mt-3 w-fit cursor-crosshair"
        onClick={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          setAt({ x: inside((e.clientX - box.left) / box.width), y: inside((e.clientY - box.top) / box.height) });
        }}
        onKeyDown={(e) => {
          const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[e.key];
          if (!by) return;
          e.preventDefault();
          const from = at ?? { x: 0.5, y: 0.5 };
          setAt({ x: inside(from.x + by[0]), y: inside(from.y + by[1]) });
        }}
      >
        <img
          src={`/api/attachments/${picture.id}`}
          alt={picture.words}
          width={picture.width}
          height={picture.height}
          className="h-auto max-h-[62dvh] w-auto max-w-full rounded-lg"
        />
        {at && (
          <span
            aria-label={`Marked place${says ? `: ${says}` : ''}`}
            role="img"
            className="pointer-events-none absolute -mt-3.5 -ml-3.5 size-7 rounded-full border-4 border-decide outline-2 outline-raised"
            style={{ left: `${100 * at.x}%`, top: `${100 * at.y}%` }}
          />
        )}
      </div>
      <form
        className="mt-2 flex flex-wrap items-center gap-2 text-sm"
        onSubmit={(e) => {
          e.preventDefault();
          if (at) keep({ ...at, says });
        }}
      >
        <label className="flex min-w-0 flex-1 items-center gap-2">
          What is here
          <input
            className="field min-h-9 min-w-0 flex-1 py-1"
            placeholder="corrosion next to the small coil"
            maxLength={200}
            value={says}
            onChange={(e) => setSays(e.target.value)}
          />
        </label>
        <GatedButton
          type="submit"
          className="button min-h-9"
          disabled={saving}
          blocked={!at ? 'Click a place in the picture first' : !isChanged ? 'Nothing has changed' : null}
        >
          Save mark
        </GatedButton>
        {picture.point && (
          <button
            type="button"
            className="button min-h-9"
            disabled={saving}
            onClick={() => {
              setAt(null);
              setSays('');
              keep(null);
            }}
          >
            Remove mark
          </button>
        )}
      </form>
    </>
  );
}
