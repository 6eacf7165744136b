import type { CircuitId, DeviceClass, Feed } from '../catalogue/index.ts';
import { modelKey } from './signature.ts';
import settings from './notebook.json';

type Phase = 'before' | 'after';

/** One reading of a confirmed case: this much, at that setup, was that. Or a line that somebody typed. */
export interface NotebookEntry {
  model: string;
  deviceClass: DeviceClass;
  /** Null where nobody said. */
  feed: Feed | null;
  /** Volts of the feed, or of the contract; null where nobody said. */
  volts: number | null;
  /** The level that stood, amperes; null for a line without a number. */
  amps: number | null;
  /** Whether the level stood before the press or followed it; null where nobody said. */
  phase: Phase | null;
  /** What else was said of the setup: "before the press", "one run rail missing". */
  setup: string;
  circuit: CircuitId;
  /** Empty where only the circuit is known. */
  element: string;
  /** How often it was that, of how many; 1 of 1 for one case. */
  hits: number;
  of: number;
  /** When it was found, and by whom. */
  at: Date;
  who: string;
  /** Where it is read up: a job, a typed line, a library of another shop. */
  source: { kind: 'job' | 'note' | 'library'; id: number };
  /** Name of the shop that it came from; null for this one. */
  origin: string | null;
}

/** What one level was, with everything that was met there. */
export interface NotebookLine {
  model: string;
  deviceClass: DeviceClass;
  feed: Feed | null;
  volts: number | null;
  phase: Phase | null;
  setup: string;
  /** From the lowest level to the highest that was met; null for a line without a number. */
  minA: number | null;
  maxA: number | null;
  /** What it was, the most frequent first, with the elements that were named. */
  causes: { circuit: CircuitId; elements: string[]; hits: number }[];
  of: number;
  last: Date;
  who: string[];
  entries: NotebookEntry[];
}

/**
 * The pages of a notebook: readings of one model in one setup that stand at one level are one line, with what it was and how
 * often.
 *
 * @param entries in any order
 * @returns by model, then feed, then level
 */
export function notebookLines(entries: readonly NotebookEntry[]): NotebookLine[] {
  const groups = new Map<string, NotebookEntry[]>();
  for (const entry of entries) {
    const key = [
      entry.deviceClass,
      modelKey(entry.model),
      entry.feed ?? '',
      voltsStep(entry.volts),
      entry.phase ?? '',
      entry.setup,
    ].join('|');
    const list = groups.get(key);
    if (list) list.push(entry);
    else groups.set(key, [entry]);
  }
  return [...groups.values()]
    .flatMap(byLevel)
    .map(lineOf)
    .sort(
      (a, b) =>
        a.deviceClass.localeCompare(b.deviceClass) ||
        a.model.localeCompare(b.model) ||
        (a.feed ?? '').localeCompare(b.feed ?? '') ||
        (a.volts ?? 0) - (b.volts ?? 0) ||
        (a.minA ?? -1) - (b.minA ?? -1),
    );
}

/** Voltages that are one setup: a step of the logarithm apart they are another. */
function voltsStep(volts: number | null): string {
  return volts === null || volts <= 0 ? '' : String(Math.round(Math.log(volts) / settings.setupVolts));
}

/** Entries that stand together, split where the next level is clearly another one. */
function byLevel(list: readonly NotebookEntry[]): NotebookEntry[][] {
  const sorted = [...list].sort((a, b) => (a.amps ?? -1) - (b.amps ?? -1));
  const out: NotebookEntry[][] = [];
  for (const entry of sorted) {
    const line = out.at(-1);
    if (line && isSameLevel(line, entry)) line.push(entry);
    else out.push([entry]);
  }
  return out;
}

/** Near to the last of the line, and not far from its first: levels that follow each other closely are not all one. */
function isSameLevel(line: readonly NotebookEntry[], { amps: high }: NotebookEntry): boolean {
  const [first, last] = [line[0].amps, line[line.length - 1].amps];
  if (first === null || last === null || high === null) return last === high;
  const within = (low: number, ratio: number): boolean => high - low <= settings.gapA || high <= low * ratio;
  return within(last, settings.gapRatio) && within(first, settings.spanRatio);
}

