'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { editJob } from './actions';
import { IntakeForm, type IntakeValues } from './intake-form';
import { knownOf } from './known-fields';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from './view';

export function IntakeDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  // As it was when this was opened: what others save meanwhile is shown anew, and must not be overwritten unseen.
  const [version] = useState(view.job.version);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const { device, intake, complaintKind } = view.value;
  const { liquid, dropped, priorRepair, batterySwollen, batteryIsolated, dataWanted, notes, heard } = intake;
  const start: IntakeValues = {
    label: view.job.label,
    deviceClass: device.class,
    model: device.model,
    serial: device.serial,
    complaint: view.job.complaint,
    complaintKind: complaintKind ?? '',
    known: knownOf(device.expect),
    technician: view.form.technician,
    dueOn: view.form.dueOn,
    intake: { liquid, dropped, priorRepair, batterySwollen, batteryIsolated, dataWanted, notes, heard },
  };
  return (
    <Dialog open title={`Intake of job ${view.job.number}`} onClose={onClose} wide>
      <IntakeForm
        start={start}
        saving={saving}
        problem={problem}
        word="Save"
        onSave={(job) =>
          save(() => editJob({ jobId: view.job.id, version, job }), {
            done: 'Intake saved and reassessed.',
            then: onClose,
            failed: setProblem,
          })
        }
      />
    </Dialog>
  );
}
