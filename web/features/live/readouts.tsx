import { formatCurrent, formatPower, formatVoltage } from '@umbral/core/words';
import type { StationState } from '@umbral/instruments';

const modeWords = { cv: 'constant voltage', cc: 'in current limit', off: 'off' } as const;

/** Volts, amperes and watts, to be read from a metre away. */
export function Readouts({ station }: { station: StationState }) {
  const { mode, resolutionA } = station;
  const isLost = station.health === 'lost' || station.health === 'connecting';
  // What stood there before contact was lost says nothing of now.
  const [volts, amps] = isLost ? [null, null] : [station.volts, station.amps];
  const watts = volts === null || amps === null ? null : volts * amps;
  const big = 'text-4xl font-bold whitespace-nowrap sm:text-5xl';
  return (
    <dl className={`card grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-4 ${isLost ? 'opacity-50' : ''}`}>
      <div>
        <dt className="text-muted">Current</dt>
        <dd className={big}>{formatCurrent(amps, resolutionA)}</dd>
      </div>
      <div>
        <dt className="text-muted">Voltage</dt>
        <dd className={`${big} text-volts`}>{volts === null ? '–' : formatVoltage(volts)}</dd>
      </div>
      <div>
        <dt className="text-muted">Power</dt>
        <dd className={big}>{watts === null ? '–' : formatPower(watts)}</dd>
      </div>
      <div>
        <dt className="text-muted">Mode</dt>
        <dd className={`pt-2 text-2xl font-bold ${mode === 'cc' ? 'text-decide' : ''}`}>
          {station.kind === 'meter' ? 'meter' : mode ? modeWords[mode] : '–'}
        </dd>
      </div>
    </dl>
  );
}
