'use client';

import { whyNotArm, whyNotSwitch } from '@/features/live/why-not';
import { GatedButton } from '@/ui/kit/gated-button';
import { useState } from 'react';
import { checkInjection, type InjectionPlan } from '@umbral/core/injection';
import { formatCurrent, formatPower, formatStatedCurrent, formatVoltage, parseQuantity } from '@umbral/core/words';
import { selfWatch } from '@/features/live/arm-checks';
import { OutputOn } from '@/features/live/controls';
import { useOutput } from '@/features/live/use-output';
import { useAct, useRecorder } from '@/ui/kit/use-recorder';
import type { StationState } from '@umbral/instruments';
import { useKey } from '@/ui/keys';
import { Dialog } from '@/ui/dialog';
import { Hazard } from '@/ui/parts';
import type { RailChoice } from './view';
import { TextField } from '@/ui/kit/fields';

const visibleWords = { no: 'not seen', camera: 'with a camera', alcohol: 'with alcohol too' } as const;

interface Props {
  jobId: number;
  rail: RailChoice;
  plan: InjectionPlan;
  ohm: number;
  leadsOhm: number;
  school: string;
  onHeat: (seen: SeenHeat) => void;
}

/** What the camera saw, and what stood on the rail and flowed just then. */
export interface SeenHeat {
  hot: string | null;
  setV: number;
  limitA: number;
  amps: number | null;
}

