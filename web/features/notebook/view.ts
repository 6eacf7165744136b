import { circuitNames, formatStatedCurrent, type NotebookLine } from '@umbral/core';
import { classWords, dayWords, feedWords } from '@/features/words';

/** A line of the notebook as it is shown. */
export interface LineView {
  key: string;
  model: string;
  deviceClass: string;
  level: string;
  setup: string;
  causes: { circuit: string; elements: string; says: string }[];
  last: string;
  who: string;
  /** Name of the shops that it came from; empty for this one. */
  origin: string;
  jobs: number[];
  /** The typed line, where it is one and of this shop: it can be corrected. */
  note: number | null;
}

/** As a display shows it: nobody looks for a third digit. */
const rounded = (x: number): number => Number(x.toPrecision(2));

const span = (min: number | null, max: number | null): string => {
  if (min === null || max === null) return '';
  const [low, high] = [formatStatedCurrent(rounded(min)), formatStatedCurrent(rounded(max))];
  if (low === high) return low;
  // The unit once, where it is the same.
  const unit = /\s\S+$/.exec(high)?.[0] ?? '';
  return `${low.endsWith(unit) ? low.slice(0, low.length - unit.length) : low} to ${high}`;
};

export function lineView(line: NotebookLine, k: number): LineView {
  const { entries } = line;
  const setup = [
    line.feed ? feedWords[line.feed] : '',
    line.volts === null ? '' : `${rounded(line.volts)} V`,
    line.setup,
  ].filter((x) => x !== '');
  return {
    key: `${k}`,
    model: line.model,
    deviceClass: classWords[line.deviceClass],
    level: span(line.minA, line.maxA),
    setup: setup.join(', '),
    causes: line.causes.map((c) => ({
      circuit: circuitNames[c.circuit],
      elements: c.elements.join(', '),
      says: `${c.hits} of ${line.of}`,
    })),
    last: dayWords(line.last),
    who: line.who.join(', '),
    origin: [...new Set(entries.flatMap((e) => (e.origin ? [e.origin] : [])))].join(', '),
    jobs: [...new Set(entries.flatMap((e) => (e.source.kind === 'job' ? [e.source.id] : [])))],
    note:
      entries.length === 1 && entries[0].source.kind === 'note' && entries[0].origin === null
        ? entries[0].source.id
        : null,
  };
}
