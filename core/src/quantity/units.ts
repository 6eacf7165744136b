/** The physical quantities Umbral handles, each with its SI unit. */
export type Kind = 'current' | 'voltage' | 'power' | 'resistance' | 'time' | 'frequency' | 'temperature';

export const unitOf: Record<Kind, string> = {
  current: 'A',
  voltage: 'V',
  power: 'W',
  resistance: 'ohm',
  time: 's',
  frequency: 'Hz',
  temperature: '°C',
};

interface Unit {
  kind: Kind;
  /** Multiply by this to reach the SI unit. */
  factor: number;
}

const bases: { kind: Kind; spellings: string[] }[] = [
  { kind: 'current', spellings: ['a', 'amp', 'amps', 'ampere', 'amperes'] },
  { kind: 'voltage', spellings: ['v', 'volt', 'volts'] },
  { kind: 'power', spellings: ['w', 'watt', 'watts'] },
  { kind: 'resistance', spellings: ['ohm', 'ohms', 'Ω', 'ω', 'r'] },
  { kind: 'time', spellings: ['s', 'sec', 'secs', 'second', 'seconds'] },
  { kind: 'frequency', spellings: ['hz', 'hertz'] },
];

/** A capital M is mega only where milli would be absurd on a bench (megohms, megahertz). */
const prefixes: { spelling: string; factor: number }[] = [
  { spelling: 'n', factor: 1e-9 },
  { spelling: 'u', factor: 1e-6 },
  { spelling: 'µ', factor: 1e-6 },
  { spelling: 'μ', factor: 1e-6 },
  { spelling: 'm', factor: 1e-3 },
  { spelling: 'milli', factor: 1e-3 },
  { spelling: 'k', factor: 1e3 },
];

const units = new Map<string, Unit>();
for (const base of bases) {
  for (const spelling of base.spellings) {
    units.set(spelling, { kind: base.kind, factor: 1 });
    for (const prefix of prefixes) units.set(prefix.spelling + spelling, { kind: base.kind, factor: prefix.factor });
  }
}
for (const word of ['min', 'minute', 'minutes']) units.set(word, { kind: 'time', factor: 60 });
for (const word of ['h', 'hour', 'hours']) units.set(word, { kind: 'time', factor: 3600 });
for (const word of ['°c', 'degc', 'c']) units.set(word, { kind: 'temperature', factor: 1 });

/**
 * Looks up a unit as people spell it, in any case. `MOhm` and `MHz` are mega.
 *
 * @param text the unit alone, such as `mA`, `volts`, `kΩ`
 * @returns kind and factor to the SI unit, or null where the text is no known unit
 */
export function findUnit(text: string): Unit | null {
  const trimmed = text.trim();
  if (/^M(ohms?|Ω|ω|r|hz)$/i.test(trimmed) && trimmed.startsWith('M')) {
    return { kind: /hz$/i.test(trimmed) ? 'frequency' : 'resistance', factor: 1e6 };
  }
  return units.get(trimmed.toLowerCase()) ?? null;
}

/** Units that people write where they mean a current, with what to tell them. */
export function explainWrongUnit(text: string): string | null {
  const unit = text.trim().toLowerCase();
  if (/^(m|k|u|µ)?ah$/.test(unit)) return `${text.trim()} is a charge (current times hours)`;
  if (/^(m|k)?wh$/.test(unit)) return `${text.trim()} is an energy (power times hours)`;
  return null;
}
