'use client';

import { notRecording } from './why-not';
import { GatedButton } from '@/ui/kit/gated-button';
import { formatCurrent } from '@umbral/core/words';
import { useState } from 'react';
import { useKey } from '@/ui/keys';
import type { MarkIt } from './marking';

interface Part {
  id: string;
  name: string;
}

/**
 * What can be unplugged of this model, one at a time with the recording going on: a key marks the instant, the draw before
 * and after stands beside it. What it means is judged from the run.
 */
export function Isolate({
  parts,
  isRecording,
  amps,
  mark,
  hand,
}: {
  parts: readonly Part[];
  isRecording: boolean;
  amps: number | null;
  mark: MarkIt;
  /** Does the same to a simulated device; null where the device is real. */
  hand: ((part: Part, isOff: boolean) => void) | null;
}) {
  const [off, setOff] = useState<ReadonlyMap<string, number | null>>(new Map());
  if (parts.length === 0) return null;
  const toggle = (part: Part): void => {
    if (!isRecording) return;
    const next = new Map(off);
    const isOff = off.has(part.id);
    if (isOff) next.delete(part.id);
    else next.set(part.id, amps);
    setOff(next);
    mark(isOff ? 'part-on' : 'part-off', part.name);
    hand?.(part, !isOff);
  };
  return (
    <section aria-label="Isolate" className="card">
      <h2 className="text-lg">Isolate</h2>
      <p className="text-sm text-muted">
        {isRecording
          ? 'One at a time, a second or two apart. Hands off the board in between.'
          : 'Record, switch on, press power. Then unplug one part after another.'}
      </p>
      <ol className="mt-2 grid gap-1.5">
        {parts.map((part, k) => (
          <PartRow
            key={part.id}
            part={part}
            place={k + 1}
            before={off.get(part.id) ?? null}
            isOff={off.has(part.id)}
            amps={amps}
            isRecording={isRecording}
            onToggle={() => toggle(part)}
          />
        ))}
      </ol>
    </section>
  );
}

function PartRow({
  part,
  place,
  before,
  isOff,
  amps,
  isRecording,
  onToggle,
}: {
  part: Part;
  place: number;
  before: number | null;
  isOff: boolean;
  amps: number | null;
  isRecording: boolean;
  onToggle: () => void;
}) {
  useKey(String(place), `unplug or reconnect: ${part.name}`, onToggle);
  return (
    <li className="flex flex-wrap items-center gap-2">
      <GatedButton
        type="button"
        className="button min-h-9"
        blocked={isRecording ? null : notRecording}
        aria-pressed={isOff}
        onClick={onToggle}
      >
        {isOff ? 'Back on' : 'Off'}: {part.name} {place < 10 && <kbd>{place}</kbd>}
      </GatedButton>
      {isOff && before !== null && amps !== null && (
        <span className="text-sm tabular-nums">
          {formatCurrent(before)} before, {formatCurrent(amps)} now
        </span>
      )}
    </li>
  );
}
