'use client';

import { MoreHorizontal } from 'lucide-react';
import dynamic from 'next/dynamic';
import { useState } from 'react';
import { ActionMenu } from '@/ui/menu';
import { useSave } from '@/ui/kit/use-save';
import { confirmAction, moveEntry, setRunBefore, setVoid, takeBack, undo } from './actions';
import type { EntryView } from './story-view';
import type { JobView, StoryEntry } from './view';

const EditEntry = dynamic(() => import('./edit-entry').then((m) => m.EditEntry), { ssr: false });
const TimeDialog = dynamic(() => import('./time-dialog').then((m) => m.TimeDialog), { ssr: false });
const VoidDialog = dynamic(() => import('./void-dialog').then((m) => m.VoidDialog), { ssr: false });

const menuButton = 'grid size-8 place-items-center rounded-md text-muted hover:text-ink';

/** Tables whose entries belong to a state of the device that a change begins. */
type Moved = 'runs' | 'checks' | 'readings' | 'injections';
const moves = (table: EntryView['table']): table is Moved => table !== 'actions' && table !== 'proofs';

/** Everything that can be done to one entry of the story: correct it, move it, say that it counts for nothing, take it back. */
export function EntryMenu({ view, entry, row }: { view: JobView; entry: StoryEntry; row: EntryView }) {
  const { save } = useSave();
  const [open, setOpen] = useState<'edit' | 'time' | 'void' | null>(null);
  const { table, id: entryId, form, change, isPlanned, voidWhy } = row;
  const jobId = view.job.id;
  const of = { jobId, table, entryId };
  const undoOf = (step: number): void => save(() => undo({ jobId, step }));
  const move = (words: string, after: string | null) => ({
    text: words,
    act: () =>
      moves(table) &&
      save(() => moveEntry({ jobId, table, entryId, after }), { done: `${entry.title} was moved.`, undo: undoOf }),
  });
  const back = {
    text: isPlanned ? 'Drop the plan' : 'Entered by mistake',
    danger: true,
    act: () =>
      save(() => takeBack(of), {
        done: ({ moved }) =>
          moved > 0
            ? `${entry.title} was taken back. What followed it (${moved}) follows the change before it now.`
            : `${entry.title} was taken back.`,
        undo: ({ step }) => undoOf(step),
      }),
  };
  return (
    <>
      <ActionMenu
        label={`Correct or move: ${entry.title}`}
        icon={<MoreHorizontal size={16} aria-hidden />}
        className={menuButton}
        anchor="bottom end"
        entries={[
          ...(isPlanned
            ? [
                {
                  text: 'Done now',
                  act: () => save(() => confirmAction({ jobId, entryId }), { undo: undoOf, done: 'Done.' }),
                },
              ]
            : []),
          ...(form ? [{ text: 'Edit', act: () => setOpen('edit') }] : []),
          { text: 'Set the time', act: () => setOpen('time') },
          ...(moves(table) && view.actions.length > 0
            ? [
                ...(entry.epoch === 0 ? [] : [move('Move before any change', null)]),
                ...view.actions.flatMap(({ key, words }, k) =>
                  k + 1 === entry.epoch ? [] : [move(`Move after: ${words}`, key)],
                ),
              ]
            : []),
          ...(change && !isPlanned && view.runs.length > 1
            ? view.runs
                .filter((r) => r.key !== change.runBefore)
                .map((r) => ({
                  text: `State before it: ${r.title}`,
                  act: () =>
                    save(() => setRunBefore({ jobId, action: change.key, run: r.key }), {
                      done: `State before it: run ${r.key}.`,
                      undo: undoOf,
                    }),
                }))
            : []),
          ...(isPlanned
            ? []
            : voidWhy
              ? [
                  {
                    text: 'Counts again',
                    act: () =>
                      save(() => setVoid({ ...of, why: '' }), {
                        done: ({ says }) => says,
                        undo: ({ step }) => undoOf(step),
                      }),
                  },
                ]
              : [{ text: 'Void', act: () => setOpen('void') }]),
          back,
        ]}
      />
      {open === 'edit' && form && <EditEntry view={view} id={entryId} form={form} onClose={() => setOpen(null)} />}
      {open === 'time' && <TimeDialog of={of} title={entry.title} at={entry.at} onClose={() => setOpen(null)} />}
      {open === 'void' && <VoidDialog of={of} title={entry.title} onClose={() => setOpen(null)} />}
    </>
  );
}
