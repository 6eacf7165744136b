'use client';

import type { PlacedField } from '@umbral/instruments';
import { useState } from 'react';

/** The last frames, byte by byte, with the bytes of the values marked by a letter above and a frame around. */
export function FrameRows({
  frames,
  fields,
  onMark,
}: {
  frames: readonly string[];
  fields: Record<'volts' | 'amps', PlacedField | null>;
  /** Somebody says where a value begins. */
  onMark: (of: 'volts' | 'amps', at: number) => void;
}) {
  const [marks, setMarks] = useState<'volts' | 'amps'>('volts');
  const rows = frames.map((frame) => frame.split(' '));
  const longest = Math.max(0, ...rows.map((r) => r.length));
  const of = (k: number): 'V' | 'A' | '' => {
    const isIn = (p: PlacedField | null): boolean => p !== null && k >= p.field.at && k < p.field.at + p.bytes;
    return isIn(fields.volts) ? 'V' : isIn(fields.amps) ? 'A' : '';
  };
  if (rows.length === 0) return <p className="text-sm text-decide">No complete frame fits these settings.</p>;
  return (
    <section aria-label="Frames" className="min-w-0">
      <h2 className="text-lg">The last frames</h2>
      <fieldset className="flex flex-wrap items-center gap-x-3 text-sm">
        <legend className="sr-only">Value to mark</legend>
        <span className="text-muted">Click a byte number to mark where this value starts:</span>
        {(['volts', 'amps'] as const).map((of) => (
          <label key={of} className="flex min-h-9 items-center gap-1.5">
            <input type="radio" name="marks" checked={marks === of} onChange={() => setMarks(of)} />
            {of === 'volts' ? 'Volts' : 'Amperes'}
          </label>
        ))}
      </fieldset>
      <div className="overflow-x-auto" tabIndex={0}>
        <table className="mt-1 border-separate border-spacing-0 font-mono text-sm">
          <thead>
            <tr className="text-muted">
              {Array.from({ length: longest }, (_, k) => (
                <th key={k} scope="col" className="p-0 font-normal">
                  <button
                    type="button"
                    className="min-h-9 w-full px-1.5 hover:bg-raised"
                    aria-label={`Byte ${k}${of(k) && `, in ${of(k) === 'V' ? 'volts' : 'amperes'}`}`}
                    onClick={() => onMark(marks, k)}
                  >
                    {of(k) || k}
                  </button>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, n) => (
              <tr key={n}>
                {row.map((byte, k) => (
                  <td
                    key={k}
                    className={`px-1.5 ${of(k) === 'V' ? 'bg-decide-soft font-bold' : of(k) === 'A' ? 'bg-raised font-bold underline' : ''}`}
                  >
                    {byte}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  );
}
