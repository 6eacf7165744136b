import { sayCalibration } from '@umbral/core';
import type { BenchInstruments, CalibrationRow, KnownInstrument } from '@/server/edges/recorder/instruments';

/** An instrument as the settings show it. */
export interface InstrumentView {
  key: string;
  version: number;
  /** Null for the bench beside the database. */
  benchId: number | null;
  name: string;
  kind: KnownInstrument['spec']['kind'];
  simulated: boolean;
  /** Where it is reached, in words. */
  where: string;
  speaks: string;
  transport: KnownInstrument['spec']['transport'];
  dialect: string;
  /** What its calibrations say, current first; empty where it was never calibrated. */
  corrected: string[];
  history: { id: number; says: string }[];
}

export interface SettingsViewData {
  instruments: InstrumentView[];
  dialects: BenchInstruments['dialects'];
  problems: string[];
  /** Benches with recorders of their own. */
  benches: { id: number; name: string; isThere: boolean }[];
}

function whereWords({ transport }: KnownInstrument['spec']): string {
  if (transport.kind === 'simulated') return 'simulated';
  if (transport.kind === 'camera') return 'its display, by a camera';
  if (transport.kind === 'browser') return 'plugged into the computer of a page';
  return transport.kind === 'tcp'
    ? `${transport.host}, port ${transport.port}`
    : `${transport.path} at ${transport.baudRate} baud`;
}

function calibrationWords(c: CalibrationRow): string {
  const day = c.made_at.toISOString().slice(0, 10);
  const against = c.against ? `, against ${c.against}` : '';
  return `${c.quantity} ${sayCalibration(c, c.quantity)} (${day}${against}${c.technician ? `, ${c.technician}` : ''})`;
}

export function settingsViewOf(
  { instruments, dialects, problems }: BenchInstruments,
  benches: SettingsViewData['benches'],
): SettingsViewData {
  return {
    benches,
    dialects,
    problems,
    instruments: instruments.map(({ spec, version, benchId, calibrations }) => {
      const last = (quantity: string) => calibrations.find((c) => c.quantity === quantity);
      return {
        key: spec.key,
        version,
        benchId,
        name: spec.name,
        kind: spec.kind,
        simulated: spec.simulated,
        where: [benches.find((b) => b.id === benchId)?.name, whereWords(spec)].filter(Boolean).join(': '),
        speaks:
          dialects.find((d) => d.id === spec.dialect)?.name ??
          (spec.transport.kind === 'camera' ? 'digits' : spec.dialect),
        transport: spec.transport,
        dialect: spec.dialect,
        corrected: [last('current'), last('voltage')].flatMap((c) => (c ? [calibrationWords(c)] : [])),
        history: calibrations.map((c) => ({ id: c.id, says: calibrationWords(c) })),
      };
    }),
  };
}
