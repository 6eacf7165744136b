'use client';

import { notRecording } from './why-not';
import { GatedButton } from '@/ui/kit/gated-button';
import type { MarkerEvent } from '@umbral/core/words';
import { useState } from 'react';
import { useKey } from '@/ui/keys';

/** Markers that have a key of their own, beside the press. */
const marks: { key: string; event: MarkerEvent; text: string; asks: string | null }[] = [
  { key: 'u', event: 'plug', text: 'Plugged in', asks: null },
  { key: 'd', event: 'unplug', text: 'Unplugged', asks: null },
  { key: 'f', event: 'flip', text: 'Plug flipped', asks: null },
  { key: 'x', event: 'part-off', text: 'Part off', asks: 'Which part came off?' },
  { key: 'y', event: 'part-on', text: 'Part on', asks: 'Which part went on?' },
  { key: 'm', event: 'note', text: 'Note', asks: 'What happened?' },
];

const instant = (): number => performance.now();

export type MarkIt = (event: MarkerEvent, note?: string, agoS?: number) => void;

/** Marks what happens while it records. What needs words keeps the instant of the key and asks for the words after. */
export function Marking({ isRecording, parts, mark }: { isRecording: boolean; parts: string[]; mark: MarkIt }) {
  const [asked, setAsked] = useState<{ event: MarkerEvent; asks: string; at: number } | null>(null);
  const [words, setWords] = useState('');
  const hit = ({ event, asks }: (typeof marks)[number]): void => {
    if (!isRecording) return;
    if (asks === null) return mark(event);
    setWords('');
    setAsked({ event, asks, at: instant() });
  };
  if (asked && isRecording)
    return (
      <form
        className="mt-2 flex flex-wrap items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          mark(asked.event, words.trim(), (instant() - asked.at) / 1000);
          setAsked(null);
        }}
      >
        <label className="flex min-w-0 flex-1 items-center gap-2">
          <span className="text-sm whitespace-nowrap">{asked.asks}</span>
          <input
            autoFocus
            className="field"
            list="parts-of-this-model"
            maxLength={200}
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
        </label>
        <datalist id="parts-of-this-model">
          {asked.event !== 'note' && parts.map((p) => <option key={p} value={p} />)}
        </datalist>
        <button type="submit" className="button button-main">
          Add marker
        </button>
        <button type="button" className="button button-quiet" onClick={() => setAsked(null)}>
          Cancel
        </button>
      </form>
    );
  return (
    <p className="mt-2 flex flex-wrap gap-1.5" role="group" aria-label="Markers">
      {marks.map((m) => (
        <MarkButton key={m.key} mark={m} isRecording={isRecording} hit={() => hit(m)} />
      ))}
    </p>
  );
}

function MarkButton({
  mark,
  isRecording,
  hit,
}: {
  mark: (typeof marks)[number];
  isRecording: boolean;
  hit: () => void;
}) {
  useKey(mark.key, `mark: ${mark.text}`, hit);
  return (
    <GatedButton
      type="button"
      className="button button-quiet px-2 text-sm"
      blocked={isRecording ? null : notRecording}
      onClick={hit}
    >
      {mark.text} <kbd>{mark.key}</kbd>
    </GatedButton>
  );
}
