'use client';

import type { MarkerEvent } from '@umbral/core';
import { formatCurrent, formatVoltage } from '@umbral/core/words';
import type { StationState } from '@umbral/instruments';
import { useState } from 'react';
import type { SetupForm } from '@/features/record/setup-form';
import { useKey } from '@/ui/keys';
import { Hazard } from '@/ui/parts';
import { armChecks } from './arm-checks';
import { ArmDialog } from './arm-dialog';
import { Forming, useForming } from './forming';
import { BenchOperator } from './bench-operator';
import { InstrumentList } from './instrument-list';
import { Isolate } from './isolate';
import { LiveSilhouette } from './live-silhouette';
import { Marking } from './marking';
import { pedalActions, usePedal } from './pedal';
import { Readouts } from './readouts';
import { SetupChoice, stopRules, type StopRule } from './setup-choice';
import { useCues, useSound } from './sound';
import { useOutput } from './use-output';
import { RecorderNotes } from './recorder-notes';
import { useAct, useRecorder } from './use-recorder';
import { setupFor, useTakes } from './use-takes';
import type { LiveView } from './view';
import { whoFeeds } from './who-feeds';

/** Recording: instruments and setup, the output, the run as it grows, and the call that forms meanwhile. */
export function LiveBench({ view }: { view: LiveView }) {
  const { states, isHeard, health, shapeOf } = useRecorder();
  if (states === null)
    return (
      <p className="card mt-3">
        {isHeard ? 'Looking for the instruments …' : 'The recorder does not answer; it is looked for again.'}
      </p>
    );
  if (states.length === 0)
    return (
      <p className="card mt-3">
        No instrument is known here. Add yours in the{' '}
        <a href="/settings" className="underline">
          settings
        </a>
        .
      </p>
    );
  return <Bench view={view} states={states} isHeard={isHeard} health={health} shapeOf={shapeOf} />;
}

