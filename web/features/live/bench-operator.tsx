'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { namedChecks, checkTypes, type CheckId, type MarkerEvent } from '@umbral/core/words';
import { useEffect, useRef, useState } from 'react';
import { addCheck } from '@/features/job/actions';
import { useSave } from '@/ui/kit/use-save';
import type { MarkIt } from './marking';
import { useAct } from '@/ui/kit/use-recorder';
import { SelectField, TextField } from '@/ui/kit/fields';

interface BenchState {
  model: string;
  profile: string;
  fault: string;
  ports: number;
  peripherals: { id: string; name: string }[];
  elements: { id: string; name: string }[];
  plugged: { port: number; flipped: boolean } | null;
  off: string[];
  battery: boolean;
  hasBattery: boolean;
  screen: string;
}

/** The technician's hands where the instrument is connected to a virtual device. */
export function BenchOperator({
  jobId,
  models,
  own,
  isPractice,
  mark,
  take,
  onOff,
}: {
  jobId: number;
  models: { id: string; name: string }[];
  own: string | null;
  /** The job's own unit is laid, and nothing else. */
  isPractice: boolean;
  /** Marks in the recordings under way what the hands did. */
  mark: MarkIt;
  /** Takes a part off or puts it back, as the keys do. */
  take: (part: { id: string; name: string }, event: 'part-off' | 'part-on') => void;
  /** Told what is off now, whoever took it off. */
  onOff: (ids: readonly string[]) => void;
}) {
  const act = useAct();
  const [bench, setBench] = useState<BenchState | null>(null);
  const tell = useRef(onOff);
  useEffect(() => {
    tell.current = onOff;
  });
  useEffect(() => {
    let isOn = true;
    const look = (): void =>
      void act<BenchState>('bench', {}, true).then((b) => {
        if (!isOn || !b) return;
        setBench(b);
        tell.current(b.off);
      });
    look();
    const timer = setInterval(look, 1000);
    return () => {
      isOn = false;
      clearInterval(timer);
    };
  }, [act]);
  const hand = (body: object, event: MarkerEvent, note?: string): void => {
    mark(event, note);
    void act<BenchState>('operate', body).then((b) => b && setBench(b));
  };
  return (
    <section aria-label="Actions on the simulated device" className="card">
      <h2 className="text-lg">Simulated actions</h2>
      <p className="text-sm text-muted">
        These instruments are simulated{bench ? `; on the bench: ${bench.model}, ` : ''}
        {bench && (bench.fault === 'none' ? 'healthy' : 'with a hidden fault')}
        {bench && `, screen ${bench.screen.replace('-', ' ')}`}.
      </p>
      {isPractice ? (
        <LayUnit jobId={jobId} onLaid={setBench} />
      ) : (
        <LayDevice models={models} own={own} onLaid={setBench} />
      )}
      {bench && (
        <div className="mt-2 flex flex-wrap gap-2">
          {Array.from({ length: bench.ports }, (_, k) => k + 1).flatMap((port) =>
            [false, true].map((flipped) => (
              <button
                key={`${port} ${flipped}`}
                type="button"
                className="button"
                aria-pressed={bench.plugged?.port === port && bench.plugged.flipped === flipped}
                onClick={() =>
                  hand({ does: 'plug', port, flipped }, bench.plugged?.port === port ? 'flip' : 'plug', `port ${port}`)
                }
              >
                Plug port {port}
                {flipped ? ', flipped' : ''}
              </button>
            )),
          )}
          {bench.plugged && (
            <button type="button" className="button" onClick={() => hand({ does: 'unplug' }, 'unplug')}>
              Pull the plug
            </button>
          )}
          {bench.hasBattery && (
            <button
              type="button"
              className="button"
              onClick={() =>
                hand({ does: 'battery', connected: !bench.battery }, bench.battery ? 'part-off' : 'part-on', 'battery')
              }
            >
              {bench.battery ? 'Disconnect the battery' : 'Connect the battery'}
            </button>
          )}
          {bench.peripherals.map((p) => {
            const isOff = bench.off.includes(p.id);
            return (
              <button
                key={p.id}
                type="button"
                className="button"
                onClick={() => take(p, isOff ? 'part-on' : 'part-off')}
              >
                {isOff ? 'Reconnect' : 'Unplug'} {p.name}
              </button>
            );
          })}
        </div>
      )}
      {bench && !isPractice && <Mend key={`mend ${bench.profile}`} elements={bench.elements} />}
      {bench && !isPractice && <TryCheck key={`${bench.model} ${bench.fault}`} jobId={jobId} />}
    </section>
  );
}