function lineOf(entries: readonly NotebookEntry[]): NotebookLine {
  const [first] = entries;
  const causes = new Map<CircuitId, { circuit: CircuitId; elements: string[]; hits: number }>();
  for (const { circuit, element, hits } of entries) {
    const cause = causes.get(circuit) ?? { circuit, elements: [], hits: 0 };
    cause.hits += hits;
    if (element !== '' && !cause.elements.includes(element)) cause.elements.push(element);
    causes.set(circuit, cause);
  }
  const levels = entries.flatMap((e) => (e.amps === null ? [] : [e.amps]));
  return {
    model: first.model,
    deviceClass: first.deviceClass,
    feed: first.feed,
    volts: first.volts,
    phase: first.phase,
    setup: first.setup,
    minA: levels.length > 0 ? Math.min(...levels) : null,
    maxA: levels.length > 0 ? Math.max(...levels) : null,
    causes: [...causes.values()].sort((a, b) => b.hits - a.hits),
    of: entries.reduce((sum, e) => sum + e.of, 0),
    last: new Date(Math.max(...entries.map((e) => e.at.getTime()))),
    who: [...new Set(entries.map((e) => e.who).filter((w) => w !== ''))],
    entries: [...entries],
  };
}

export interface NotebookQuery {
  /** Amperes; null for any level. */
  amps: number | null;
  /** Volts; null for any. */
  volts: number | null;
  /** When the level stood: lines of the other phase say nothing of it; left out for any. */
  phase?: Phase | null;
  /** The feed it was drawn from; left out for any. */
  feed?: Feed | null;
  /** Words of the kind of device, the model, the setup, the circuit or the part; empty for any. */
  text: string;
}

/**
 * Lines at a level, the nearest and the most often met first.
 *
 * @param lines from {@link notebookLines}
 * @param nameOf what a circuit is called, for the words
 */
export function searchNotebook(
  lines: readonly NotebookLine[],
  { amps, volts, text, phase = null, feed = null }: NotebookQuery,
  nameOf: (circuit: CircuitId) => string,
): NotebookLine[] {
  const words = text
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '');
  const named = lines.filter((line) => {
    if (phase !== null && line.phase !== null && line.phase !== phase) return false;
    if (feed !== null && line.feed !== null && line.feed !== feed) return false;
    if (volts !== null && (line.volts === null || Math.abs(Math.log(volts / line.volts)) > settings.nearVolts))
      return false;
    const told = [
      line.deviceClass,
      line.model,
      line.setup,
      ...line.causes.flatMap((c) => [nameOf(c.circuit), ...c.elements]),
    ]
      .join(' ')
      .toLowerCase();
    return words.every((w) => told.includes(w));
  });
  if (amps === null) return named;
  const near = named.filter((line) => isNear(line, amps));
  return near.sort((a, b) => farFrom(a, amps) - farFrom(b, amps) || b.of - a.of);
}

/** Lines that the words of a query fit at any level, the closest level first: for a model of which no line is at the level. */
export function closestLines(
  lines: readonly NotebookLine[],
  query: NotebookQuery,
  nameOf: (circuit: CircuitId) => string,
): NotebookLine[] {
  const { amps } = query;
  if (amps === null || query.text.trim() === '') return [];
  return searchNotebook(lines, { ...query, amps: null }, nameOf)
    .filter((line) => line.minA !== null)
    .sort((a, b) => farFrom(a, amps) - farFrom(b, amps) || b.of - a.of);
}

/** The phase that a setup says in words; null where it says none. */
export function phaseSaid(setup: string): Phase | null {
  const asked = '(press|pressed|power-on|powered on|prompt|start|button|switched on)';
  const said = new RegExp(`\\b(before|after)\\b[^,;]*\\b${asked}\\b`, 'i').exec(setup);
  return said ? (said[1].toLowerCase() as Phase) : null;
}

/** Levels that a level of amperes is near to: from, to. */
export function levelsNear(amps: number): [from: number, to: number] {
  return [
    Math.min(amps / settings.nearRatio, amps - settings.nearA),
    Math.max(amps * settings.nearRatio, amps + settings.nearA),
  ];
}

function isNear({ minA, maxA }: NotebookLine, amps: number): boolean {
  if (minA === null || maxA === null) return false;
  return amps >= levelsNear(minA)[0] && amps <= levelsNear(maxA)[1];
}

/** How far a level lies outside of a line, as a logarithm; 0 within it. */
function farFrom({ minA, maxA }: NotebookLine, amps: number): number {
  const log = (x: number): number => Math.log(x + settings.nearA);
  return Math.max(0, log(minA ?? 0) - log(amps), log(amps) - log(maxA ?? 0));
}