/** The steps of an injection, the supply that takes them, and what flows against what was planned. */
export function PlanSteps(props: Props) {
  const { rail, plan, leadsOhm } = props;
  const [at, setAt] = useState(0);
  const [typed, setTyped] = useState({ volts: '', amps: '' });
  const { states } = useRecorder();
  const supplies = (states ?? []).filter((s) => s.kind === 'supply');
  const supply = supplies.find((s) => s.outputUnknown) ?? supplies.find((s) => s.health === 'measuring') ?? null;
  const step = plan.steps[Math.min(at, plan.steps.length - 1)];
  const live =
    supply?.outputOn && supply.volts !== null && supply.amps !== null
      ? { volts: supply.volts, amps: supply.amps }
      : null;
  const volts = parseQuantity(typed.volts, 'voltage');
  const amps = parseQuantity(typed.amps, 'current');
  const seen = live ?? (volts.ok && amps.ok ? { volts: volts.value, amps: amps.value } : null);
  const check = seen ? checkInjection(step, leadsOhm, seen) : null;
  return (
    <section aria-label="Injection plan" className="card grid gap-2 p-3">
      <h2 className="font-bold">
        Never above {formatVoltage(plan.maxV)} and {formatStatedCurrent(plan.maxA)}
        <span className="font-normal text-muted"> · {plan.why}</span>
      </h2>
      <div className="overflow-x-auto">
        <table className="w-full text-sm tabular-nums">
          <thead className="text-left text-muted">
            <tr>
              {[
                'Set',
                'Set the limit first',
                'Expected current',
                'Power in the fault',
                'Power in the leads',
                'Visible heat',
              ].map((h) => (
                <th key={h} className="py-1 pr-3 font-semibold whitespace-nowrap">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {plan.steps.map((s, k) => (
              <tr
                key={`${s.setV} ${s.limitA}`}
                aria-current={k === at ? 'step' : undefined}
                className={`cursor-pointer border-t border-line ${k === at ? 'bg-decide-soft font-semibold' : ''}`}
                onClick={() => setAt(k)}
              >
                <td className="py-1 pr-3">
                  <button
                    type="button"
                    className="min-h-9 underline decoration-edge underline-offset-2"
                    onClick={() => setAt(k)}
                  >
                    {formatVoltage(s.setV)}
                  </button>
                </td>
                <td className="pr-3">{formatStatedCurrent(s.limitA)}</td>
                <td className="pr-3">
                  {formatCurrent(s.amps)}
                  {s.limiting ? `, ${formatVoltage(s.terminalV)} at the limit` : ''}
                </td>
                <td className="pr-3">{formatPower(s.defectW)}</td>
                <td className="pr-3">{formatPower(s.leadsW)}</td>
                <td>{visibleWords[s.visible]}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {plan.cautions.map((c) => (
        <Hazard key={c}>{c}</Hazard>
      ))}
      {supply ? (
        <SupplyRow {...props} supply={supply} at={at} states={states ?? []} />
      ) : (
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Supply shows, volts"
            value={typed.volts}
            onValue={(value) => setTyped({ ...typed, volts: value })}
          />
          <TextField label="and amperes" value={typed.amps} onValue={(value) => setTyped({ ...typed, amps: value })} />
        </div>
      )}
      {check && (
        <p role="status" className={check.verdict === 'as-planned' ? '' : 'font-semibold text-decide'}>
          {check.says}
        </p>
      )}
      <p className="text-sm text-muted">
        If a capacitor is the cause: {plan.capacitor.does === 'leave-off' ? 'leave it off' : 'fit a new one'},{' '}
        {plan.capacitor.why}.{' '}
        {rail.facts.capacitors === null ? '' : `The profile counts ${rail.facts.capacitors} on this rail.`}
      </p>
    </section>
  );
}

/** The recorder's supply, armed and cut by the plan. */
function SupplyRow({
  jobId,
  rail,
  plan,
  ohm,
  leadsOhm,
  school,
  onHeat,
  supply,
  at,
  states,
}: Props & { supply: StationState; at: number; states: StationState[] }) {
  const act = useAct();
  const { isMine: isArmedHere, arm: armWith, on, off } = useOutput(act, states);
  const [asks, setAsks] = useState(false);
  const isMine = isArmedHere(supply);
  const step = plan.steps[at];
  const toggle = (): void => void (supply.outputOn ? off() : on(supply));
  const arm = (): void => {
    setAsks(false);
    void armWith('arm-plan', { jobId, instrument: supply.key, rail: rail.id, ohm, leadsOhm, school, step: at });
  };
  useKey('a', 'arm the supply with this step', () => !supply.outputOn && !supply.outputUnknown && setAsks(true));
  useKey('o', 'output on or off', toggle);
  return (
    <div className="grid gap-2">
      {supply.outputOn && (
        <OutputOn
          says={`${formatVoltage(supply.volts)}, ${formatCurrent(supply.amps, supply.resolutionA)}`}
          onOff={() => void off()}
        />
      )}
      <p className="flex flex-wrap items-center gap-2">
        <GatedButton type="button" className="button" blocked={whyNotArm(supply)} onClick={() => setAsks(true)}>
          {isMine ? 'Armed' : 'Arm'}: {formatVoltage(step.setV)}, {formatStatedCurrent(step.limitA)} <kbd>a</kbd>
        </GatedButton>
        <GatedButton
          type="button"
          className={`button ${isMine && !supply.outputOn ? 'button-main' : ''}`}
          blocked={whyNotSwitch(supply, isMine)}
          onClick={toggle}
        >
          {supply.outputOn ? 'Off' : 'On'} <kbd>o</kbd>
        </GatedButton>
        <span className="text-sm text-muted">{supply.name}</span>
        {supply.simulated && (
          <SimulatedLeads
            rail={rail}
            onHeat={(hot) =>
              onHeat({ hot, setV: step.setV, limitA: step.limitA, amps: supply.outputOn ? supply.amps : null })
            }
          />
        )}
      </p>
      {supply.armed?.clamped && <p className="text-sm text-decide">{supply.armed.clamped}</p>}
      {asks && (
        <Dialog open isFresh title="Before you inject" onClose={() => setAsks(false)}>
          <ul className="mt-3 list-disc pl-5">
            <li>The battery and every other source are disconnected.</li>
            <li>Everything that can be unplugged is unplugged.</li>
            <li>
              Black lead on ground, red lead on {rail.name} and nothing else: {formatVoltage(step.setV)}, limit{' '}
              {formatStatedCurrent(step.limitA)}.
            </li>
            <li>Eye protection on; a hand on Escape.</li>
            <li>{selfWatch(supply.canWatchItself === true).says}</li>
          </ul>
          <form
            className="mt-3 flex flex-wrap gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              arm();
            }}
          >
            <button type="submit" autoFocus className="button button-main">
              Checked. Arm
            </button>
            <button type="button" className="button button-quiet" onClick={() => setAsks(false)}>
              Not now
            </button>
          </form>
        </Dialog>
      )}
    </div>
  );
}

/** Where the supply is simulated its leads are held to the rail here, and a camera is looked through. */
function SimulatedLeads({ rail, onHeat }: Pick<Props, 'rail'> & { onHeat: (hot: string | null) => void }) {
  const act = useAct();
  const [held, setHeld] = useState<string | null>(null);
  const [says, setSays] = useState('');
  const hold = async (to: string | null): Promise<void> => {
    if (await act('hold', { rail: to })) setHeld(to);
  };
  const look = async (): Promise<void> => {
    const heat = await act<{ hot: string | null; outcome: string; watts: number }>('heat', {});
    if (!heat) return;
    const place = rail.places.find((p) => p.id === heat.hot)?.name ?? heat.hot;
    setSays(
      heat.hot
        ? `the camera shows ${place ?? ''}`
        : heat.outcome === 'none'
          ? 'nothing gets warm'
          : 'only the leads get warm',
    );
    onHeat(heat.hot);
  };
  return (
    <span className="flex flex-wrap items-center gap-2">
      <button type="button" className="button min-h-9" onClick={() => void hold(held === rail.id ? null : rail.id)}>
        {held === rail.id ? 'Remove the simulated leads' : `Put the simulated leads on ${rail.name}`}
      </button>
      <button type="button" className="button min-h-9" onClick={() => void look()}>
        Use the thermal camera
      </button>
      <span role="status">{says}</span>
    </span>
  );
}
