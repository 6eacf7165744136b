'use client';

import { formatCurrent, formatVoltage } from '@umbral/core/words';
import type { StationState } from '@umbral/instruments';
import type { useTakes } from './use-takes';
import type { LiveView } from './view';

type Takes = ReturnType<typeof useTakes>;

/** The buttons of a recording and of the output, with their keys. */
export function Controls({
  station,
  recording,
  takes,
  isMine,
  on,
}: {
  station: StationState;
  /** Of the chosen instrument, for this job. */
  recording: StationState['recording'];
  takes: Pick<Takes, 'ours' | 'isKeeping'>;
  /** The output was armed from here. */
  isMine: boolean;
  on: Record<'record' | 'arm' | 'output' | 'press', () => void>;
}) {
  const isRecording = takes.ours.length > 0;
  return (
    <p className="mt-2 flex flex-wrap items-center gap-2">
      <button
        type="button"
        className={`button ${isRecording ? '' : 'button-main'}`}
        disabled={takes.isKeeping || station.health === 'lost'}
        onClick={on.record}
      >
        {isRecording ? 'Stop and keep' : 'Record'} <kbd>r</kbd>
      </button>
      {station.kind === 'supply' && (
        <>
          <button type="button" className="button" disabled={station.outputOn === true} onClick={on.arm}>
            {isMine ? 'Armed' : 'Arm'} <kbd>a</kbd>
          </button>
          <button
            type="button"
            className={`button ${isMine && !station.outputOn ? 'button-main' : ''}`}
            disabled={!isMine && !station.outputOn}
            onClick={on.output}
          >
            {station.outputOn ? 'Off' : 'On'} <kbd>o</kbd>
          </button>
        </>
      )}
      <button type="button" className="button" disabled={!isRecording} onClick={on.press}>
        Power pressed <kbd>p</kbd>
      </button>
      <span className="text-sm text-muted" role="status">
        {recording
          ? `recording, ${Math.round(recording.seconds)} s, ${recording.rows.toLocaleString('en')} samples`
          : 'not recording'}
        {recording?.stopAfterS && `, stops at ${recording.stopAfterS} s`}
        {takes.ours.length > 1 && `, ${takes.ours.length} instruments`}
      </span>
    </p>
  );
}

/** What the output gives, for as long as it is on. */
export function OutputBanner({ station }: { station: StationState }) {
  if (!station.outputOn) return null;
  return (
    <p role="status" className="rounded-xl bg-decide px-4 py-2 text-xl font-bold text-paper">
      Output on:{' '}
      {station.armed
        ? `${formatVoltage(station.armed.volts)}, at most ${formatCurrent(station.armed.limitA)}`
        : station.name}
      <span className="ml-3 font-medium">Escape switches it off</span>
    </p>
  );
}

/** Recordings that were stopped and not kept as runs. */
export function NotYetRuns({ left, takes }: { left: LiveView['left']; takes: Pick<Takes, 'isKeeping' | 'keepAll'> }) {
  if (left.length === 0) return null;
  return (
    <section aria-label="Recordings that are no runs yet" className="card">
      <h2 className="text-lg">Not yet a run</h2>
      <ul className="mt-1 grid gap-1.5 text-sm">
        {left.map((l) => (
          <li key={l.id} className="flex items-center gap-2">
            <span className="mr-auto">{l.says}</span>
            <button
              type="button"
              className="button"
              disabled={takes.isKeeping}
              onClick={() => void takes.keepAll([l.id])}
            >
              Keep
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
