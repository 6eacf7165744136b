'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { Crosshair } from 'lucide-react';
import { useEffect, useRef } from 'react';
import type { useFraming } from './use-framing';

/** Finding, framing by hand, turning a mirrored picture, and saving: what ends a framing. */
export function FramingButtons({ frame }: { frame: ReturnType<typeof useFraming> }) {
  const keep = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    // What was found is mostly right: saving it is one press.
    if (frame.timesFound > 0) keep.current?.focus();
  }, [frame.timesFound]);
  return (
    <>
      <button type="button" className="button" disabled={frame.isFinding} onClick={() => void frame.find()}>
        <Crosshair size={17} aria-hidden /> Find the numbers
      </button>
      {frame.isFinding && (
        <span className="flex items-center gap-2">
          <span role="status" className="text-sm text-muted">
            {frame.finding} …
          </span>
          <button type="button" className="button button-quiet" onClick={frame.cancel}>
            Cancel
          </button>
        </span>
      )}
      <button type="button" className="button" onClick={frame.addByHand}>
        Frame one by hand
      </button>
      <label className="flex min-h-10 items-center gap-2">
        <input
          type="checkbox"
          checked={frame.framing?.isMirrored ?? false}
          onChange={(e) => frame.change({ numbers: frame.framing?.numbers ?? [], isMirrored: e.target.checked })}
        />
        mirrored picture
      </label>
      <GatedButton
        ref={keep}
        type="button"
        outer="ml-auto"
        className="button button-main"
        disabled={frame.saving}
        blocked={frame.framing?.numbers.some((n) => n.quantity === 'amps') ? null : 'Frame the current reading first'}
        onClick={frame.keep}
      >
        Save and read
      </GatedButton>
    </>
  );
}