function Bench({
  view,
  states,
  isHeard,
  health,
  shapeOf,
}: { view: LiveView; states: StationState[] } & Pick<
  ReturnType<typeof useRecorder>,
  'isHeard' | 'health' | 'shapeOf'
>) {
  const act = useAct();
  const { me, off } = useOutput(act, states);
  const [chosenKey, setChosenKey] = useState<string | null>(null);
  const [alongKeys, setAlongKeys] = useState<ReadonlySet<string>>(new Set());
  const [form, setForm] = useState(view.form);
  const [rule, setRule] = useState<StopRule>('hand');
  const [isArming, setArming] = useState(false);
  const [shown, show] = useState<string | null>(null);
  const [pressed, setPressed] = useState<{ recording: number; at: number } | null>(null);
  const wanted = form.feed === 'usb-c' ? 'meter' : 'supply';
  const station = states.find((s) => s.key === chosenKey) ?? states.find((s) => s.kind === wanted) ?? states[0];
  const takes = useTakes(view.jobId, states, station.key);
  const recording = station.recording?.jobId === view.jobId ? station.recording : null;
  const isRecording = takes.ours.length > 0;
  const isMine = station.armed?.by === me;
  const instrument = station.key;
  const setup = setupFor(form, station.kind);
  const pressedAt = pressed && pressed.recording === recording?.id ? pressed.at : null;

  const choose = (s: StationState): void => {
    setChosenKey(s.key);
    const fits = s.kind === 'meter' ? form.feed !== 'battery' : form.feed !== 'usb-c';
    if (!fits) setForm({ ...form, feed: s.kind === 'meter' ? 'usb-c' : 'battery' });
  };
  const takeForm = (to: SetupForm): void => {
    setForm(to);
    if ((to.feed === 'usb-c') !== (form.feed === 'usb-c')) setChosenKey(null);
  };
  const arm = (): void => {
    setArming(false);
    void act('arm', { jobId: view.jobId, instrument, setup, by: me });
  };
  const toggleOutput = (): void => void (station.outputOn ? off() : act('output', { instrument, on: true, by: me }));
  const start = (): void => {
    const along = states.filter((s) => alongKeys.has(s.key) && s.key !== station.key);
    void takes.start([station, ...along], form, stopRules[rule].seconds);
  };
  const stop = (): void => void takes.stop(off);
  const toggleRecording = (): void => (isRecording ? stop() : start());
  const mark = (event: MarkerEvent, note?: string, agoS?: number): void => takes.mark(event, note, agoS);
  const press = (): void => {
    if (!isRecording) return;
    if (recording) setPressed({ recording: recording.id, at: shapeOf(recording.id)?.end ?? recording.seconds });
    mark('prompt');
    if (station.simulated) void act('operate', { does: 'press' });
  };
  const askToArm = (): void => {
    if (station.kind === 'supply' && !station.outputOn) setArming(true);
  };
  const { call, settled } = useForming(recording?.id ?? null, () => rule === 'enough' && stop());
  useCues(recording ? { mode: station.mode, pattern: call?.pattern ?? null } : null);
  useKey('r', 'start recording, or stop and keep the run', toggleRecording);
  useKey('a', 'arm the output as the setup says', askToArm);
  useKey('o', 'output on or off', toggleOutput);
  useKey('p', 'mark: power pressed', press);
  useKey('s', 'what the next suspect would draw, behind the run', () => {
    const ids = (call?.suspects ?? []).filter((s) => s.draws.length > 0).map((s) => s.id as string);
    show(ids[shown === null ? 0 : ids.indexOf(shown) + 1] ?? null);
  });
  const sound = useSound();
  useKey('q', 'sounds on or off', () => sound.setOn(!sound.isOn));
  const pedal = usePedal({ press, mark: () => mark('note'), record: toggleRecording, output: toggleOutput });
  const suspect = call?.suspects.find((s) => s.id === shown) ?? null;
  const fed = whoFeeds(
    states.filter((s) => s.health === 'measuring' && (s.key === station.key || s.simulated || alongKeys.has(s.key))),
  );
  return (
    <div className="mt-3 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_344px]">
      <div className="grid min-w-0 content-start gap-3">
        <RecorderNotes health={health} />
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
        {fed && (
          <p className="px-1" role="status" aria-label="Who feeds the device">
            {fed}
          </p>
        )}
        <div className="card">
          <LiveSilhouette
            shape={shapeOf(recording?.id)}
            fullA={view.fullA[form.feed]}
            band={view.bands[form.feed]}
            predicted={suspect && suspect.draws.length > 0 ? suspect : null}
            pressedAt={pressedAt}
            startedAt={recording?.startedAt ?? null}
          />
          <p className="mt-2 flex flex-wrap items-center gap-2">
            <button
              type="button"
              className={`button ${isRecording ? '' : 'button-main'}`}
              disabled={takes.isKeeping || station.health === 'lost'}
              onClick={toggleRecording}
            >
              {isRecording ? 'Stop and keep' : 'Record'} <kbd>r</kbd>
            </button>
            {station.kind === 'supply' && (
              <>
                <button type="button" className="button" disabled={station.outputOn === true} onClick={askToArm}>
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
            <button type="button" className="button" disabled={!isRecording} onClick={press}>
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
          <Marking isRecording={isRecording} parts={view.parts} mark={mark} />
          {station.armed?.clamped && <p className="mt-1 text-sm text-decide">{station.armed.clamped}</p>}
          {recording?.problem && <Hazard>{recording.problem}. What comes is kept here until it can be written.</Hazard>}
        </div>
        <SetupChoice view={view} form={form} setForm={takeForm} rule={rule} setRule={setRule} open={!isRecording} />
      </div>
      <div className="grid min-w-0 content-start gap-3">
        <Forming call={call} settled={settled} isRecording={isRecording} shown={shown} show={show} />
        <InstrumentList
          states={states}
          chosen={station.key}
          along={alongKeys}
          canChange={!isRecording}
          choose={choose}
          setAlong={(key, records) => {
            const next = new Set(alongKeys);
            if (records) next.add(key);
            else next.delete(key);
            setAlongKeys(next);
          }}
        />
        <p className="text-sm text-muted">
          Sounds {sound.isOn ? 'on' : 'off'} (<kbd>q</kbd>).{' '}
          {pedal.code ? `The pedal ${pedalActions[pedal.does]}.` : 'No foot pedal yet: set one up in Settings.'}
        </p>
        <Isolate
          parts={view.peripherals}
          isRecording={isRecording}
          amps={station.amps}
          mark={mark}
          hand={
            station.simulated
              ? (part, isOff) => void act('operate', { does: isOff ? 'take-off' : 'put-back', id: part.id }, true)
              : null
          }
        />
        {station.simulated && <BenchOperator jobId={view.jobId} models={view.models} own={view.profile} mark={mark} />}
        {view.left.length > 0 && (
          <section aria-label="Recordings that are no runs yet" className="card">
            <h2 className="text-lg">Not yet a run</h2>
            <ul className="mt-1 grid gap-1.5 text-sm">
              {view.left.map((l) => (
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
        )}
      </div>
      {isArming && (
        <ArmDialog
          checks={armChecks(setup, view.facts[setup.feed])}
          what={`${setup.setV}, ${setup.limitA}`}
          canSayBatteryOut={armChecks({ ...setup, battery: 'disconnected' }, view.facts[setup.feed]).every(
            (c) => c.tone !== 'stop',
          )}
          onBatteryOut={() => setForm({ ...form, battery: 'disconnected' })}
          onArm={arm}
          onClose={() => setArming(false)}
        />
      )}
    </div>
  );
}
