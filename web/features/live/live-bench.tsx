'use client';

import type { BandStep } from '@umbral/core';
import { formatCurrent, formatPercent, formatPower, formatVoltage } from '@umbral/core/words';
import { useRouter } from 'next/navigation';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { StationState } from '@umbral/instruments';
import { SetupFields } from '@/features/record/run-form';
import { type SetupForm } from '@/features/record/setup-form';
import { Hazard, Likely } from '@/ui/parts';
import { useKey } from '@/ui/keys';
import type { FormingCall } from './acts';
import { Hands } from './hands';
import { LiveSilhouette } from './live-silhouette';
import { useAct, useRecorder } from './use-recorder';
import { isSettled } from './settled';

export interface LiveView {
  jobId: number;
  title: string;
  form: SetupForm;
  actions: { key: string; words: string }[];
  bands: Record<SetupForm['feed'], BandStep[]>;
  fullA: Record<SetupForm['feed'], number>;
  models: { id: string; name: string }[];
  profile: string | null;
  left: { id: number; says: string }[];
}

const healthWords = {
  connecting: 'being looked for',
  measuring: 'measures',
  troubled: 'answers badly',
  lost: 'lost',
} as const;
const callEveryMs = 1500;

/** Recording: instruments and setup, the output, the run as it grows, and the call that forms meanwhile. */
export function LiveBench({ view }: { view: LiveView }) {
  const router = useRouter();
  const act = useAct();
  const { states, isHeard, shapeOf } = useRecorder();
  const [me] = useState(() => crypto.randomUUID());
  const [chosenKey, setChosenKey] = useState<string | null>(null);
  const [form, setForm] = useState(view.form);
  const [pressed, setPressed] = useState<{ recording: number; at: number } | null>(null);
  const [isKeeping, setKeeping] = useState(false);
  const wanted = form.feed === 'usb-c' ? 'meter' : 'supply';
  const station =
    states?.find((s) => s.key === chosenKey) ?? states?.find((s) => s.kind === wanted) ?? states?.[0] ?? null;
  const recording = station?.recording ?? null;
  const isMine = station?.armed !== null && station?.armed?.by === me;
  const setup = useMemo(
    () => ({ ...form, instrument: station?.kind === 'meter' ? 'usb-c-meter' : 'bench-supply' }),
    [form, station?.kind],
  );

  // The output goes off five seconds after this window falls silent.
  useEffect(() => {
    if (!isMine) return;
    const timer = setInterval(() => void act('alive', { by: me }, true), 1500);
    return () => clearInterval(timer);
  }, [isMine, act, me]);
  const instrument = station?.key ?? '';
  /** Every supply: whoever wants it off does not look first which one is chosen. */
  const off = (): void => {
    for (const s of states ?? [])
      if (s.kind === 'supply' && (s.armed || s.outputOn !== false))
        void act('output', { instrument: s.key, on: false, by: me });
  };
  const choose = (s: StationState): void => {
    setChosenKey(s.key);
    const fits = s.kind === 'meter' ? form.feed !== 'battery' : form.feed !== 'usb-c';
    if (!fits) setForm({ ...form, feed: s.kind === 'meter' ? 'usb-c' : 'battery' });
  };
  const arm = (): void => void act('arm', { jobId: view.jobId, instrument, setup, by: me });
  const toggleOutput = (): void => (station?.outputOn ? off() : void act('output', { instrument, on: true, by: me }));
  const start = (): void => void act('record', { jobId: view.jobId, instrument, setup });
  const keep = async (id: number): Promise<void> => {
    setKeeping(true);
    const kept = await act<{ key: string }>('keep', { recording: id });
    if (kept) router.push(`/jobs/${view.jobId}?run=${encodeURIComponent(kept.key)}`);
    else setKeeping(false);
  };
  const stop = async (): Promise<void> => {
    if (station?.kind === 'supply' && station.outputOn) await act('output', { instrument, on: false, by: me });
    const stopped = await act<{ recording: number | null }>('stop', { instrument });
    if (stopped?.recording) await keep(stopped.recording);
  };
  const press = (): void => {
    if (!recording) return;
    setPressed({ recording: recording.id, at: shapeOf(recording.id)?.end ?? recording.seconds });
    void act('mark', { instrument, event: 'prompt' });
    if (station?.simulated) void act('hand', { does: 'press' });
  };
  useKey('r', 'start recording, or stop and keep the run', () => (recording ? void stop() : start()));
  useKey('a', 'arm the output as the setup says', arm);
  useKey('o', 'output on or off', toggleOutput);
  useKey('p', 'mark: power pressed', press);
  useKey('m', 'mark this instant', () => recording && void act('mark', { instrument, event: 'note' }));
  const offNow = useRef(off);
  useEffect(() => {
    offNow.current = off;
  });
  // Off must work whatever has the focus.
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      if (event.key === 'Escape') offNow.current();
    };
    window.addEventListener('keydown', onKey, true);
    return () => window.removeEventListener('keydown', onKey, true);
  }, []);

  if (states === null)
    return (
      <p className="card mt-3">
        {isHeard ? 'Looking for the instruments …' : 'The recorder does not answer; it is looked for again.'}
      </p>
    );
  if (!station)
    return (
      <p className="card mt-3">
        No instrument is known here. List yours in <code>instruments.json</code> in the data folder, as the README says,
        and start again.
      </p>
    );
  return (
    <div className="mt-3 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_344px]">
      <div className="grid min-w-0 content-start gap-3">
        {!isHeard && (
          <Hazard>The recorder does not answer; it is being started again. Outputs go off by themselves.</Hazard>
        )}
        {station.outputOn && (
          <p role="status" className="rounded-xl bg-decide px-4 py-2 text-xl font-bold text-paper">
            Output on:{' '}
            {station.armed
              ? `${formatVoltage(station.armed.volts)}, at most ${formatCurrent(station.armed.limitA)}`
              : station.name}
            <span className="ml-3 font-medium">Escape switches it off</span>
          </p>
        )}
        <Readouts station={station} />
        <div className="card">
          <LiveSilhouette
            shape={shapeOf(recording?.id)}
            fullA={view.fullA[form.feed]}
            band={view.bands[form.feed]}
            pressedAt={pressed && pressed.recording === recording?.id ? pressed.at : null}
          />
          <p className="mt-2 flex flex-wrap items-center gap-2">
            <button
              type="button"
              className={`button ${recording ? '' : 'button-main'}`}
              disabled={isKeeping || station.health === 'lost'}
              onClick={() => (recording ? void stop() : start())}
            >
              {recording ? 'Stop and keep' : 'Record'} <kbd>r</kbd>
            </button>
            {station.kind === 'supply' && (
              <>
                <button type="button" className="button" disabled={station.outputOn === true} onClick={arm}>
                  {isMine ? 'Armed' : 'Arm'} <kbd>a</kbd>
                </button>
                <button
                  type="button"
                  className={`button ${isMine && !station.outputOn ? 'button-main' : ''}`}
                  disabled={!isMine && !station.outputOn}
                  onClick={toggleOutput}
                >
                  {station.outputOn ? 'Off' : 'On'} <kbd>o</kbd>
                </button>
              </>
            )}
            <button type="button" className="button" disabled={!recording} onClick={press}>
              Power pressed <kbd>p</kbd>
            </button>
            <span className="text-sm text-muted" role="status">
              {recording
                ? `recording, ${Math.round(recording.seconds)} s, ${recording.rows.toLocaleString('en')} samples`
                : 'not recording'}
            </span>
          </p>
          {station.armed?.clamped && <p className="mt-1 text-sm text-decide">{station.armed.clamped}</p>}
          {recording?.problem && <Hazard>{recording.problem}. What comes is kept here until it can be written.</Hazard>}
        </div>
        <details className="card" open={!recording}>
          <summary className="text-lg font-bold">Setup</summary>
          <div className="mt-2">
            <SetupFields form={form} set={(change) => setForm({ ...form, ...change })} actions={view.actions} />
          </div>
        </details>
      </div>
      <div className="grid min-w-0 content-start gap-3">
        <Forming key={recording?.id ?? 'none'} recording={recording?.id ?? null} />
        <section aria-label="Instruments" className="card">
          <h2 className="text-lg">Instruments</h2>
          <ul className="mt-1 grid gap-1.5">
            {states.map((s) => (
              <li key={s.key}>
                <button
                  type="button"
                  className="button w-full flex-col items-start justify-center gap-0 py-1.5 text-left"
                  aria-pressed={s.key === station.key}
                  onClick={() => choose(s)}
                >
                  <span className={s.key === station.key ? 'font-bold' : 'font-medium'}>{s.name}</span>
                  <span className="text-sm font-normal text-muted">
                    {healthWords[s.health]}
                    {s.health === 'measuring' && s.rateHz > 0 && `, ${Math.round(s.rateHz)} a second`}
                    {s.recording && ', recording'}
                  </span>
                </button>
                {s.why && <p className="text-sm text-decide">{s.why}</p>}
              </li>
            ))}
          </ul>
        </section>
        {station.simulated && <Hands models={view.models} own={view.profile} />}
        {view.left.length > 0 && (
          <section aria-label="Recordings that are no runs yet" className="card">
            <h2 className="text-lg">Not yet a run</h2>
            <ul className="mt-1 grid gap-1.5 text-sm">
              {view.left.map((l) => (
                <li key={l.id} className="flex items-center gap-2">
                  <span className="mr-auto">{l.says}</span>
                  <button type="button" className="button" disabled={isKeeping} onClick={() => void keep(l.id)}>
                    Keep
                  </button>
                </li>
              ))}
            </ul>
          </section>
        )}
      </div>
    </div>
  );
}

