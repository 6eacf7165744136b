'use client';

import { ActionDialog } from './action-dialog';
import { CheckDialog } from './check-dialog';
import { EditReading } from './edit-reading';
import { InjectionDialog } from './injection-dialog';
import { RetypeRun } from './retype-run';
import type { EntryForm } from './story-view';
import type { JobView } from './view';

/** The form of an entry, filled in as it was. */
export function EditEntry({
  view,
  id,
  form,
  onClose,
}: {
  view: JobView;
  id: number;
  form: EntryForm;
  onClose: () => void;
}) {
  switch (form.of) {
    case 'check':
      return <CheckDialog view={view} edit={{ id, values: form.values }} onClose={onClose} />;
    case 'injection':
      return <InjectionDialog view={view} edit={{ id, values: form.values }} onClose={onClose} />;
    case 'action':
      return <ActionDialog view={view} edit={{ id, values: form.values }} onClose={onClose} />;
    case 'run':
      return <RetypeRun jobId={view.job.id} id={id} line={form.values.line} onClose={onClose} />;
    default:
      return <EditReading jobId={view.job.id} reading={{ id, ...form.values }} onClose={onClose} />;
  }
}
