'use client';

import { Ellipsis } from 'lucide-react';
import dynamic from 'next/dynamic';
import { useSearchParams } from 'next/navigation';
import { useState } from 'react';
import { useKey } from '@/ui/keys';
import { ActionMenu } from '@/ui/menu';
import type { MenuEntry } from '@/ui/menu-props';
import { useToast } from '@/ui/toast';
import { waitOver } from '@/features/waits/actions';
import { takeFromJob } from '@/features/practice/actions';
import { openDevice, reopenJob, setTrashed } from '@/features/job/actions';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from '@/features/job/view';
import { useGo } from '@/ui/link';

// Dialogs are loaded when they are opened, so that the page itself stays light.
const ActionDialog = dynamic(() => import('@/features/job/action-dialog').then((m) => m.ActionDialog), { ssr: false });
const CheckDialog = dynamic(() => import('@/features/job/check-dialog').then((m) => m.CheckDialog), { ssr: false });
const InjectionDialog = dynamic(() => import('@/features/job/injection-dialog').then((m) => m.InjectionDialog), {
  ssr: false,
});
const IntakeDialog = dynamic(() => import('@/features/job/intake-dialog').then((m) => m.IntakeDialog), { ssr: false });
const OutcomeDialog = dynamic(() => import('@/features/job/outcome-dialog').then((m) => m.OutcomeDialog), {
  ssr: false,
});
const ReadingDialog = dynamic(() => import('@/features/job/reading-dialog').then((m) => m.ReadingDialog), {
  ssr: false,
});
const WaitDialog = dynamic(() => import('@/features/job/wait-dialog').then((m) => m.WaitDialog), { ssr: false });

type Open = 'check' | 'injection' | 'reading' | 'action' | 'outcome' | 'intake' | 'wait' | null;

/** What can be entered at any time. */
export function JobMenu({ view, isLead }: { view: JobView; isLead: boolean }) {
  const search = useSearchParams();
  // A link from the page for proving leads here with the dialog open.
  const [open, setOpen] = useState<Open>(search.get('close') === '1' && !view.job.isClosed ? 'outcome' : null);
  const { save } = useSave();
  const go = useGo();
  const toast = useToast();
  const { job, practice } = view;
  useKey('x', 'add a repair or change', () => setOpen('action'));
  useKey('o', 'close the job with its outcome', () => practice || setOpen('outcome'));
  const close = (): void => setOpen(null);
  const trash = (): void =>
    save(() => setTrashed({ jobId: job.id, trashed: true }), {
      then: () => {
        go('/');
        toast({
          tone: 'done',
          text: `Job ${job.number} is in the trash.`,
          undo: () => save(() => setTrashed({ jobId: job.id, trashed: false })),
        });
      },
    });
  const endWait = (): void =>
    save(() => waitOver(job.id), {
      done: 'Back on the bench.',
    });
  const freeze = (): void =>
    save(() => openDevice(job.id), { done: 'The current verdict is saved as the verdict when opened.' });
  const practise = (): void => save(() => takeFromJob(job.id), { then: (id) => go(`/jobs/${id}`) });
  const reopen = (): void =>
    save(() => reopenJob({ jobId: job.id, version: job.version }), { done: 'The job was reopened.' });
  // What a unit to practise on has nothing of.
  const shopEntries: MenuEntry[] = [
    ...(job.waits.length > 0 ? [{ text: 'End the wait', act: endWait }] : []),
    { text: 'Add a wait', act: () => setOpen('wait') },
    { text: 'Worth (y)', act: () => go(`/jobs/${job.id}/worth`) },
    { text: 'Parts', act: () => go(`/jobs/${job.id}/parts`) },
    { text: 'Report', act: () => go(`/jobs/${job.id}/report`) },
    ...(isLead && job.outcomeCircuit ? [{ text: 'Practise this fault', act: practise }] : []),
    ...(job.isClosed ? [{ text: 'Reopen the job', act: reopen }] : []),
  ];
  const entries: MenuEntry[] = [
    ...(practice ? [] : [{ text: 'Add an injection (j)', act: () => setOpen('injection') }]),
    { text: 'Edit intake', act: () => setOpen('intake') },
    ...(job.isOpened ? [] : [{ text: 'Mark as opened', act: freeze }]),
    ...(practice ? [] : shopEntries),
    ...(isLead ? [{ text: 'Export as a case package', href: `/api/jobs/${job.id}/package` }] : []),
    { text: 'Move to trash', act: trash, danger: true },
  ];
  return (
    <div className="flex flex-wrap gap-1.5">
      {!practice && <SeenButtons open={setOpen} />}
      <button
        type="button"
        className="button min-h-9"
        title="Add a repair or change (x)"
        onClick={() => setOpen('action')}
      >
        Change
      </button>
      {!job.isClosed && !practice && (
        <button
          type="button"
          className="button min-h-9"
          title="Close with its outcome (o)"
          onClick={() => setOpen('outcome')}
        >
          Close
        </button>
      )}
      <ActionMenu
        label="More"
        icon={<Ellipsis size={18} aria-hidden />}
        entries={entries}
        className="button min-h-9 px-2"
        anchor="bottom end"
      />
      {open === 'check' && <CheckDialog view={view} onClose={close} />}
      {open === 'injection' && <InjectionDialog view={view} onClose={close} />}
      {open === 'reading' && <ReadingDialog view={view} onClose={close} />}
      {open === 'action' && <ActionDialog view={view} onClose={close} />}
      {open === 'outcome' && <OutcomeDialog view={view} onClose={close} />}
      {open === 'intake' && <IntakeDialog view={view} onClose={close} />}
      {open === 'wait' && <WaitDialog view={view} onClose={close} />}
    </div>
  );
}

/** What somebody saw at a real device. A practice unit is asked at its own bench instead. */
function SeenButtons({ open }: { open: (what: 'check' | 'reading' | 'injection') => void }) {
  useKey('c', 'add a check', () => open('check'));
  useKey('m', 'add a reading', () => open('reading'));
  useKey('j', 'add an injection: volts, amperes, what got warm', () => open('injection'));
  return (
    <>
      <button type="button" className="button min-h-9" title="Add a check (c)" onClick={() => open('check')}>
        Check
      </button>
      <button type="button" className="button min-h-9" title="Add a reading (m)" onClick={() => open('reading')}>
        Reading
      </button>
    </>
  );
}
