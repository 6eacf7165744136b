'use client';

import type { Marker, MarkerEvent } from '@umbral/core';
import type { StationState } from '@umbral/instruments';
import { useState } from 'react';
import type { SetupForm } from '@/features/record/setup-form';
import { useKey } from '@/ui/keys';
import { Hazard } from '@/ui/parts';
import { AddCamera } from '@/features/camera/add-camera';
import { CameraPanel } from '@/features/camera/camera-panel';
import { armChecks } from './arm-checks';
import { ArmDialog } from './arm-dialog';
import { Forming, useForming } from './forming';
import { Controls, NotYetRuns, OutputBanner } from './controls';
import { BenchOperator } from './bench-operator';
import { InstrumentList } from './instrument-list';
import { Isolate } from './isolate';
import { LiveSilhouette } from './live-silhouette';
import { Marking } from './marking';
import { pedalActions, usePedal } from '../../ui/kit/pedal';
import { Readouts } from './readouts';
import { SetupChoice, stopRules, type StopRule } from './setup-choice';
import { useSound } from '@/ui/sound';
import { useCues } from './sound';
import { useOutput } from './use-output';
import { RecorderNotes } from './recorder-notes';
import { useAct, useRecorder } from '@/ui/kit/use-recorder';
import { useStations } from './use-stations';
import { setupFor, useTakes } from './use-takes';
import type { LiveView } from './view';
import { chargerVolts, whoFeeds } from './who-feeds';

/** Recording: instruments and setup, the output, the run as it grows, and the call that forms meanwhile. */
export function LiveBench({ view }: { view: LiveView }) {
  const { states, isHeard, health, shapeOf } = useRecorder();
  if (states === null)
    return (
      <p className="card mt-3">
        {isHeard ? 'Looking for instruments …' : 'The recorder does not answer. Trying again.'}
      </p>
    );
  // A multimeter takes readings; it records nothing.
  const recording = states.filter((s) => s.kind !== 'multimeter');
  if (recording.length === 0)
    return (
      <p className="card mt-3">
        No instrument yet. Add one in the{' '}
        <a href="/settings" className="underline">
          settings
        </a>
        .
      </p>
    );
  return <Bench view={view} states={recording} isHeard={isHeard} health={health} shapeOf={shapeOf} />;
}

type Heard = Pick<ReturnType<typeof useRecorder>, 'isHeard' | 'health' | 'shapeOf'>;

