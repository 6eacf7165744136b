'use client';

import { SetupFields } from '@/features/record/run-form';
import type { SetupForm } from '@/features/record/setup-form';
import { useKey } from '@/ui/keys';
import type { Preset } from './presets';
import type { LiveView } from './view';

/** How a recording ends. */
export const stopRules = {
  hand: { words: 'by hand', seconds: null },
  enough: { words: 'when enough is recorded', seconds: 300 },
  s30: { words: 'after 30 s', seconds: 30 },
  s60: { words: 'after 1 minute', seconds: 60 },
  s300: { words: 'after 5 minutes', seconds: 300 },
} as const;

export type StopRule = keyof typeof stopRules;

/** The setup of what is recorded: one tap for what recurs, everything else below. */
export function SetupChoice({
  view,
  form,
  setForm,
  rule,
  setRule,
  open,
  isHeld,
}: {
  view: LiveView;
  form: SetupForm;
  setForm: (form: SetupForm) => void;
  rule: StopRule;
  setRule: (rule: StopRule) => void;
  open: boolean;
  /** The output is on: what it was armed with stays. */
  isHeld: boolean;
}) {
  return (
    <details className="card" open={open}>
      <summary className="text-lg font-bold">Setup</summary>
      <div className="mt-2 flex flex-wrap items-center gap-1.5" role="group" aria-label="Usual setups">
        {view.presets.map((p, k) => (
          <PresetButton
            key={p.name}
            preset={p}
            number={k + 1}
            form={form}
            take={isHeld ? null : () => setForm(p.form)}
            hasKey={open}
          />
        ))}
        <label className="ml-auto flex items-center gap-2 text-sm">
          Stops
          <select className="field w-auto" value={rule} onChange={(e) => setRule(e.target.value as StopRule)}>
            {Object.entries(stopRules).map(([id, { words }]) => (
              <option key={id} value={id}>
                {words}
              </option>
            ))}
          </select>
        </label>
      </div>
      {isHeld && (
        <p className="mt-2 text-sm text-muted">
          The output is on. To change feed, voltage or limit, switch it off and arm it again.
        </p>
      )}
      <div className="mt-3">
        <SetupFields
          form={form}
          set={(change) => setForm({ ...form, ...change })}
          actions={view.actions}
          isHeld={isHeld}
        />
      </div>
    </details>
  );
}

function PresetButton({
  preset,
  number,
  form,
  take,
  hasKey,
}: {
  preset: Preset;
  number: number;
  form: SetupForm;
  /** Null while the output is on: it is a setup as a whole, with its feed. */
  take: (() => void) | null;
  /** While it records, numbers unplug parts. */
  hasKey: boolean;
}) {
  return (
    <button
      type="button"
      className="button px-2.5 text-sm"
      aria-pressed={JSON.stringify(form) === JSON.stringify(preset.form)}
      disabled={take === null}
      onClick={() => take?.()}
    >
      {preset.name} {hasKey && <PresetKey number={number} name={preset.name} take={() => take?.()} />}
    </button>
  );
}

function PresetKey({ number, name, take }: { number: number; name: string; take: () => void }) {
  useKey(String(number), `setup: ${name}`, take);
  return <kbd>{number}</kbd>;
}
