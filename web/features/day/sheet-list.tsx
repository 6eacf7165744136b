'use client';

import {
  closestCenter,
  DndContext,
  KeyboardSensor,
  PointerSensor,
  useSensor,
  useSensors,
  type Announcements,
  type DragEndEvent,
  type UniqueIdentifier,
} from '@dnd-kit/core';
import { SortableContext, sortableKeyboardCoordinates, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { formatMoney } from '@umbral/core/words';
import { useState } from 'react';
import type { Bench } from './queries';
import { LocalDate } from '@/ui/kit/local-date';
import { Hazard } from '@/ui/parts';
import { useSave } from '@/ui/kit/use-save';
import { jobNumber } from '@/features/words';
import type { RunSheet } from '@/server/work/day/sheet';
import Link from '@/ui/link';
import { pin, priceOf, snooze } from './actions';
import { draggedOrder, passedHazards, sheetFilters, type SheetFilter } from './filters';
import { SheetLine } from './sheet-line';

const instructions = {
  draggable: 'Press space to pick up the job and the arrow keys to move it. Space drops it, Escape cancels.',
};

/** What is said of a job that is being moved, for who does not see it. */
function announcements(order: readonly number[]): Announcements {
  const at = (id: UniqueIdentifier): string => `Place ${order.indexOf(Number(id)) + 1} of ${order.length}.`;
  return {
    onDragStart: ({ active }) => `Picked up. ${at(active.id)}`,
    onDragOver: ({ over }) => (over ? at(over.id) : 'Outside the list.'),
    onDragEnd: ({ over }) => (over ? `Dropped. ${at(over.id)}` : 'Not moved.'),
    onDragCancel: () => 'Not moved.',
  };
}

/** The order of work, which can be dragged by mouse and by keys; what that costs is said before it is kept. */
export function SheetList({
  bench,
  sheet,
  filter,
  personId,
}: {
  bench: Bench;
  sheet: RunSheet;
  filter: SheetFilter;
  personId: number;
}) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const { saving, save } = useSave();
  const [asked, setAsked] = useState<{ first: number[]; says: string; unsafe: number[] } | null>(null);
  const byId = new Map(bench.jobs.map((j) => [j.id, j]));
  const ready = sheet.entries.filter((e) => e.isReady);
  const order = ready.map((e) => e.jobId);
  const shown = ready.filter((e) => byId.has(e.jobId) && sheetFilters[filter].fits(e));
  const pinned = sheet.entries.filter((e) => e.isPinned).map((e) => e.jobId);
  const drop = ({ active, over }: DragEndEvent): void => {
    if (!over || active.id === over.id) return;
    const first = draggedOrder(order, Number(active.id), Number(over.id));
    if (first.length === 0) return;
    const unsafe = passedHazards(order, first, (id) => byId.get(id)?.isHazard === true);
    save(() => priceOf({ jobs: first }), { then: ({ says }) => setAsked({ first, says, unsafe }) });
  };
  const keep = (jobs: number[]): void => save(() => pin({ jobs }), { then: () => setAsked(null) });
  return (
    <>
      {asked && (
        <div
          role="status"
          className="mb-2 flex flex-wrap items-center gap-3 rounded-xl border border-decide bg-decide-soft px-3 py-2"
        >
          <span>
            {jobNumber(asked.first[asked.first.length - 1])} to place {asked.first.length}. {asked.says}
          </span>
          {asked.unsafe.length > 0 && (
            <Hazard>
              Safety first: {asked.unsafe.map((id) => `${jobNumber(id)} ${byId.get(id)?.label ?? ''}`).join(', ')} has a
              swollen battery that is still in. Take it out and store it safely before you start anything else.
            </Hazard>
          )}
          <button type="button" className="button min-h-9" disabled={saving} onClick={() => keep(asked.first)}>
            {asked.unsafe.length > 0 ? 'Keep this order all the same' : 'Keep this order'}
          </button>
          <button type="button" className="button button-quiet" onClick={() => setAsked(null)}>
            Cancel
          </button>
        </div>
      )}
      {pinned.length > 0 && (
        <p className="mb-2 flex flex-wrap items-center gap-2 text-sm text-muted">
          {pinned.length} moved by hand{sheet.pinsCost >= 1 ? `, which costs ${formatMoney(sheet.pinsCost)}` : ''}.
          <button type="button" className="button min-h-9" disabled={saving} onClick={() => keep([])}>
            Use the recommended order
          </button>
        </p>
      )}
      {shown.length === 0 && (
        <p className="card text-muted">
          {ready.length === 0 ? 'Nothing can be done now. Every job is waiting.' : 'No job matches. Show everything.'}
        </p>
      )}
      <DndContext
        id="run-sheet"
        sensors={sensors}
        collisionDetection={closestCenter}
        onDragEnd={drop}
        accessibility={{ announcements: announcements(order), screenReaderInstructions: instructions }}
      >
        <SortableContext items={shown.map((e) => e.jobId)} strategy={verticalListSortingStrategy}>
          <ol className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
            {shown.map((entry) => {
              const job = byId.get(entry.jobId);
              return (
                job && (
                  <SheetLine
                    key={entry.jobId}
                    entry={entry}
                    job={job}
                    place={order.indexOf(entry.jobId) + 1}
                    personId={personId}
                    onPin={() =>
                      keep(entry.isPinned ? pinned.filter((id) => id !== entry.jobId) : [...pinned, entry.jobId])
                    }
                  />
                )
              );
            })}
          </ol>
        </SortableContext>
      </DndContext>
      {sheet.lacking.length > 0 && (
        <ul aria-label="Cannot be done here" className="mt-3 grid gap-1.5">
          {sheet.lacking.map(({ jobId, says }) => (
            <li key={jobId} className="rounded-xl border border-dashed border-line px-3 py-1.5">
              <Link href={`/jobs/${jobId}`} className="font-bold">
                {jobNumber(jobId)} {byId.get(jobId)?.label}
              </Link>{' '}
              <span className="text-muted">{says}</span>
            </li>
          ))}
        </ul>
      )}
      {sheet.snoozed.length > 0 && (
        <ul aria-label="Postponed" className="mt-3 grid gap-1.5">
          {sheet.snoozed.map(({ jobId, until }) => (
            <li
              key={jobId}
              className="flex flex-wrap items-center gap-x-3 rounded-xl border border-dashed border-line px-3 py-1"
            >
              <Link href={`/jobs/${jobId}`} className="min-w-0 flex-1 truncate font-bold">
                {jobNumber(jobId)} {byId.get(jobId)?.label}
              </Link>
              <span className="text-muted">
                postponed until <LocalDate iso={until} time />
              </span>
              <button
                type="button"
                className="button min-h-9"
                disabled={saving}
                onClick={() => save(() => snooze({ jobId, until: null }), { done: 'Back on the run sheet.' })}
              >
                Resume now
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