/** Lays the unit that is practised on, as it is now. */
function LayUnit({ jobId, onLaid }: { jobId: number; onLaid: (bench: BenchState) => void }) {
  const act = useAct();
  return (
    <button
      type="button"
      className="button mt-2"
      onClick={() => void act<BenchState>('lay-unit', { jobId }).then((b) => b && onLaid(b))}
    >
      Put this unit on the live bench
    </button>
  );
}

/** Lays another virtual device on the bench, with a fault that nobody is told. */
function LayDevice({
  models,
  own,
  onLaid,
}: {
  models: { id: string; name: string }[];
  own: string | null;
  onLaid: (bench: BenchState) => void;
}) {
  const act = useAct();
  const [model, setModel] = useState(own ?? models[0]?.id ?? '');
  const [fault, setFault] = useState('');
  const lay = (): void => {
    const seed = 1 + Math.floor(Math.random() * 1e6);
    void act<BenchState>('lay', { profile: model, fault: fault.trim() || 'hidden', seed }).then((b) => b && onLaid(b));
  };
  return (
    <>
      <div className="mt-2 grid gap-2">
        <div>
          <SelectField label="Device" value={model} onValue={setModel}>
            {models.map((m) => (
              <option key={m.id} value={m.id}>
                {m.name}
              </option>
            ))}
          </SelectField>
        </div>
        <button type="button" className="button" onClick={lay}>
          {fault.trim() === 'none' ? 'Put a healthy device on the bench' : 'Put a faulty device on the bench'}
        </button>
      </div>
      <details className="mt-2 text-sm">
        <summary>Choose the fault</summary>
        <TextField
          label="Fault"
          hint="none, or as on the command line: short:io=0.4, dead:charger"
          placeholder="hide the fault"
          value={fault}
          onValue={setFault}
        />
      </details>
    </>
  );
}

/** Replaces a part of the virtual device: whatever was wrong with it goes with it. Nobody is told whether anything was. */
function Mend({ elements }: { elements: { id: string; name: string }[] }) {
  const act = useAct();
  const [at, setAt] = useState('');
  const [done, setDone] = useState('');
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-2 border-t border-line pt-2"
      onSubmit={(e) => {
        e.preventDefault();
        if (at)
          void act('mend', { at }).then((answer) => {
            if (answer) setDone(elements.find((x) => x.id === at)?.name ?? at);
          });
      }}
    >
      <div className="min-w-0 flex-1">
        <SelectField label="Replace a part" value={at} onValue={setAt}>
          <option value="">choose a part</option>
          {elements.map((x) => (
            <option key={x.id} value={x.id}>
              {x.name}
            </option>
          ))}
        </SelectField>
      </div>
      <GatedButton type="submit" className="button" blocked={at ? null : 'Choose a part first'}>
        Replace
      </GatedButton>
      {done && (
        <p role="status" className="w-full text-sm">
          {done} was replaced. Record a run now in the same setup.
        </p>
      )}
    </form>
  );
}

/** A check made on the virtual device: what it shows is told, and can be kept with the job. */
function TryCheck({ jobId }: { jobId: number }) {
  const act = useAct();
  const [check, setCheck] = useState<CheckId>(namedChecks.screen);
  const [found, setFound] = useState<{ check: CheckId; outcome: string | null } | null>(null);
  const { saving, save } = useSave();
  const look = async (): Promise<void> => {
    const answer = await act<{ outcome: string | null }>('look', { check });
    if (answer) setFound({ check, outcome: answer.outcome });
  };
  return (
    <form
      className="mt-3 grid gap-2 border-t border-line pt-2"
      onSubmit={(e) => {
        e.preventDefault();
        void look();
      }}
    >
      <div className="flex items-end gap-2">
        <div className="min-w-0 flex-1">
          <SelectField label="Try a check" value={check} onValue={(value) => setCheck(value as CheckId)}>
            {tried.map(([id, type]) => (
              <option key={id} value={id}>
                {type.name}
              </option>
            ))}
          </SelectField>
        </div>
        <button type="submit" className="button">
          Look
        </button>
      </div>
      {found && (
        <p role="status" className="flex flex-wrap items-center gap-2">
          <span className="mr-auto">
            {checkTypes[found.check].ask} <strong>{found.outcome?.replaceAll('-', ' ') ?? 'not visible here'}</strong>
          </span>
          {found.outcome && (
            <button
              type="button"
              className="button"
              disabled={saving}
              onClick={() =>
                save((confirmed) => addCheck({ jobId, ...found, confirmed }), {
                  done: `${checkTypes[found.check].name}: ${found.outcome?.replaceAll('-', ' ')}, saved to the job.`,
                  then: () => setFound(null),
                })
              }
            >
              Save to the job
            </button>
          )}
        </p>
      )}
    </form>
  );
}

const tried = (Object.entries(checkTypes) as [CheckId, (typeof checkTypes)[CheckId]][]).filter(
  ([, type]) => type.outcomes.length > 0,
);
