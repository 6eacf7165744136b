import type { LadderRung, RungPhase, RungReading, Suggestion } from '@umbral/core';
import {
  circuitNames,
  formatPercent,
  formatResistance,
  formatVoltage,
  sayMeasured,
  sayOutcome,
  type ReadingMode,
} from '@umbral/core/words';
import type { NetStatus } from '@/features/board/point-sign';

export const phaseWords = {
  before: 'before power-on',
  after: 'after power-on',
  plugged: 'charger plugged in',
} as const;
export type Phase = keyof typeof phaseWords;

export const modeWords = { voltage: 'voltage', diode: 'diode mode', resistance: 'resistance' } as const;

/** A proposed test, as the screen says it. */
export interface TestView {
  id: string;
  kind: Suggestion['kind'];
  title: string;
  /** Rails or elements that it is about, by id; the point in words for a model without a profile. */
  at: string[];
  phase: Phase | null;
  /** What of it the ladder takes: a voltage, a diode reading or a resistance. */
  mode: ReadingMode | null;
  /** Circuit of the point, where nobody has named it yet. */
  circuit: string | null;
  says: string;
  risk: string;
  predicts: { name: string; says: string }[];
}

export function sayTest(s: Suggestion): TestView {
  const { kind, at, phase, minutes, where, mode, circuit } = s;
  const minute = `${Math.max(1, Math.round(minutes))} min`;
  return {
    id: [kind, s.check, s.action?.kind, s.action?.circuit, s.action?.target, where, mode, phase, s.protocol]
      .filter(Boolean)
      .join(':'),
    kind,
    title: phase && mode === 'voltage' ? `${s.name}, ${phaseWords[phase]}` : s.name,
    at: at.length > 0 ? at : where === null ? [] : [where],
    phase,
    mode: kind === 'reading' ? mode : null,
    circuit,
    says: kind === 'stop' || kind === 'verify' ? s.why : `About ${minute}`,
    risk: s.risk,
    predicts: s.predicts.map((p) => ({
      name: p.element?.name ?? circuitNames[p.circuit],
      says: `${sayOutcome(p.outcome, kind, s.hot)}, ${formatPercent(p.likely[0]?.p ?? 0)}`,
    })),
  };
}

/** Readings of good boards of one kind: the middle one, how many there were, and what they lie between. */
export function sayGood(mode: ReadingMode, kept: readonly GoodReading[]): string {
  const closed = kept.flatMap((r) => (r.ol || r.value === null ? [] : [r.value])).sort((a, b) => a - b);
  const [last] = kept.slice(-1);
  const middle = closed.length > 0 ? closed[Math.floor((closed.length - 1) / 2)] : null;
  const says = sayReference(mode, middle, closed.length === 0, last.red_probe);
  if (kept.length === 1) return `${says} (1 board)`;
  const format = mode === 'resistance' ? formatResistance : formatVoltage;
  const [low, high] = [format(closed.at(0) ?? null), format(closed.at(-1) ?? null)];
  const spread = closed.length < 2 || low === high ? '' : `, ${low} to ${high}`;
  return `${says} (${kept.length} boards${spread})`;
}

interface GoodReading {
  value: number | null;
  ol: boolean;
  red_probe: 'ground' | 'point' | null;
}

/** A good board's reading in words, with which probe stood on ground. */
export function sayReference(
  mode: ReadingMode,
  value: number | null,
  ol: boolean,
  redProbe: 'ground' | 'point' | null,
): string {
  const shown = ol ? 'open' : mode === 'resistance' ? formatResistance(value) : formatVoltage(value);
  const probe = redProbe === 'point' ? ', red on the point' : '';
  return `${modeWords[mode]} ${shown}${probe}`;
}

/** How a rail stands in a phase, in a word and with what it follows from. */
export function sayPhase(phase: RungPhase): { word: string; tone: 'good' | 'bad' | 'implied' | 'none' } {
  const finding = phase.seen?.finding ?? null;
  if (finding === 'present') return { word: 'up', tone: 'good' };
  if (finding === 'missing')
    return phase.expected ? { word: 'missing', tone: 'bad' } : { word: 'off, as expected', tone: 'none' };
  if (finding === 'low') return { word: 'too low', tone: 'bad' };
  if (finding === 'swinging') return { word: 'comes and goes', tone: 'bad' };
  if (phase.implied === 'present') return { word: `implied by ${phase.from ?? ''}`, tone: 'implied' };
  if (phase.implied === 'explained' && phase.expected)
    return { word: `explained by ${phase.from ?? ''}`, tone: 'implied' };
  return { word: phase.expected ? '' : 'not expected', tone: 'none' };
}

const clearShort = 0.5;
/** How a rail stands on the map: what was read last, in the phase that is asked; a short before anything else. */
export function statusOf(rung: Omit<LadderRung, 'facts'>, phase: Phase): NetStatus {
  const unpowered = [rung.diode, rung.resistance].filter((r) => r !== null && !r.isOld);
  if (rung.shorted >= clearShort || unpowered.some((r) => r?.isShort)) return 'shorted';
  const { seen } = rung.phases[phase];
  const finding = seen && !seen.isOld ? seen.finding : null;
  if (finding === 'missing' && rung.phases[phase].expected) return 'missing';
  if (finding === 'low' || finding === 'swinging' || unpowered.some((r) => r?.against?.isTelling)) return 'odd';
  if (finding !== null || unpowered.length > 0) return 'good';
  return 'unknown';
}

/** What was read at a rail, newest kind first; empty where nothing was. */
export function sayRead(rung: Omit<LadderRung, 'facts'>, phase: Phase, when: 'now' | 'before'): string {
  return [rung.phases[phase].seen, rung.diode, rung.resistance]
    .flatMap((r) => {
      if (!r) return [];
      const of = when === 'now' ? (r.isOld ? null : r) : r.isOld ? r : r.was;
      return of ? [sayMeasured(of)] : [];
    })
    .join(', ');
}

/** Reading of a rail in a mode, as far as there is one. */
export function readingIn(rung: LadderRung, mode: ReadingMode, phase: Phase): RungReading | null {
  return mode === 'voltage' ? rung.phases[phase].seen : mode === 'diode' ? rung.diode : rung.resistance;
}

/** The next rung that has no reading in this mode yet, below the one that was just read; the first one above it else. */
export function nextOpen(rungs: readonly LadderRung[], from: string, mode: ReadingMode, phase: Phase): string | null {
  const at = rungs.findIndex((r) => r.id === from);
  const inTurn = [...rungs.slice(at + 1), ...rungs.slice(0, Math.max(0, at))];
  const isOpen = (r: LadderRung): boolean =>
    readingIn(r, mode, phase) === null &&
    (mode !== 'voltage' || (r.phases[phase].expected && r.phases[phase].implied === null));
  return inTurn.find(isOpen)?.id ?? null;
}
