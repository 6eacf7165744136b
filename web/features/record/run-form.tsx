'use client';

import { feedWords } from '@/features/words';
import { FollowsSelect } from '@/ui/kit/form-parts';
import { wholeNumberOf } from '@/ui/whole-number';
import type { Feed } from '@umbral/core/words';
import type { JobView } from '@/features/job/view';
import type { SetupForm } from './setup-form';
import { SelectField, TextField } from '@/ui/kit/fields';

/** What was stated of one feed and its instrument does not hold for another. */
const ofTheFeed = {
  setV: '',
  limitA: '',
  port: null,
  flipped: false,
  instrument: null,
  resolutionA: '',
  contract: null,
} as const;

const choices = {
  battery: [
    ['', 'not stated'],
    ['connected', 'battery in'],
    ['disconnected', 'battery out'],
    ['absent', 'no battery'],
    ['known-good', 'known-good battery'],
  ],
  display: [
    ['', 'not stated'],
    ['connected', 'own display'],
    ['disconnected', 'display off'],
    ['known-good', 'known-good display'],
  ],
  board: [
    ['', 'own board'],
    ['known-good', 'known-good board'],
  ],
  assembly: [
    ['', 'not stated'],
    ['assembled', 'in its case'],
    ['board-alone', 'board alone'],
    ['half', 'one half'],
  ],
  deviceState: [
    ['', 'not stated'],
    ['off', 'off'],
    ['asleep', 'asleep'],
    ['running', 'running'],
  ],
  charger: [
    ['', 'not stated'],
    ['own', 'own charger'],
    ['known-good', 'known-good charger'],
  ],
  contract: [
    ['', 'not read'],
    ['none', 'no contract'],
    ['default-5v', 'no contract, 5 V only'],
    ['pd', 'contract agreed'],
  ],
  instrument: [
    ['', 'not stated'],
    ['bench-supply', 'bench supply'],
    ['usb-c-meter', 'USB-C meter'],
    ['dmm', 'multimeter'],
    ['current-probe', 'current probe'],
  ],
} as const;

/** The setup, without which a run means nothing. */
export function SetupFields({
  form,
  set,
  actions,
  isHeld = false,
}: {
  form: SetupForm;
  set: (change: Partial<SetupForm>) => void;
  actions: JobView['actions'];
  /** A supply is on as it was armed: feed, voltage and limit are its own. */
  isHeld?: boolean;
}) {
  const select = (label: string, key: keyof typeof choices) => (
    <SelectField label={label} value={form[key] ?? ''} onValue={(value) => set({ [key]: value || null })}>
      {choices[key].map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </SelectField>
  );
  const text = (
    label: string,
    key: 'setV' | 'limitA' | 'batteryV' | 'resolutionA' | 'half' | 'contractV' | 'contractA',
    placeholder: string,
  ) => (
    <TextField
      label={label}
      value={form[key]}
      placeholder={placeholder}
      disabled={isHeld && (key === 'setV' || key === 'limitA')}
      onValue={(value) => set({ [key]: value })}
    />
  );
  return (
    <div className="grid grid-cols-2 gap-3 sm:grid-cols-3">
      <SelectField
        label="Feed"
        value={form.feed}
        disabled={isHeld}
        onValue={(value) => set({ ...ofTheFeed, feed: value as Feed })}
      >
        {Object.entries(feedWords).map(([id, words]) => (
          <option key={id} value={id}>
            {words}
          </option>
        ))}
      </SelectField>
      {form.feed !== 'usb-c' && text('Set voltage', 'setV', '3.9 V')}
      {form.feed !== 'usb-c' && text('Limit', 'limitA', '3 A')}
      {form.feed === 'usb-c' && (
        <TextField
          label="Port"
          inputMode="numeric"
          value={form.port ?? ''}
          placeholder="1"
          onValue={(value) => set({ port: wholeNumberOf(value) })}
        />
      )}
      {form.feed === 'usb-c' && (
        <SelectField
          label="Plug"
          value={form.flipped ? 'flipped' : 'as is'}
          onValue={(value) => set({ flipped: value === 'flipped' })}
        >
          <option>as is</option>
          <option>flipped</option>
        </SelectField>
      )}
      {select('Battery', 'battery')}
      {select('Display', 'display')}
      {select('Board', 'board')}
      {select('Assembly', 'assembly')}
      {form.assembly === 'half' && text('Half', 'half', 'upper')}
      {select('State before the run', 'deviceState')}
      {form.feed !== 'battery' && text('Battery voltage', 'batteryV', '3.7 V')}
      {form.feed === 'usb-c' && select('Charger', 'charger')}
      {form.feed === 'usb-c' && select('Contract', 'contract')}
      {form.contract === 'pd' && text('Contract voltage', 'contractV', '20 V')}
      {form.contract === 'pd' && text('Contract, current', 'contractA', '3 A')}
      {select('Instrument', 'instrument')}
      {text('Resolution', 'resolutionA', '1 mA')}
      <TextField
        label="Unplugged"
        hint="separated by commas"
        value={form.unplugged.join(', ')}
        onBlur={() => set({ unplugged: form.unplugged.map((x) => x.trim()).filter(Boolean) })}
        onValue={(value) => set({ unplugged: value.split(',').map((x) => x.trimStart()) })}
      />
      <FollowsSelect actions={actions} value={form.after} onChange={(after) => set({ after })} />
    </div>
  );
}
