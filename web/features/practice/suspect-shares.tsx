'use client';

import { X } from 'lucide-react';
import { useRef, useState } from 'react';
import { addedShare, movedShare, withoutShare, type Share } from './shares';
import { SelectField } from '@/ui/kit/fields';

/** Circuits with the percentages that somebody gives them; what one gains the others lose. */
export function SuspectShares({
  circuits,
  shares,
  onChange,
}: {
  circuits: readonly { id: string; name: string }[];
  shares: readonly Share[];
  onChange: (shares: Share[]) => void;
}) {
  const [typed, setTyped] = useState('');
  // Typing goes through the list letter by letter: what is passed on the way is not meant.
  const isTyping = useRef(false);
  const add = (circuit: string): void => {
    setTyped('');
    isTyping.current = false;
    if (circuit !== '') onChange(addedShare(shares, circuit));
  };
  const nameOf = (id: string): string => circuits.find((c) => c.id === id)?.name ?? id;
  return (
    <>
      <SelectField
        label="Suspect"
        hint="add as many as you like"
        value={typed}
        onPointerDown={() => (isTyping.current = false)}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') isTyping.current = true;
          else if (typed !== '') {
            e.preventDefault();
            add(typed);
          }
        }}
        onBlur={() => add(typed)}
        onValue={(value) => (isTyping.current ? setTyped(value) : add(value))}
      >
        <option value="">add a circuit</option>
        {circuits
          .filter((c) => !shares.some((s) => s.circuit === c.id))
          .map((c) => (
            <option key={c.id} value={c.id}>
              {c.name}
            </option>
          ))}
      </SelectField>
      <ul className="grid gap-1">
        {shares.map((s, k) => (
          <li key={s.circuit} className="grid grid-cols-[minmax(0,1fr)_auto_auto] items-center gap-x-2">
            <span className="truncate">{nameOf(s.circuit)}</span>
            <strong className="tabular-nums">{s.percent} %</strong>
            <button
              type="button"
              className="button min-h-9 px-2"
              aria-label={`Take ${nameOf(s.circuit)} out`}
              onClick={() => onChange(withoutShare(shares, k))}
            >
              <X size={15} aria-hidden />
            </button>
            <input
              type="range"
              min={0}
              max={100}
              step={5}
              className="col-span-3 h-8 w-full accent-umbra"
              aria-label={`How likely ${nameOf(s.circuit)} is, percent`}
              value={s.percent}
              disabled={shares.length === 1}
              onChange={(e) => onChange(movedShare(shares, k, Number(e.target.value)))}
            />
          </li>
        ))}
      </ul>
    </>
  );
}
