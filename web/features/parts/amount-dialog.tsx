'use client';

import { useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { PartView } from '@/server/work/day/parts';
import { Dialog } from '@/ui/dialog';
import { counted, order } from './actions';
import { TextField } from '@/ui/kit/fields';

/** The day in a week, for an order whose day nobody typed yet. */
const inAWeek = (): string => new Date(Date.now() + 7 * 86_400_000).toISOString().slice(0, 10);

/** How many were counted, or are ordered for when. */
export function AmountDialog({
  part,
  does,
  jobId,
  onClose,
}: {
  part: PartView;
  does: 'count' | 'order';
  /** The job that it is ordered for; null for the shelf. */
  jobId: number | null;
  onClose: () => void;
}) {
  const [amount, setAmount] = useState(String(does === 'count' ? part.onHand : Math.max(1, part.short)));
  const [day, setDay] = useState(inAWeek);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const work = () =>
    does === 'count'
      ? counted({ partId: part.id, counted: amount })
      : order({
          partId: part.id,
          count: amount,
          dueOn: day,
          jobId,
        });
  return (
    <Dialog open title={`${does === 'count' ? 'Count' : 'Order'}: ${part.name}`} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(work, { done: does === 'count' ? 'Counted.' : 'Ordered.', then: onClose, failed: setProblem });
        }}
      >
        <TextField
          label={does === 'count' ? 'Counted' : 'Quantity'}
          inputMode="numeric"
          value={amount}
          onValue={setAmount}
        />
        {does === 'order' && <TextField label="Expected on" type="date" value={day} onValue={setDay} />}
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
