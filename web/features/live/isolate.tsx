'use client';

import { notRecording } from './why-not';
import { GatedButton } from '@/ui/kit/gated-button';
import type { UnplugStep } from '@umbral/core';
import { formatCurrent, type MarkerEvent } from '@umbral/core/words';
import { useKey } from '@/ui/keys';

interface Part {
  id: string;
  name: string;
}

const moves = { same: 'no change', falls: 'falls', rises: 'rises' } as const;

/**
 * What can be unplugged of this model, one at a time with the recording going on: a key marks the instant, and what the draw
 * did then stands beside it, as the verdict weighs it.
 */
export function Isolate({
  parts,
  off,
  isRecording,
  pulled,
  take,
}: {
  parts: readonly Part[];
  /** Ids of those that are off. */
  off: ReadonlySet<string>;
  isRecording: boolean;
  /** What the draw did at each pull so far. */
  pulled: readonly UnplugStep[];
  /** Takes a part off, or puts it back. */
  take: (part: Part, event: Extract<MarkerEvent, 'part-off' | 'part-on'>) => void;
}) {
  if (parts.length === 0 && pulled.length === 0) return null;
  const others = pulled.filter((p) => !parts.some((part) => part.name === p.part));
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
            isOff={off.has(part.id)}
            did={pulled.findLast((p) => p.part === part.name) ?? null}
            isRecording={isRecording}
            onToggle={() => isRecording && take(part, off.has(part.id) ? 'part-on' : 'part-off')}
          />
        ))}
        {others.map((did) => (
          <li key={did.t} className="flex flex-wrap items-center gap-2">
            <span>{did.part || 'a part without a name'}</span>
            <Did {...did} />
          </li>
        ))}
      </ol>
    </section>
  );
}

function PartRow({
  part,
  place,
  isOff,
  did,
  isRecording,
  onToggle,
}: {
  part: Part;
  place: number;
  isOff: boolean;
  did: UnplugStep | null;
  isRecording: boolean;
  onToggle: () => void;
}) {
  return (
    <li className="flex flex-wrap items-center gap-2">
      <GatedButton
        type="button"
        className="button min-h-9"
        blocked={isRecording ? null : notRecording}
        aria-pressed={isOff}
        onClick={onToggle}
      >
        {isOff ? 'Back on' : 'Off'}: {part.name}{' '}
        {place < 10 && isRecording && <PartKey place={place} name={part.name} press={onToggle} />}
      </GatedButton>
      {did ? <Did {...did} /> : isOff && <span className="text-sm text-muted">measuring …</span>}
    </li>
  );
}

/** Bound while it records: otherwise the numbers choose a setup. */
function PartKey({ place, name, press }: { place: number; name: string; press: () => void }) {
  useKey(String(place), `unplug or reconnect: ${name}`, press);
  return <kbd>{place}</kbd>;
}

function Did({ event, beforeA, afterA, moved }: UnplugStep) {
  return (
    <span className="text-sm tabular-nums">
      {event === 'part-off' ? 'off' : 'back on'}: {formatCurrent(beforeA)} before, {formatCurrent(afterA)} after,{' '}
      <strong>{moves[moved]}</strong>
    </span>
  );
}