function Bench({ view, states, isHeard, health, shapeOf }: { view: LiveView; states: StationState[] } & Heard) {
  const act = useAct();
  const output = useOutput(act, states);
  const { off } = output;
  const { station, setForm, choose, chooseKey, alongKeys, setAlong, along, ...typed } = useStations(states, view);
  const { form, takeForm, isHeld } = heldBy(station, typed);
  const [rule, setRule] = useState<StopRule>('hand');
  const [isArming, setArming] = useState(false);
  const [shown, show] = useState<string | null>(null);
  const [marked, setMarked] = useState<{ recording: number; marks: readonly Marker[] } | null>(null);
  const [unplugged, setUnplugged] = useState<readonly string[]>([]);
  const seen = view.cameras.find((c) => c.key === station.key);
  const takes = useTakes(view.jobId, states, station.key, form);
  const recording = station.recording?.jobId === view.jobId ? station.recording : null;
  const isRecording = takes.ours.length > 0;
  const setup = setupFor(form, station);

  const arm = (): void => {
    setArming(false);
    void output.arm('arm', { jobId: view.jobId, instrument: station.key, setup });
  };
  const toggleOutput = (): void => void (station.outputOn ? off() : output.on(station));
  const start = (): void => void takes.start([station, ...along], stopRules[rule].seconds);
  const stop = (): void => void takes.stop(off);
  const toggleRecording = (): void => (isRecording ? stop() : start());
  const mark = (event: MarkerEvent, note?: string, agoS = 0): void => {
    takes.mark(event, note, agoS);
    if (!recording) return;
    const t = Math.max(0, (shapeOf(recording.id)?.end ?? recording.seconds) - agoS);
    const ours = marked?.recording === recording.id ? marked.marks : [];
    setMarked({ recording: recording.id, marks: [...ours, { t, event, ...(note ? { note } : {}) }] });
  };
  /** A key and the simulated hands do one thing: the part comes off, and the instant is marked. */
  const take = (part: { id: string; name: string }, event: 'part-off' | 'part-on'): void => {
    const isOff = event === 'part-off';
    mark(event, part.name);
    setUnplugged((ids) => [...ids.filter((id) => id !== part.id), ...(isOff ? [part.id] : [])]);
    if (station.simulated) void act('operate', { does: isOff ? 'take-off' : 'put-back', id: part.id }, true);
  };
  const press = (): void => {
    if (!isRecording) return;
    mark('prompt');
    if (station.simulated) void act('operate', { does: 'press' });
  };
  const askToArm = (): void => {
    if (station.kind === 'supply' && !station.outputOn && !station.outputUnknown) setArming(true);
  };
  const { call, settled } = useForming(recording?.id ?? null, setup, () => rule === 'enough' && stop());
  const marks = marksSoFar(call?.markers ?? [], marked?.recording === recording?.id ? (marked?.marks ?? []) : []);
  const pressedAt = marks.find((m) => m.event === 'prompt')?.t ?? null;
  useCues(recording ? { mode: station.mode, pattern: call?.pattern ?? null } : null);
  useKey('r', 'start recording, or stop and save the run', toggleRecording);
  useKey('a', 'arm the output with this setup', askToArm);
  useKey('o', 'output on or off', toggleOutput);
  useKey('p', 'mark: power pressed', press);
  useKey('s', 'expected draw of the next suspect, behind the run', () => {
    const ids = (call?.suspects ?? []).filter((s) => s.draws.length > 0).map((s) => s.id as string);
    show(ids[shown === null ? 0 : ids.indexOf(shown) + 1] ?? null);
  });
  const sound = useSound();
  useKey('q', 'sounds on or off', () => sound.setOn(!sound.isOn));
  const pedal = usePedal({ press, mark: () => mark('note'), record: toggleRecording, output: toggleOutput });
  const suspect = call?.suspects.find((s) => s.id === shown) ?? null;
  /** What measures at this device. */
  const near = states.filter(
    (s) => s.health === 'measuring' && (s.key === station.key || s.simulated || alongKeys.has(s.key)),
  );
  const fed = !station.isSeen && !states.some((s) => s.outputUnknown) && whoFeeds(near);
  return (
    <div className="mt-3 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_344px]">
      <div className="grid min-w-0 content-start gap-3">
        <RecorderNotes health={health} />
        {!isHeard && <Hazard>The recorder does not answer and is restarting. Outputs switch off automatically.</Hazard>}
        <OutputBanner station={station} onOff={() => void off()} />
        {seen && (
          <CameraPanel
            key={seen.key}
            instrument={seen.key}
            name={seen.name}
            saved={seen.framing}
            recording={recording}
          />
        )}
        <Readouts station={station} />
        {fed && (
          <p className="px-1" role="status" aria-label="What powers the device">
            {fed}
          </p>
        )}
        <div className="card">
          <LiveSilhouette
            shape={shapeOf(recording?.id)}
            fullA={view.fullA[form.feed]}
            band={view.bands[form.feed]}
            predicted={suspect && suspect.draws.length > 0 ? suspect : null}
            marks={marks}
            pressedAt={pressedAt}
            startedAt={recording?.startedAt ?? null}
          />
          <Controls
            station={station}
            recording={recording}
            takes={takes}
            isMine={output.isMine(station)}
            on={{ record: toggleRecording, arm: askToArm, output: toggleOutput, press }}
          />
          <Marking isRecording={isRecording} parts={view.parts} mark={mark} />
          {station.armed?.clamped && <p className="mt-1 text-sm text-decide">{station.armed.clamped}</p>}
          {recording?.problem && <Hazard>{recording.problem}. New data is held here until it can be saved.</Hazard>}
        </div>
        <SetupChoice
          view={view}
          form={form}
          setForm={takeForm}
          rule={rule}
          setRule={setRule}
          open={!isRecording}
          isHeld={isHeld}
        />
      </div>
      <div className="grid min-w-0 content-start gap-3">
        <Forming
          call={call}
          settled={settled}
          isRecording={isRecording}
          isPractice={view.isPractice}
          shown={shown}
          show={show}
        />
        <InstrumentList
          states={states}
          chosen={station.key}
          along={alongKeys}
          canChange={!isRecording}
          choose={choose}
          setAlong={setAlong}
        />
        <AddCamera isFirst={false} onAdded={chooseKey} />
        <p className="text-sm text-muted">
          Sounds {sound.isOn ? 'on' : 'off'} (<kbd>q</kbd>).{' '}
          {pedal.code ? `The pedal ${pedalActions[pedal.does]}.` : 'No foot pedal yet: set one up in Settings.'}
        </p>
        <Isolate
          parts={view.peripherals}
          off={new Set(unplugged)}
          isRecording={isRecording}
          pulled={call?.pulled ?? []}
          take={take}
        />
        {station.simulated && (
          <BenchOperator
            jobId={view.jobId}
            models={view.models}
            own={view.profile}
            isPractice={view.isPractice}
            mark={mark}
            take={take}
            onOff={setUnplugged}
          />
        )}
        <NotYetRuns left={view.left} takes={takes} />
      </div>
      {isArming && (
        <Arming
          setup={setup}
          facts={{
            ...view.facts[setup.feed],
            watchesItself: station.canWatchItself === true,
            isAtPage: station.atPage !== null,
            chargerV: chargerVolts(near),
          }}
          onBatteryOut={() => setForm({ ...form, battery: 'disconnected' })}
          onArm={arm}
          onClose={() => setArming(false)}
        />
      )}
    </div>
  );
}

