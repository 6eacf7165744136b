'use client';

import { deviceClasses, equipmentIds, equipmentTypes, type DeviceClass, type EquipmentId } from '@umbral/core/words';
import { useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { classWords } from '@/features/words';
import type { KeptPolicy } from '@/server/work/shop/policy';
import { keepDay } from './actions';
import { sayDay, weekFrom } from './week';
import { WeekFields } from './week-fields';
import { AreaField, TextField } from '@/ui/kit/fields';

const lines = (text: string): string[] =>
  text
    .split(/[\n,]/)
    .map((line) => line.trim())
    .filter(Boolean);
const decimal = (text: string): string => text.trim().replace(',', '.');

/** By what the run sheet orders the day: hours, what is on the bench, what repairs bring, what waiting costs. */
export function DayForm({ policy }: { policy: KeptPolicy }) {
  const [zone, setZone] = useState(policy.hours.zone);
  const [week, setWeek] = useState(policy.hours.week.map(sayDay));
  const [closed, setClosed] = useState(policy.hours.closed.join('\n'));
  const [counts, setCounts] = useState(
    Object.fromEntries(equipmentIds.map((id) => [id, String(policy.equipment[id])])) as Record<EquipmentId, string>,
  );
  const [fees, setFees] = useState<Partial<Record<DeviceClass, string>>>(
    Object.fromEntries(Object.entries(policy.fees).map(([id, fee]) => [id, String(fee)])),
  );
  const [amounts, setAmounts] = useState({
    diagnosisFee: String(policy.diagnosisFee),
    quoteDays: String(policy.quoteDays),
    approval: String(Math.round(100 * policy.approval)),
    delayShare: String(Math.round(100 * policy.delayShare)),
    lateOnce: String(policy.lateOnce),
    lateDaily: String(policy.lateDaily),
  });
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const submit = (): void => {
    let hours: { zone: string; week: [string, string][][]; closed: string[] };
    try {
      hours = { zone: zone.trim(), week: weekFrom(week), closed: lines(closed) };
    } catch (error) {
      return setProblem((error as Error).message);
    }
    const typed = Object.fromEntries(Object.entries(amounts).map(([key, text]) => [key, decimal(text)]));
    const feesTyped = Object.fromEntries(deviceClasses.map((id) => [id, decimal(fees[id] ?? '')]));
    save(
      () =>
        keepDay({
          version: policy.version,
          hours,
          equipment: counts,
          fees: feesTyped,
          partCosts: policy.partCosts,
          waits: policy.waits,
          ...typed,
        }),
      { done: 'Saved. The run sheet is updated.', failed: setProblem, then: () => setProblem(null) },
    );
  };
  const amount = (key: keyof typeof amounts, label: string, hint: string) => (
    <TextField
      label={label}
      hint={hint}
      inputMode="decimal"
      value={amounts[key]}
      onValue={(value) => setAmounts({ ...amounts, [key]: value })}
    />
  );
  return (
    <form
      aria-label="The bench's day"
      className="grid gap-3.5 lg:grid-cols-2"
      onSubmit={(e) => {
        e.preventDefault();
        submit();
      }}
    >
      <section aria-label="Hours" className="card grid content-start gap-2">
        <h2 className="text-lg">Hours</h2>
        <WeekFields week={week} placeholder="closed" onChange={setWeek} />
        <TextField label="Time zone" value={zone} onValue={setZone} />
        <AreaField
          label="Closed on"
          hint="one date per line, such as 2026-12-24"
          className="min-h-20"
          value={closed}
          onValue={setClosed}
        />
      </section>
      <div className="grid content-start gap-3.5">
        <section aria-label="Equipment on the bench" className="card grid gap-2">
          <h2 className="text-lg">Equipment on the bench</h2>
          <div className="grid grid-cols-2 gap-2 sm:grid-cols-3">
            {equipmentIds.map((id) => (
              <TextField
                key={id}
                label={equipmentTypes[id].name}
                inputMode="numeric"
                value={counts[id]}
                onValue={(value) => setCounts({ ...counts, [id]: value })}
              />
            ))}
          </div>
        </section>
        <section aria-label="Repair fees" className="card grid gap-2">
          <h2 className="text-lg">Repair fees</h2>
          <div className="grid grid-cols-2 gap-2 sm:grid-cols-3">
            {deviceClasses.map((id) => (
              <TextField
                key={id}
                label={`Fee, ${classWords[id]}`}
                inputMode="decimal"
                placeholder={String(policy.fee)}
                value={fees[id] ?? ''}
                onValue={(value) => setFees({ ...fees, [id]: value })}
              />
            ))}
            {amount('diagnosisFee', 'Fee without a repair', '€')}
            {amount('quoteDays', 'A quote holds', 'days')}
            {amount('approval', 'Customers who agree to a quote', '%')}
          </div>
        </section>
        <section aria-label="Cost of waiting" className="card grid gap-2">
          <h2 className="text-lg">Cost of waiting</h2>
          <div className="grid grid-cols-2 gap-2">
            {amount('delayShare', 'One day of waiting', '% of the job’s value')}
            {amount('lateOnce', 'Late job', '€, once')}
            {amount('lateDaily', 'Each further day', '€, while it stays late')}
          </div>
          <FormFoot saving={saving} problem={problem} />
        </section>
      </div>
    </form>
  );
}
