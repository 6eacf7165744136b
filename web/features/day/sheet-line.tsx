'use client';

import { useSortable } from '@dnd-kit/sortable';
import { equipmentTypes, workPlaces, sayMinutes } from '@umbral/core/words';
import { GripVertical, Hand, MoreVertical, Pin } from 'lucide-react';
import Link from '@/ui/link';
import type { BenchJob } from './queries';
import { sayDay } from '@/ui/local-time';
import { useSave } from '@/ui/kit/use-save';
import { classWords, jobNumber } from '@/features/words';
import type { SheetEntry } from '@/server/work/day/sheet';
import { ActionMenu } from '@/ui/menu';
import { Silhouette } from '@/ui/silhouette';
import { putJobDown, snooze, take } from './actions';

/** The start of the next day on this screen's clock. */
function tomorrow(): Date {
  const day = new Date();
  day.setDate(day.getDate() + 1);
  day.setHours(6, 0, 0, 0);
  return day;
}

/** One job of the run sheet: what comes next, why it stands here, and what can be done about that. */
export function SheetLine({
  entry,
  job,
  place,
  personId,
  onPin,
}: {
  entry: SheetEntry;
  job: BenchJob;
  /** Place in the whole order, from 1. */
  place: number;
  personId: number;
  onPin: () => void;
}) {
  const { attributes, listeners, setNodeRef, setActivatorNodeRef, transform, transition, isDragging } = useSortable({
    id: entry.jobId,
  });
  const { saving, save } = useSave();
  const { next, holder } = entry;
  const isMine = holder?.id === personId;
  const uses = next.uses.map((id) => equipmentTypes[id].name).join(', ');
  const putOff = (until: Date): void =>
    save(() => snooze({ jobId: job.id, until: until.toISOString() }), {
      done: 'Postponed.',
      undo: () => save(() => snooze({ jobId: job.id, until: null })),
    });
  return (
    <li
      ref={setNodeRef}
      style={{ transform: transform ? `translateY(${Math.round(transform.y)}px)` : undefined, transition }}
      className={`grid grid-cols-[28px_minmax(0,1fr)_auto] items-center gap-x-2 rounded-xl border ${
        job.isHazard ? 'border-decide bg-decide-soft' : 'border-line bg-surface'
      } ${isDragging ? 'z-10 shadow-lg' : ''}`}
    >
      <button
        type="button"
        ref={setActivatorNodeRef}
        className="flex h-full min-h-11 cursor-grab items-center justify-center rounded-l-xl text-muted hover:text-ink"
        {...attributes}
        {...listeners}
        aria-label={`Move ${job.label}, now at place ${place}`}
        title="Drag, or press space and the arrow keys"
      >
        <GripVertical size={18} aria-hidden />
      </button>
      <Link
        href={`/jobs/${job.id}`}
        className="grid min-w-0 items-center gap-x-4 gap-y-0.5 py-1.5 sm:grid-cols-[90px_minmax(0,1fr)_minmax(0,1.15fr)]"
      >
        <span className="hidden h-[30px] sm:block">
          {job.silhouette ? (
            <Silhouette
              path={job.silhouette}
              label={`Last run: ${job.pattern ?? 'not recognised'}`}
              className="h-full w-[90px]"
            />
          ) : (
            <span className="flex h-full items-center border-b-2 border-dotted border-line text-sm text-muted">
              no run yet
            </span>
          )}
        </span>
        <span className="min-w-0">
          <span className="block font-bold lg:truncate">
            <span className="text-muted">{jobNumber(job.id)}</span> {job.label}
          </span>
          <span className="block truncate text-sm text-muted">
            {classWords[job.deviceClass]} · {job.call ?? `“${job.complaint || 'no complaint noted'}”`}
          </span>
        </span>
        <span className="min-w-0">
          <span className="block">
            {next.name}
            <span className="text-muted">
              {' '}
              · {sayMinutes(next.minutes)}, {workPlaces[next.place].name}
            </span>
          </span>
          <span
            className={`block text-sm ${job.isOverdue || job.isHazard || entry.isLate ? 'font-semibold text-decide' : 'text-muted'}`}
            title={entry.why}
          >
            {entry.why}
            {job.dueOn && !/due/i.test(entry.why) && ` Due ${sayDay(job.dueOn)}.`}
          </span>
        </span>
      </Link>
      <span className="flex items-center gap-1 pr-1">
        {entry.isPinned && <Pin size={15} className="text-muted" aria-label="moved here by hand" />}
        {holder && !isMine && <span className="chip max-w-28 truncate">{holder.name}</span>}
        {(!holder || isMine) && (
          <button
            type="button"
            className="button button-quiet w-11 px-0"
            aria-pressed={isMine}
            aria-label={isMine ? `Put ${job.label} down` : `Take ${job.label} in hand`}
            title={isMine ? 'You have this job in hand. Put it down' : 'Take it in hand'}
            disabled={saving}
            onClick={() => save(() => (isMine ? putJobDown(job.id) : take({ jobId: job.id, kind: next.work })))}
          >
            <Hand size={18} aria-hidden />
          </button>
        )}
        <ActionMenu
          label={`More for ${job.label}`}
          className="button button-quiet w-11 px-0"
          anchor="bottom end"
          icon={<MoreVertical size={18} aria-hidden />}
          entries={[
            { text: entry.isPinned ? 'Use the recommended place' : 'Move to the top', act: onPin },
            { text: 'Postpone for an hour', act: () => putOff(new Date(Date.now() + 3_600_000)) },
            { text: 'Postpone until tomorrow', act: () => putOff(tomorrow()) },
            ...(uses === '' ? [] : [{ text: `Needs: ${uses}`, act: () => undefined }]),
          ]}
        />
      </span>
    </li>
  );
}
