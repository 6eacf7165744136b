'use client';

import { notRecording, whyNotArm, whyNotSwitch } from './why-not';
import { GatedButton } from '@/ui/kit/gated-button';
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
      <GatedButton
        type="button"
        className={`button ${isRecording ? '' : 'button-main'}`}
        disabled={takes.isKeeping}
        blocked={station.health === 'lost' ? 'Not connected' : null}
        onClick={on.record}
      >
        {isRecording ? 'Stop and save' : 'Record'} <kbd>r</kbd>
      </GatedButton>
      {station.kind === 'supply' && (
        <>
          <GatedButton type="button" className="button" blocked={whyNotArm(station)} onClick={on.arm}>
            {isMine ? 'Armed' : 'Arm'} <kbd>a</kbd>
          </GatedButton>
          <GatedButton
            type="button"
            className={`button ${isMine && !station.outputOn ? 'button-main' : ''}`}
            blocked={whyNotSwitch(station, isMine)}
            onClick={on.output}
          >
            {station.outputOn ? 'Off' : 'On'} <kbd>o</kbd>
          </GatedButton>
        </>
      )}
      <GatedButton type="button" className="button" blocked={isRecording ? null : notRecording} onClick={on.press}>
        Power pressed <kbd>p</kbd>
      </GatedButton>
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

/** What an output gives, for as long as it is on: in sight however far the page is scrolled, with the way to switch it off. */
export function OutputOn({ says, onOff }: { says: string; onOff: () => void }) {
  return (
    <div className="sticky top-[calc(0.5rem+var(--alarm,0px))] z-40 flex flex-wrap items-center gap-x-3 gap-y-1 rounded-xl bg-decide px-4 py-2 text-xl font-bold text-paper">
      <p role="status">
        Output on: {says}. <span className="ml-3 font-medium">Escape switches it off</span>
      </p>
      <button type="button" className="button ml-auto" onClick={onOff}>
        Off
      </button>
    </div>
  );
}

export function OutputBanner({ station, onOff }: { station: StationState; onOff: () => void }) {
  if (!station.outputOn) return null;
  const { armed, name } = station;
  const says = armed ? `${formatVoltage(armed.volts)}, at most ${formatCurrent(armed.limitA)}` : name;
  return <OutputOn says={says} onOff={onOff} />;
}

/** Recordings that were stopped and not kept as runs. */
export function NotYetRuns({ left, takes }: { left: LiveView['left']; takes: Pick<Takes, 'isKeeping' | 'keepAll'> }) {
  if (left.length === 0) return null;
  return (
    <section aria-label="Recordings not saved as runs" className="card">
      <h2 className="text-lg">Not saved as a run yet</h2>
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
