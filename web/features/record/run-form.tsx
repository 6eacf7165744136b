'use client';

import { feedWords } from '@/features/words';
import { FollowsSelect } from '@/features/job/form-parts';
import { Field } from '@/ui/parts';
import { wholeNumberOf } from '@/ui/whole-number';
import type { Feed } from '@umbral/core/words';
import type { JobView } from '@/features/job/view';
import type { SetupForm } from './setup-form';

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
    ['absent', 'has none'],
  ],
  display: [
    ['', 'not stated'],
    ['connected', 'own display'],
    ['disconnected', 'display off'],
    ['known-good', 'known-good display'],
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
    ['', 'nobody read it'],
    ['none', 'no contract'],
    ['default-5v', 'plain 5 V'],
    ['pd', 'an offer accepted'],
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
}: {
  form: SetupForm;
  set: (change: Partial<SetupForm>) => void;
  actions: JobView['actions'];
}) {
  const select = (label: string, key: keyof typeof choices) => (
    <Field label={label}>
      <select className="field" value={form[key] ?? ''} onChange={(e) => set({ [key]: e.target.value || null })}>
        {choices[key].map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </Field>
  );
  const text = (
    label: string,
    key: 'setV' | 'limitA' | 'batteryV' | 'resolutionA' | 'half' | 'contractV' | 'contractA',
    placeholder: string,
  ) => (
    <Field label={label}>
      <input
        className="field"
        value={form[key]}
        placeholder={placeholder}
        onChange={(e) => set({ [key]: e.target.value })}
      />
    </Field>
  );
  return (
    <div className="grid grid-cols-2 gap-3 sm:grid-cols-3">
      <Field label="Feed">
        <select
          className="field"
          value={form.feed}
          onChange={(e) => set({ ...ofTheFeed, feed: e.target.value as Feed })}
        >
          {Object.entries(feedWords).map(([id, words]) => (
            <option key={id} value={id}>
              {words}
            </option>
          ))}
        </select>
      </Field>
      {form.feed !== 'usb-c' && text('Set voltage', 'setV', '3.9 V')}
      {form.feed !== 'usb-c' && text('Limit', 'limitA', '3 A')}
      {form.feed === 'usb-c' && (
        <Field label="Port">
          <input
            className="field"
            inputMode="numeric"
            value={form.port ?? ''}
            placeholder="1"
            onChange={(e) => set({ port: wholeNumberOf(e.target.value) })}
          />
        </Field>
      )}
      {form.feed === 'usb-c' && (
        <Field label="Plug">
          <select
            className="field"
            value={form.flipped ? 'flipped' : 'as is'}
            onChange={(e) => set({ flipped: e.target.value === 'flipped' })}
          >
            <option>as is</option>
            <option>flipped</option>
          </select>
        </Field>
      )}
      {select('Battery', 'battery')}
      {select('Display', 'display')}
      {select('Assembly', 'assembly')}
      {form.assembly === 'half' && text('Which half', 'half', 'upper')}
      {select('Device before', 'deviceState')}
      {form.feed !== 'battery' && text('Battery voltage', 'batteryV', '3.7 V')}
      {form.feed === 'usb-c' && select('Charger', 'charger')}
      {form.feed === 'usb-c' && select('Decoder says', 'contract')}
      {form.contract === 'pd' && text('Offer', 'contractV', '20 V')}
      {form.contract === 'pd' && text('Offer, current', 'contractA', '3 A')}
      {select('Instrument', 'instrument')}
      {text('Resolution', 'resolutionA', '1 mA')}
      <Field label="Unplugged" hint="separate with commas">
        <input
          className="field"
          value={form.unplugged.join(', ')}
          onChange={(e) => set({ unplugged: e.target.value.split(',').map((x) => x.trimStart()) })}
          onBlur={() => set({ unplugged: form.unplugged.map((x) => x.trim()).filter(Boolean) })}
        />
      </Field>
      <FollowsSelect actions={actions} value={form.after} onChange={(after) => set({ after })} />
    </div>
  );
}
