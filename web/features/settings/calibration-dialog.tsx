'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import {
  fitCalibration,
  formatCurrent,
  formatVoltage,
  parseQuantity,
  sayCalibration,
  type CalibratedQuantity,
  type CalibrationPoint,
} from '@umbral/core/words';
import type { Averaged, StationState } from '@umbral/instruments';
import { useEffect, useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { useOutput } from '@/features/live/use-output';
import { useAct } from '@/ui/kit/use-recorder';
import { Dialog } from '@/ui/dialog';
import { Hazard } from '@/ui/parts';
import { keepCalibration } from './actions';
import type { InstrumentView } from './view';
import { TextField } from '@/ui/kit/fields';

const averageS = 2;
const sides = { current: 'amps', voltage: 'volts' } as const;
const says = { current: formatCurrent, voltage: formatVoltage } as const;
const howTo = {
  current:
    'Connect the reference meter in series. Take the first point with little or no current, the second near 1 A.',
  voltage:
    'Connect the reference meter across the leads. Take the first point at a low voltage, the second near the highest you use.',
} as const;

/** Compares an instrument with a trusted meter at two points or more and keeps the line through them. */
export function CalibrationDialog({
  instrument,
  state,
  onClose,
  onSaved,
}: {
  instrument: InstrumentView;
  state: StationState | null;
  onClose: () => void;
  onSaved: (problems: string[]) => void;
}) {
  const act = useAct();
  const [quantity, setQuantity] = useState<CalibratedQuantity>('current');
  const [points, setPoints] = useState<CalibrationPoint[]>([]);
  const [typed, setTyped] = useState('');
  const [against, setAgainst] = useState('');
  const [isTaking, setTaking] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const shown = state?.shown?.[sides[quantity]] ?? null;
  const fitted = fitOf(points, quantity);
  const take = async (): Promise<void> => {
    const trusted = parseQuantity(typed, quantity);
    if (!trusted.ok) return setProblem(`Reference meter: ${trusted.error}`);
    setProblem(null);
    setTaking(true);
    const averaged = await act<Averaged>('average', { instrument: instrument.key, seconds: averageS });
    setTaking(false);
    if (!averaged) return;
    const { mean, spread } = averaged[sides[quantity]];
    setPoints([...points, { trusted: trusted.value, shown: mean, spread }]);
    setTyped('');
  };
  return (
    <Dialog open isFresh title={`Calibrate ${instrument.name}`} onClose={onClose} wide>
      <div className="mt-2 grid gap-3">
        <div className="flex flex-wrap gap-2" role="group" aria-label="Quantity">
          {(['current', 'voltage'] as const).map((q) => (
            <button
              key={q}
              type="button"
              className="button"
              aria-pressed={q === quantity}
              onClick={() => {
                setQuantity(q);
                setPoints([]);
                setProblem(null);
              }}
            >
              {q === 'current' ? 'Current' : 'Voltage'}
            </button>
          ))}
        </div>
        <p className="text-sm text-muted">{howTo[quantity]} Connect only the meter and a load to the leads.</p>
        {instrument.kind === 'supply' && <LoneOutput instrument={instrument.key} state={state} />}
        <form
          className="grid items-end gap-3 sm:grid-cols-[1fr_1fr_auto]"
          onSubmit={(e) => {
            e.preventDefault();
            void take();
          }}
        >
          <p>
            <span className="text-sm text-muted">{instrument.name} shows</span>
            <span className="block text-3xl font-bold">{says[quantity](shown)}</span>
          </p>
          <TextField
            label="Reference meter shows"
            value={typed}
            placeholder={quantity === 'current' ? '1.003 A' : '5.00 V'}
            onValue={setTyped}
          />
          <GatedButton
            type="submit"
            className="button button-main"
            disabled={isTaking}
            blocked={shown === null ? 'The instrument shows no value now' : null}
          >
            {isTaking ? `Averaging ${averageS} s …` : `Take point ${points.length + 1}`}
          </GatedButton>
        </form>
        {instrument.simulated && <Truth kind={instrument.kind} quantity={quantity} />}
        {points.length > 0 && (
          <table className="w-full text-left">
            <thead className="text-sm text-muted">
              <tr>
                <th className="font-normal">Reference meter</th>
                <th className="font-normal">Shown</th>
                <th className="font-normal">Varies by</th>
                <th />
              </tr>
            </thead>
            <tbody>
              {points.map((p, k) => (
                <tr key={k} className="border-t border-line">
                  <td>{says[quantity](p.trusted)}</td>
                  <td>{says[quantity](p.shown)}</td>
                  <td>{says[quantity](p.spread)}</td>
                  <td className="text-right">
                    <button
                      type="button"
                      className="button button-quiet"
                      onClick={() => setPoints(points.filter((_, j) => j !== k))}
                    >
                      Take out
                    </button>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {points.length >= 2 && !fitted.ok && <p className="font-semibold text-decide">{fitted.problem}</p>}
        {points.length >= 2 && fitted.ok && (
          <form
            className="grid gap-3"
            onSubmit={(e) => {
              e.preventDefault();
              save(() => keepCalibration({ key: instrument.key, quantity, points, against }), {
                done: 'Corrected from the next recording.',
                then: ({ problems }) => {
                  onSaved(problems);
                  onClose();
                },
                failed: setProblem,
              });
            }}
          >
            <p className="font-semibold">It {sayCalibration(fitted.value, quantity)}. This is corrected from now on.</p>
            <TextField label="Reference meter" hint="which one, for the log" value={against} onValue={setAgainst} />
            <FormFoot saving={saving} problem={problem} word="Save calibration" />
          </form>
        )}
        {!(points.length >= 2 && fitted.ok) && problem && (
          <p role="alert" className="rounded-lg border border-decide bg-decide-soft px-3 py-2 text-sm">
            {problem}
          </p>
        )}
      </div>
    </Dialog>
  );
}

function fitOf(points: CalibrationPoint[], quantity: CalibratedQuantity) {
  try {
    return { ok: true as const, value: fitCalibration(points, quantity) };
  } catch (error) {
    return { ok: false as const, problem: error instanceof Error ? error.message : String(error) };
  }
}

/** Switches a supply that has nothing but a meter on its leads: armed, watched and off as everywhere. */
function LoneOutput({ instrument, state }: { instrument: string; state: StationState | null }) {
  const act = useAct();
  const [form, setForm] = useState({ setV: '5 V', limitA: '1 A' });
  // As it was typed when it was armed: what is typed since counts only once it is armed again.
  const [armedAs, setArmedAs] = useState(form);
  const { isMine: isArmedHere, arm, on, off } = useOutput(act, state ? [state] : []);
  const isMine = state !== null && isArmedHere(state);
  const isChanged = isMine && (form.setV !== armedAs.setV || form.limitA !== armedAs.limitA);
  useEffect(() => () => void act('output', { instrument, on: false }, true), [act, instrument]);
  return (
    <fieldset className="grid gap-2 rounded-xl border border-line p-3">
      <legend className="px-1 text-sm text-muted">Output of this supply</legend>
      <OnLeads instrument={instrument} />
      <div className="grid grid-cols-2 items-end gap-2 sm:grid-cols-[1fr_1fr_auto_auto]">
        <TextField label="Voltage" value={form.setV} onValue={(value) => setForm({ ...form, setV: value })} />
        <TextField label="Limit" value={form.limitA} onValue={(value) => setForm({ ...form, limitA: value })} />
        <GatedButton
          type="button"
          className="button"
          blocked={state?.outputOn === true ? 'Switch the output off first' : null}
          onClick={() => {
            setArmedAs(form);
            void arm('arm-alone', { instrument, ...form });
          }}
        >
          {isChanged ? 'Arm again' : isMine ? 'Armed' : 'Arm'}
        </GatedButton>
        <GatedButton
          type="button"
          className={`button ${isMine && !state?.outputOn ? 'button-main' : ''}`}
          blocked={
            state?.outputOn ? null : isChanged ? 'Arm it again with the new settings' : !isMine ? 'Arm it first' : null
          }
          onClick={() => void (state?.outputOn ? off() : state && on(state))}
        >
          {state?.outputOn ? 'Off' : 'On'}
        </GatedButton>
      </div>
      {state?.armed && (isChanged || state.outputOn) && (
        <p className="text-sm" role="status">
          Armed with {formatVoltage(state.armed.volts)}, limit {formatCurrent(state.armed.limitA)}.
          {isChanged &&
            (state.outputOn
              ? ' What you typed since then does not apply. Switch the output off and arm it again.'
              : ' What you typed since then applies when you arm it again.')}
        </p>
      )}
      {state?.armed?.clamped && <p className="text-sm text-decide">{state.armed.clamped}</p>}
    </fieldset>
  );
}

/** What is on the leads of this supply, as far as anybody said, and saying that it is not there any more. */
function OnLeads({ instrument }: { instrument: string }) {
  const act = useAct();
  const [there, setThere] = useState<{ jobId: number; label: string } | null | undefined>(undefined);
  useEffect(() => {
    let isOn = true;
    void act<{ jobId: number; label: string } | null>('leads', { instrument }, true).then((t) => isOn && setThere(t));
    return () => {
      isOn = false;
    };
  }, [act, instrument]);
  if (!there) return <Hazard>No device on the leads. No model limits the settings here.</Hazard>;
  return (
    <div className="grid gap-2">
      <Hazard>
        {there.label} (job {there.jobId}) is on the leads. The output is limited to what that device can take.
      </Hazard>
      <button
        type="button"
        className="button justify-self-start"
        onClick={() => void act('free-leads', { instrument }).then(() => setThere(null))}
      >
        It is disconnected now
      </button>
    </div>
  );
}

interface Truths {
  truth: Record<'supply' | 'port', { volts: number; amps: number }>;
}

/** At the simulated bench: what a trusted meter would say. */
function Truth({ kind, quantity }: { kind: InstrumentView['kind']; quantity: CalibratedQuantity }) {
  const act = useAct();
  const [bench, setBench] = useState<Truths | null>(null);
  useEffect(() => {
    let isOn = true;
    const look = (): void => void act<Truths>('bench', {}, true).then((b) => isOn && b && setBench(b));
    look();
    const timer = setInterval(look, 500);
    return () => {
      isOn = false;
      clearInterval(timer);
    };
  }, [act]);
  const at = bench?.truth[kind === 'supply' ? 'supply' : 'port'];
  return (
    <p className="text-sm text-muted">
      Simulated bench: a reference meter would show {at ? says[quantity](at[sides[quantity]]) : '–'} here. Change the
      device and plugs on the page of a job while recording.
    </p>
  );
}
