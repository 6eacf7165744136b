'use client';

import { useState } from 'react';
import { saveSetup } from '@/features/job/actions';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView, RunView } from '@/features/job/view';
import { Dialog } from '@/ui/dialog';
import { SetupFields } from './run-form';
import { setupFormOf, type SetupForm } from './setup-form';

/** What the decoder said, as the form has it. */
function agreed(contract: RunView['run']['contract']): Pick<SetupForm, 'contract' | 'contractV' | 'contractA'> {
  return {
    contract: contract?.kind ?? null,
    contractV: contract?.kind === 'pd' && contract.volts !== null ? `${contract.volts} V` : '',
    contractA: contract?.kind === 'pd' && contract.amps !== null ? `${contract.amps} A` : '',
  };
}

/** Corrects how a run was made. */
export function SetupDialog({ view, chosen, onClose }: { view: JobView; chosen: RunView; onClose: () => void }) {
  const [form, setForm] = useState<SetupForm>(() => ({
    ...setupFormOf(chosen),
    ...agreed(chosen.run.contract),
    after: chosen.run.after,
  }));
  // As it was when this was opened: what others save meanwhile must not be overwritten unseen.
  const [version] = useState(chosen.version);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const submit = (): void =>
    save(
      (confirmed) =>
        saveSetup({
          runId: chosen.id,
          version,
          setup: { ...form, unplugged: form.unplugged.filter(Boolean) },
          confirmed,
        }),
      { done: 'Setup saved and reassessed.', then: onClose, failed: setProblem },
    );
  return (
    <Dialog open onClose={onClose} title={`Setup of run ${chosen.run.id}`} wide>
      <form
        className="mt-3 grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <SetupFields form={form} set={(change) => setForm({ ...form, ...change })} actions={view.actions} />
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
