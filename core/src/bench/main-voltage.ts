import { parseQuantity } from '../quantity/index.ts';
import policy from './measuring.json';

const words: Record<string, number> = { one: 1, two: 2, three: 3, four: 4 };

/**
 * What the main system rail of a unit carries, as a person says it: a voltage, or so many cells in series.
 *
 * @param text `8.6 V`, `12`, `2 cells`, `three cells`; empty where nobody knows
 * @returns volts, null for nothing; or what was expected
 * @example parseMainVoltage('2 cells') // { ok: true, volts: 7.7 }
 */
export function parseMainVoltage(text: string): { ok: true; volts: number | null } | { ok: false; error: string } {
  const said = text.trim();
  if (said === '') return { ok: true, volts: null };
  const cells = /^(\w+)\s*cells?$/i.exec(said);
  if (cells) {
    const n = words[cells[1].toLowerCase()] ?? Number(cells[1]);
    return Number.isInteger(n) && n >= 1 && n <= policy.maxCells
      ? { ok: true, volts: Number((n * policy.cellV).toFixed(2)) }
      : { ok: false, error: `expected 1 to ${policy.maxCells} cells` };
  }
  const parsed = parseQuantity(said, 'voltage');
  if (!parsed.ok) return { ok: false, error: `${parsed.error}, or cells such as 2 cells` };
  return parsed.value > 0 && parsed.value <= policy.maxVolts
    ? { ok: true, volts: parsed.value }
    : { ok: false, error: `expected more than 0 and at most ${policy.maxVolts} V` };
}
