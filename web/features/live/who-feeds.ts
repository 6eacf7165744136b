import { formatPower, formatVoltage } from '@umbral/core/words';

/** What an instrument measures now. Volts, amperes. */
export interface Feeding {
  name: string;
  kind: 'supply' | 'meter' | 'multimeter';
  volts: number | null;
  amps: number | null;
}

/** Below this nothing is fed, watts: the standing draw of instruments and leads. */
const minW = 0.02;
/** From this voltage on a source stands at the device, whatever it takes. */
const minV = 1;
/** With this share one of them feeds nearly alone. */
const nearlyAll = 0.95;

/** What stands at a charger, as far as a meter reads it: the highest, V; null where none reads a source. */
export function chargerVolts(all: readonly Feeding[]): number | null {
  const volts = all.flatMap((f) => (f.kind === 'meter' && (f.volts ?? 0) >= minV ? (f.volts ?? 0) : []));
  return volts.length === 0 ? null : Math.max(...volts);
}

const placeOf = ({ kind, name }: Feeding): string => `${kind === 'supply' ? 'the supply' : 'the USB port'} (${name})`;

/**
 * Where the device takes its power from, when it is connected to more than one source.
 *
 * @returns a sentence; null while there is nothing to tell, or only one instrument measures
 */
export function whoFeeds(all: readonly Feeding[]): string | null {
  const measured = all.filter((f) => f.volts !== null && f.amps !== null);
  if (measured.length < 2) return null;
  const powers = measured.map((f) => ({ f, watts: Math.max(0, (f.volts ?? 0) * (f.amps ?? 0)) }));
  const total = powers.reduce((sum, p) => sum + p.watts, 0);
  if (total < minW) {
    const standing = measured.filter((f) => (f.volts ?? 0) >= minV).sort((a, b) => (b.volts ?? 0) - (a.volts ?? 0));
    if (standing.length === 0) return 'Nothing powers the device now.';
    const where = standing.map((f) => `${placeOf(f)} ${formatVoltage(f.volts ?? 0)}`).join(', ');
    return `The device draws almost nothing. Available: ${where}.`;
  }
  const [most, next] = [...powers].sort((a, b) => b.watts - a.watts);
  if (most.watts >= nearlyAll * total)
    return `Powered by ${placeOf(most.f)}: ${formatPower(most.watts)}; ${placeOf(next.f)} supplies almost nothing.`;
  const shares = powers
    .filter((p) => p.watts >= minW)
    .sort((a, b) => b.watts - a.watts)
    .map((p) => `${placeOf(p.f)} ${formatPower(p.watts)} (${Math.round((100 * p.watts) / total)} %)`);
  return `Powered from several sources at once: ${shares.join(', ')}.`;
}
