'use client';

import { X } from 'lucide-react';
import Link from 'next/link';
import { useSyncExternalStore } from 'react';
import { localMoment } from '@/ui/local-time';
import { Silhouette } from '@/ui/silhouette';
import { setRemoved } from './actions';
import { useSave } from './use-save';
import { AddPicture, Pictures } from './pictures';
import type { PictureView, StoryEntry } from './view';

/** Entries that a picture can belong to. */
const pictured = /^(intake|run-|reading-|action-|check-)/;
const never = (): (() => void) => () => undefined;

/** The job's story in time; a run is chosen by its face. */
export function Story({
  jobId,
  entries,
  pictures,
  chosen,
}: {
  jobId: number;
  entries: StoryEntry[];
  pictures: readonly PictureView[];
  chosen: string | null;
}) {
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  return (
    <ol
      aria-label="Story"
      className="relative flex flex-col gap-3 pl-5 text-sm before:absolute before:inset-y-1 before:left-[5px] before:w-0.5 before:bg-line lg:max-h-[690px] lg:overflow-x-hidden lg:overflow-y-auto"
    >
      {entries.map((e) => {
        const isChosen = e.runKey !== null && e.runKey === chosen;
        const time = inBrowser ? localMoment(e.at) : '';
        return (
          <li key={e.key} className="group relative">
            <span
              aria-hidden
              className={`absolute top-1.5 -left-5 size-2.5 rounded-full border-2 ${
                isChosen
                  ? 'border-umbra bg-umbra'
                  : e.kind === 'opened'
                    ? 'border-decide bg-decide'
                    : 'border-edge bg-paper'
              }`}
            />
            {e.runKey ? (
              <Link
                href={`/jobs/${jobId}?run=${encodeURIComponent(e.runKey)}`}
                scroll={false}
                aria-current={isChosen ? 'true' : undefined}
                className="block rounded-md pr-6 hover:underline"
              >
                <Body entry={e} time={time} />
                {e.silhouette && (
                  <Silhouette
                    path={e.silhouette}
                    label={e.detail}
                    strong={isChosen}
                    className="mt-1 h-7 w-[150px] max-w-full"
                  />
                )}
              </Link>
            ) : (
              <div className="pr-6">
                <Body entry={e} time={time} />
              </div>
            )}
            <Pictures jobId={jobId} pictures={pictures.filter((p) => p.of === (e.key === 'intake' ? 'job' : e.key))} />
            {pictured.test(e.key) && (
              <span className="absolute -top-1 right-6 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
                <AddPicture jobId={jobId} of={e.key === 'intake' ? 'job' : e.key.replace('-', ':')} what={e.title} />
              </span>
            )}
            {e.removable && <RemoveButton jobId={jobId} entry={e} />}
          </li>
        );
      })}
    </ol>
  );
}

function Body({ entry, time }: { entry: StoryEntry; time: string }) {
  return (
    <>
      <span className="block break-words">{entry.title}</span>
      <small className="block break-words text-muted">
        {time && `${time} · `}
        {entry.detail}
      </small>
    </>
  );
}

function RemoveButton({ jobId, entry }: { jobId: number; entry: StoryEntry }) {
  const { saving, save } = useSave();
  const target = entry.removable!;
  const set = (removed: boolean) => setRemoved({ jobId, table: target.table, entryId: target.id, removed });
  return (
    <button
      type="button"
      disabled={saving}
      aria-label={`Take out ${entry.title}`}
      title="Take out (can be undone)"
      className="absolute top-0 right-0 grid size-7 place-items-center rounded-md text-muted opacity-0 group-hover:opacity-100 hover:text-ink focus-visible:opacity-100"
      onClick={() =>
        save(() => set(true), { done: `${entry.title} was taken out.`, undo: () => save(() => set(false)) })
      }
    >
      <X size={15} aria-hidden />
    </button>
  );
}
