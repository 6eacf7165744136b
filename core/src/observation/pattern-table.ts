import type { PerCircuit } from '../inference/index.ts';
import { LRUCache } from 'lru-cache';
import { circuitIds, patternIds, patternTypes, unrecognised, type PatternId } from '../catalogue/index.ts';
import { baseRates, circuitIndex } from '../hypotheses/index.ts';
import { type RunContext } from '../shape/index.ts';
import tables from './patterns.json';

/** What of a run decides which shares of causes hold for its pattern. */
export interface PatternContext {
  feed: RunContext['feed'];
  deviceClass: string;
  family: string;
  /** Whether repetitions lie before or after the press, or are the feed's own voltage; null where there are none. */
  phase: 'before' | 'after' | 'feed' | null;
  /** What the run asks: a start, a rest (nothing was pressed), or a voltage alone. */
  asks: 'start' | 'rest' | 'voltage';
}

interface Row {
  pattern: string;
  when?: { feed?: string[]; class?: string[]; family?: string[]; phase?: string[] };
  /** Share of confirmed causes among devices that showed it, in per cent. */
  suspects?: Readonly<Partial<Record<string, number>>>;
  /** How often a device with this circuit at fault still shows this healthy pattern. */
  consistent?: Readonly<Partial<Record<string, number>>>;
  others?: number;
}

const rows = tables.rows as unknown as Row[];
const kept = new LRUCache<string, Record<RunOutcome, PerCircuit>>({ max: 500 });

/** What a run shows: a pattern, or nothing, since it was not made: the fault shows itself in another kind of run. */
type RunOutcome = PatternId | 'elsewhere';

/**
 * How often a device with a circuit at fault shows each pattern, in this kind of run. Practitioners know the shares of
 * causes among devices that showed a pattern; the probability of the pattern given the cause is that share over the cause's
 * base rate (Bayes), so that one run under base rates gives back exactly the shares. What is left of a cause is the runs
 * in which it does not show.
 *
 * @param context feed, class of device and setup that decide which shares hold
 * @returns by outcome, one probability a circuit; sums to 1 over the outcomes for every circuit
 */
export function patternTable(context: PatternContext): Record<RunOutcome, PerCircuit> {
  const key = JSON.stringify(context);
  let table = kept.get(key);
  if (!table) kept.set(key, (table = make(context)));
  return table;
}

/** The row that fits best: the most conditions met wins over the general one. */
function rowFor(pattern: PatternId, context: PatternContext): Row | null {
  let best: { row: Row; met: number } | null = null;
  for (const row of rows) {
    if (row.pattern !== pattern) continue;
    const when = row.when ?? {};
    const wanted: [string[] | undefined, string | null][] = [
      [when.feed, context.feed],
      [when.class, context.deviceClass],
      [when.family, context.family],
      [when.phase, context.phase],
    ];
    const asked = wanted.filter(([list]) => list !== undefined);
    if (asked.some(([list, value]) => !list?.includes(value ?? ''))) continue;
    // What is known of a class of device says more than what is known of a feed.
    const met = asked.length + (when.class ? 0.5 : 0);
    if (best === null || met > best.met) best = { row, met };
  }
  return best?.row ?? null;
}

