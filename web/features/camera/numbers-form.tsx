'use client';

import { shownQuantities, type FramedNumber, type ShownQuantity } from '@umbral/core/display';
import { Trash2 } from 'lucide-react';
import { quantityWords, units } from './words';

const decimalChoices = [0, 1, 2, 3, 4];

/** What each framed number is: quantity, unit, digits decimals, and what it reads as now. */
export function NumbersForm({
  numbers,
  texts,
  chosen,
  choose,
  onChange,
}: {
  numbers: FramedNumber[];
  /** What each reads as now; empty where nothing is read. */
  texts: readonly string[];
  chosen: number;
  choose: (k: number) => void;
  onChange: (numbers: FramedNumber[]) => void;
}) {
  const set = (k: number, part: Partial<FramedNumber>): void =>
    onChange(numbers.map((n, at) => (at === k ? { ...n, ...part } : n)));
  const name = (k: number, quantity: ShownQuantity): void =>
    // A quantity stands on a display once: whoever had it becomes something else.
    onChange(
      numbers.map((n, at) => {
        if (at === k) return { ...n, quantity, unit: 1 };
        return n.quantity === quantity && quantity !== 'ignored' ? { ...n, quantity: 'ignored', unit: 1 } : n;
      }),
    );
  return (
    <ul className="grid gap-2" aria-label="Numbers">
      {numbers.map((n, k) => (
        <li
          key={k}
          className={`flex flex-wrap items-center gap-2 rounded-lg border px-2 py-1.5 ${k === chosen ? 'border-edge' : 'border-line'}`}
          onFocus={() => choose(k)}
        >
          <output className="min-w-24 text-xl font-bold" aria-label={`Number ${k + 1} reads`}>
            {n.quantity === 'ignored' ? 'not read' : texts[k] || '–'}
          </output>
          <select
            className="field w-auto"
            aria-label={`Number ${k + 1} is`}
            value={n.quantity}
            onChange={(e) => name(k, e.target.value as ShownQuantity)}
          >
            {shownQuantities.map((q) => (
              <option key={q} value={q}>
                {quantityWords[q]}
              </option>
            ))}
          </select>
          {n.quantity !== 'ignored' && (
            <>
              <select
                className="field w-auto"
                aria-label={`Unit of number ${k + 1}`}
                value={n.unit}
                onChange={(e) => set(k, { unit: Number(e.target.value) })}
              >
                {units[n.quantity].map((u) => (
                  <option key={u.name} value={u.factor}>
                    {u.name}
                  </option>
                ))}
              </select>
              <select
                className="field w-auto"
                aria-label={`Decimal point of number ${k + 1}`}
                value={n.decimals ?? ''}
                onChange={(e) => set(k, { decimals: e.target.value === '' ? null : Number(e.target.value) })}
              >
                {decimalChoices.map((d) => (
                  <option key={d} value={d}>
                    {d === 0 ? 'no decimal point' : `${d} decimals`}
                  </option>
                ))}
                <option value="">point moves</option>
              </select>
            </>
          )}
          <button
            type="button"
            className="button ml-auto px-2"
            aria-label={`Remove number ${k + 1}`}
            onClick={() => onChange(numbers.filter((_, at) => at !== k))}
          >
            <Trash2 size={16} aria-hidden />
          </button>
        </li>
      ))}
    </ul>
  );
}