/** As they stand in the record, and those that were marked here since it was last asked. */
function marksSoFar(known: readonly Marker[], here: readonly Marker[]): Marker[] {
  const isKnown = (m: Marker): boolean =>
    known.some((k) => k.event === m.event && Math.abs((k.said ?? k.t) - m.t) < lateS);
  return [...known, ...here.filter((m) => !isKnown(m))].sort((a, b) => a.t - b.t);
}

/** The screen follows the recorder by less than this, seconds. */
const lateS = 0.8;

/** The setup as it is while an output is on: what it was armed with, whatever the form said before or is told now. */
function heldBy(
  { outputOn, armed }: StationState,
  { form, takeForm }: { form: SetupForm; takeForm: (to: SetupForm) => void },
): { form: SetupForm; takeForm: (to: SetupForm) => void; isHeld: boolean } {
  if (!outputOn || !armed) return { form, takeForm, isHeld: false };
  const held = { setV: `${armed.volts} V`, limitA: `${armed.limitA} A` };
  return {
    form: { ...form, ...held },
    takeForm: (to) => takeForm({ ...to, ...held, feed: form.feed }),
    isHeld: true,
  };
}

/** What is looked at before the output is armed. */
function Arming({
  setup,
  facts,
  onBatteryOut,
  onArm,
  onClose,
}: {
  setup: SetupForm;
  facts: Parameters<typeof armChecks>[1];
  onBatteryOut: () => void;
  onArm: () => void;
  onClose: () => void;
}) {
  const withBatteryOut = armChecks({ ...setup, battery: 'disconnected' }, facts);
  return (
    <ArmDialog
      checks={armChecks(setup, facts)}
      what={`${setup.setV}, ${setup.limitA}`}
      canSayBatteryOut={withBatteryOut.every((c) => c.tone !== 'stop')}
      onBatteryOut={onBatteryOut}
      onArm={onArm}
      onClose={onClose}
    />
  );
}
