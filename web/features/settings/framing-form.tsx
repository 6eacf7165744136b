'use client';

import type { Listened, TaughtBytes } from '@umbral/instruments';
import { formatPercent } from '@umbral/core/words';
import { useState } from 'react';
import { SelectField, TextField } from '@/ui/kit/fields';

export type Framing = TaughtBytes['framing'];

/** Where nothing was guessed: something to begin with. */
export const usualFraming: Framing = {
  start: 'A5 5A',
  end: '',
  length: { fixed: 16 },
  checksum: { kind: 'none', from: 0, fromEnd: 0, order: 'big' },
};

const kinds: [Framing['checksum']['kind'], string][] = [
  ['none', 'none'],
  ['sum8', 'sum, 1 byte'],
  ['sum8-negated', 'sum, negated'],
  ['sum16', 'sum, 2 bytes'],
  ['xor8', 'exclusive or'],
  ['crc8', 'CRC-8'],
  ['crc16-modbus', 'CRC-16 Modbus'],
  ['crc16-ccitt', 'CRC-16 CCITT'],
  ['crc16-xmodem', 'CRC-16 XMODEM'],
  ['crc16-kermit', 'CRC-16 Kermit'],
  ['crc32', 'CRC-32'],
];

const sayFraming = ({ start, length, checksum }: Framing): string => {
  const size = 'fixed' in length ? `${length.fixed} bytes` : `length in byte ${length.at}`;
  return `${size}, starts with ${start}, checksum ${kinds.find(([id]) => id === checksum.kind)?.[1]}`;
};

/** How bytes are cut into frames: one of the guesses, or by hand. */
export function FramingForm({
  guesses,
  framing,
  onChange,
}: {
  guesses: Listened['guesses'];
  framing: Framing;
  onChange: (framing: Framing) => void;
}) {
  // What is typed is sent when the field is left, so that half a number is none.
  const [typed, setTyped] = useState<Record<string, string>>({});
  const { length, checksum } = framing;
  const change = (of: Partial<Framing>): void => {
    setTyped({});
    onChange({ ...framing, ...of });
  };
  const field = (name: string, label: string, value: string | number, take: (text: string) => Partial<Framing>) => (
    <TextField
      label={label}
      value={typed[name] ?? String(value)}
      onValue={(text) => setTyped({ ...typed, [name]: text })}
      onBlur={() => typed[name] !== undefined && change(take(typed[name]))}
    />
  );
  const number = (text: string): number => Number(text) || 0;
  return (
    <section aria-label="Framing" className="card grid gap-2 p-3">
      <h2 className="text-lg">Frames</h2>
      {guesses.length === 0 && (
        <p className="text-sm text-decide">
          No bytes come again at even distances. Check the speed, or describe the frames by hand.
        </p>
      )}
      {guesses.length > 0 && (
        <ul className="grid gap-1 text-sm" aria-label="Guesses">
          {guesses.map((g, k) => (
            <li key={k}>
              <button type="button" className="text-left underline" onClick={() => change(g.framing)}>
                {sayFraming(g.framing)}
              </button>
              <span className="text-muted">
                {' '}
                · {g.frames} frames, {formatPercent(g.covers)} of the bytes
              </span>
            </li>
          ))}
        </ul>
      )}
      <div className="grid grid-cols-2 gap-2 sm:grid-cols-3">
        {field('start', 'Start bytes', framing.start, (start) => ({ start: start.trim() }))}
        {field('end', 'End bytes', framing.end, (end) => ({ end: end.trim() }))}
        {'fixed' in length
          ? field('length', 'Bytes per frame', length.fixed, (text) => ({ length: { fixed: number(text) } }))
          : field('lengthAt', 'Length in byte', length.at, (text) => ({ length: { ...length, at: number(text) } }))}
        <SelectField
          label="Checksum"
          value={checksum.kind}
          onValue={(kind) => change({ checksum: { ...checksum, kind: kind as Framing['checksum']['kind'] } })}
        >
          {kinds.map(([id, name]) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </SelectField>
        {field('from', 'Checksum from byte', checksum.from, (text) => ({
          checksum: { ...checksum, from: number(text) },
        }))}
        {field('fromEnd', 'Bytes after the checksum', checksum.fromEnd, (text) => ({
          checksum: { ...checksum, fromEnd: number(text) },
        }))}
      </div>
    </section>
  );
}