function make(context: PatternContext): Record<RunOutcome, PerCircuit> {
  const base = baseRates();
  const [none, unmodelled] = [circuitIndex('none'), circuitIndex('unmodelled')];
  const healthy = healthyOf(context);
  const failing = patternIds.filter((id) => patternTypes[id].healthyWhen === undefined);
  const relative = failing.map((id) => {
    const row = rowFor(id, context);
    // Shares among devices of a class are shares over the base rates of that class, which the prior has already.
    const rates = row?.when?.class ? baseRates(context.deviceClass) : base;
    return shares(row, rates, none).map((share, k) => share / rates[k]);
  });
  const looksHealthy = circuitIds.map((_, k) =>
    Math.min(
      tables.maxHealthy,
      healthy.reduce((sum, { p }) => sum + p[k], 0),
    ),
  );
  // One scale for all, so that the odds between circuits stay what the shares say and none exceeds 1.
  const scale = Math.min(
    ...circuitIds.map((_, k) => (1 - tables.slip - looksHealthy[k]) / relative.reduce((sum, row) => sum + row[k], 0)),
  );
  const out = Object.fromEntries(
    patternIds.map((id) => [id, circuitIds.map(() => tables.slip / patternIds.length)]),
  ) as Record<RunOutcome, number[]>;
  failing.forEach((id, w) => (out[id] = out[id].map((x, k) => x * scale + scale * relative[w][k])));
  for (const { id, p } of healthy) out[id] = out[id].map((x, k) => x * scale + (1 - tables.slip) * p[k]);
  // The unknown shows what nobody recognises by its share, and of everything else as much as any known cause on the average.
  for (const id of patternIds) {
    const any = out[id].reduce((sum, p, k) => sum + (k === unmodelled || k === none ? 0 : p * base[k]), 0);
    if (id !== unrecognised) out[id][unmodelled] = tables.unmodelledShows * any;
  }
  const shown = patternIds.reduce((sum, id) => sum + (id === unrecognised ? 0 : out[id][unmodelled]), 0);
  const most = Math.min(1, (1 - out.unrecognised[unmodelled]) / Math.max(shown, 1e-9));
  for (const id of patternIds) if (id !== unrecognised) out[id][unmodelled] *= most;
  out.elsewhere = circuitIds.map((_, k) => Math.max(0, 1 - patternIds.reduce((sum, id) => sum + out[id][k], 0)));
  return out;
}

/** Healthy patterns that this kind of run can show, each with how often it does by circuit. */
function healthyOf(context: PatternContext): { id: PatternId; p: PerCircuit }[] {
  const ids = patternIds.filter((id) => patternTypes[id].healthyWhen === context.asks);
  return ids.map((id) => {
    const row = rowFor(id, context);
    const p = circuitIds.map((c) => row?.consistent?.[c] ?? row?.others ?? tables.unlisted);
    return { id, p: p.map((x) => (tables.maxHealthy * x) / ids.length) };
  });
}

/**
 * Shares of causes: what is not named shares the rest by its base rate. The named ones stand further apart than a
 * practitioner says (`sharpness` above 1): whoever writes shares of causes down is more even-handed than the benches are.
 */
function shares(row: Row | null, base: PerCircuit, none: number): PerCircuit {
  const suspects = sharpened(row?.suspects ?? {});
  const named = Object.values(suspects).reduce<number>((sum, x) => sum + (x ?? 0), 0) / 100;
  const unnamed = circuitIds.reduce((sum, id, k) => sum + (id in suspects || k === none ? 0 : base[k]), 0);
  const rest = Math.max(tables.minRest, 1 - named) / Math.max(unnamed, 1e-9);
  return circuitIds.map((id, k) =>
    id in suspects ? (suspects[id] ?? 0) / 100 : (k === none ? tables.noneOfRest : 1) * rest * base[k],
  );
}

/** The same sum, with every share to the power of the sharpness before. */
function sharpened(suspects: NonNullable<Row['suspects']>): Record<string, number> {
  const said = Object.entries(suspects).map(([id, x]) => [id, x ?? 0] as const);
  const sum = said.reduce((total, [, x]) => total + x, 0);
  const raised = said.reduce((total, [, x]) => total + x ** tables.sharpness, 0);
  const apart = said.map(
    ([id, x]) => [id, Math.max((sum * x ** tables.sharpness) / raised, tables.minOfShare * x)] as const,
  );
  const all = apart.reduce((total, [, x]) => total + x, 0);
  return Object.fromEntries(apart.map(([id, x]) => [id, (sum * x) / all]));
}