const modeWords = { cv: 'holds its voltage', cc: 'at its limit', off: 'off' } as const;

/** Volts, amperes and watts, to be read from a metre away. */
function Readouts({ station }: { station: StationState }) {
  const { volts, amps, mode } = station;
  const isLost = station.health === 'lost' || station.health === 'connecting';
  const watts = volts === null || amps === null ? null : volts * amps;
  const big = 'text-4xl font-bold sm:text-5xl';
  return (
    <dl className={`card grid grid-cols-2 gap-x-6 gap-y-2 sm:grid-cols-4 ${isLost ? 'opacity-50' : ''}`}>
      <div>
        <dt className="text-muted">Current</dt>
        <dd className={big}>{formatCurrent(amps)}</dd>
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

/** Pattern and suspects as they stand so far, asked for again and again while it records. */
function Forming({ recording }: { recording: number | null }) {
  const act = useAct();
  const [calls, setCalls] = useState<FormingCall[]>([]);
  const call = calls.at(-1) ?? null;
  const settled = isSettled(calls);
  useEffect(() => {
    if (recording === null) return;
    let isOn = true;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const look = async (): Promise<void> => {
      const formed = await act<FormingCall>('call', { recording }, true);
      if (!isOn) return;
      if (formed?.pattern) setCalls((was) => [...was.slice(-5), formed]);
      timer = setTimeout(() => void look(), callEveryMs);
    };
    timer = setTimeout(() => void look(), callEveryMs);
    return () => {
      isOn = false;
      clearTimeout(timer);
    };
  }, [recording, act]);
  return (
    <section aria-label="The call so far" className="grid gap-2">
      <h2 className="text-[1.4rem] leading-tight">
        {call?.pattern?.name ?? (recording === null ? 'No call yet' : 'Too early to say')}
      </h2>
      <p className="text-sm text-muted" role="status">
        {settled
          ? 'Enough seen: more time would hardly change this. You can stop.'
          : call?.pattern
            ? `${formatPercent(call.pattern.p)} so far, still forming`
            : 'Output on or plug in, wait, press. The suspects appear while it starts.'}
      </p>
      {call && (
        <ol aria-label="Suspects so far" className="grid gap-1.5">
          {call.suspects.map((s) => (
            <li key={s.id}>
              <Likely p={s.p}>
                <p className="flex justify-between gap-2 px-3 py-1.5">
                  <span>
                    {s.name}
                    {s.target && <span className="text-[0.9rem] text-muted"> · {s.target}</span>}
                  </span>
                  <strong>{formatPercent(s.p)}</strong>
                </p>
              </Likely>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
