'use client';

import type { UnnamedPlace } from '@umbral/core';
import { CornerDownRight, MapPin, Pencil, X } from 'lucide-react';
import dynamic from 'next/dynamic';
import Link from '@/ui/link';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import { circuitNames } from '@umbral/core/words';
import { localMoment } from '@/ui/local-time';
import { Silhouette } from '@/ui/silhouette';
import { ActionMenu } from '@/ui/menu';
import { moveEntry, setRemoved, setRunBefore } from './actions';
import type { PlaceToName } from './place-dialog';
import { EntriesUnderWay } from '@/ui/kit/under-way';
import { useSave } from '@/ui/kit/use-save';
import { AddPicture, Pictures } from './pictures';
import type { PictureView, StoryEntry } from './view';

const PlaceDialog = dynamic(() => import('./place-dialog').then((m) => m.PlaceDialog), { ssr: false });
const EditReading = dynamic(() => import('./edit-reading').then((m) => m.EditReading), { ssr: false });

/** Entries that a picture can belong to. */
const pictured = /^(intake|run-|reading-|action-|check-)/;
const never = (): (() => void) => () => undefined;

/** The job's story in time; a run is chosen by its face. */
export function Story({
  jobId,
  entries,
  unnamed,
  pictures,
  chosen,
  actions,
  runs,
}: {
  jobId: number;
  entries: StoryEntry[];
  unnamed: readonly UnnamedPlace[];
  pictures: readonly PictureView[];
  chosen: string | null;
  actions: readonly { key: string; words: string }[];
  runs: readonly { key: string; title: string }[];
}) {
  const inBrowser = useSyncExternalStore(
    never,
    () => true,
    () => false,
  );
  const list = useRef<HTMLOListElement>(null);
  // Only the list moves: what is chosen, else the newest, is in sight.
  useEffect(() => {
    const of = list.current;
    const item = of?.querySelector<HTMLElement>('[aria-current]')?.closest('li') ?? of?.lastElementChild;
    if (!of || !(item instanceof HTMLElement) || of.scrollHeight <= of.clientHeight) return;
    if (item.offsetTop < of.scrollTop || item.offsetTop + item.offsetHeight > of.scrollTop + of.clientHeight)
      of.scrollTop = item.offsetTop - of.clientHeight / 2;
    // Times stand there only in the browser, and make the list longer.
  }, [chosen, entries.length, inBrowser]);
  return (
    <ol
      ref={list}
      aria-label="History"
      className="relative flex flex-col gap-3 pl-5 text-sm before:absolute before:inset-y-1 before:left-[5px] before:w-0.5 before:bg-line lg:max-h-[690px] lg:overflow-x-hidden lg:overflow-y-auto"
    >
      {entries.map((e, k) => {
        // Said where it changes: a story of one person says the name once.
        const by = e.by !== '' && e.by !== entries[k - 1]?.by ? e.by : '';
        const isChosen = e.runKey !== null && e.runKey === chosen;
        const time = inBrowser ? localMoment(e.at) : '';
        const isChange = e.kind === 'action';
        return (
          <li
            key={e.key}
            title={e.by ? `Entered by ${e.by}` : undefined}
            className={`group relative ${isChange ? '-ml-5 rounded-lg border border-edge bg-raised py-1.5 pr-1 pl-5' : ''} ${e.epoch < actions.length ? 'text-muted' : ''}`}
          >
            {isChange && <span className="block text-xs font-semibold text-muted">Change {e.epoch}</span>}
            <span
              aria-hidden
              className={`absolute top-1.5 size-2.5 rounded-full border-2 ${isChange ? 'left-[2px]' : '-left-5'} ${
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
                <Body entry={e} time={time} by={by} />
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
                <Body entry={e} time={time} by={by} />
              </div>
            )}
            <Pictures jobId={jobId} pictures={pictures.filter((p) => p.of === (e.key === 'intake' ? 'job' : e.key))} />
            {pictured.test(e.key) && (
              <span className="absolute -top-1 right-6 opacity-0 group-focus-within:opacity-100 group-hover:opacity-100">
                <AddPicture jobId={jobId} of={e.key === 'intake' ? 'job' : e.key.replace('-', ':')} what={e.title} />
              </span>
            )}
            {e.place && <NetOfPlace jobId={jobId} place={e.place} unnamed={unnamed} />}
            {e.typed && <EditButton jobId={jobId} entry={e} />}
            {e.removable && <RemoveButton jobId={jobId} entry={e} />}
            {e.removable && actions.length > 0 && <MoveMenu jobId={jobId} entry={e} actions={actions} />}
            {e.change && runs.length > 1 && <RunBeforeMenu jobId={jobId} entry={e} runs={runs} />}
          </li>
        );
      })}
      <EntriesUnderWay />
    </ol>
  );
}

function Body({ entry, time, by }: { entry: StoryEntry; time: string; by: string }) {
  return (
    <>
      <span className="block break-words">{entry.title}</span>
      <small className="block break-words text-muted">
        {time && `${time} · `}
        {entry.detail}
        {by && ` · ${by}`}
      </small>
    </>
  );
}

const menuButton =
  'grid size-7 place-items-center rounded-md text-muted opacity-0 group-hover:opacity-100 hover:text-ink focus-visible:opacity-100';

function RemoveButton({ jobId, entry }: { jobId: number; entry: StoryEntry }) {
  const { saving, save } = useSave();
  const target = entry.removable!;
  const set = (removed: boolean) => setRemoved({ jobId, table: target.table, entryId: target.id, removed });
  return (
    <button
      type="button"
      disabled={saving}
      aria-label={`Delete ${entry.title}`}
      title="Delete (can be undone)"
      className={`absolute top-0 right-0 ${menuButton}`}
      onClick={() => save(() => set(true), { done: `${entry.title} was deleted.`, undo: () => save(() => set(false)) })}
    >
      <X size={15} aria-hidden />
    </button>
  );
}

/** Asks for the circuit of a place that has none yet; of one that has, it can be corrected. */
function NetOfPlace({
  jobId,
  place,
  unnamed,
}: {
  jobId: number;
  place: NonNullable<StoryEntry['place']>;
  unnamed: readonly UnnamedPlace[];
}) {
  const [asked, setAsked] = useState<PlaceToName | null>(null);
  const { where, circuit } = place;
  const ask = (): void =>
    setAsked({ where, circuit, guesses: unnamed.find((x) => where.startsWith(x.where))?.guesses ?? [] });
  return (
    <>
      {circuit === null ? (
        <button type="button" className="mt-0.5 text-left text-xs font-semibold text-decide underline" onClick={ask}>
          Which net is it on?
        </button>
      ) : (
        <button
          type="button"
          aria-label={`Change the net of ${where}`}
          title={`Net: ${circuitNames[circuit]}`}
          className={`absolute top-6 right-7 ${menuButton}`}
          onClick={ask}
        >
          <MapPin size={15} aria-hidden />
        </button>
      )}
      {asked && <PlaceDialog jobId={jobId} place={asked} onClose={() => setAsked(null)} />}
    </>
  );
}

function EditButton({ jobId, entry }: { jobId: number; entry: StoryEntry }) {
  const [open, setOpen] = useState(false);
  const { id, text } = entry.typed!;
  return (
    <>
      <button
        type="button"
        aria-label={`Edit ${entry.title}`}
        title="Edit"
        className={`absolute top-0 right-[3.25rem] ${menuButton}`}
        onClick={() => setOpen(true)}
      >
        <Pencil size={15} aria-hidden />
      </button>
      {open && (
        <EditReading
          jobId={jobId}
          reading={{ id, where: entry.place?.where ?? entry.title, text }}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  );
}

/** Puts an entry under another change, or before any. */
function MoveMenu({
  jobId,
  entry,
  actions,
}: {
  jobId: number;
  entry: StoryEntry;
  actions: readonly { key: string; words: string }[];
}) {
  const { save } = useSave();
  const target = entry.removable!;
  const places = [{ key: null as string | null, words: 'before any change' }, ...actions];
  const put = (after: string | null) => moveEntry({ jobId, table: target.table, entryId: target.id, after });
  const was = entry.epoch === 0 ? null : actions[entry.epoch - 1].key;
  return (
    <span className="absolute top-6 right-0">
      <ActionMenu
        label={`Move to another change: ${entry.title}`}
        icon={<CornerDownRight size={15} aria-hidden />}
        className={menuButton}
        anchor="bottom start"
        entries={places.flatMap(({ key, words }, k) =>
          k === entry.epoch
            ? []
            : [
                {
                  text: key === null ? `Belongs ${words}` : `Belongs after: ${words}`,
                  act: () =>
                    save(() => put(key), { done: `${entry.title} was moved.`, undo: () => save(() => put(was)) }),
                },
              ],
        )}
      />
    </span>
  );
}

/** Names the run that shows the state before a change. */
function RunBeforeMenu({
  jobId,
  entry,
  runs,
}: {
  jobId: number;
  entry: StoryEntry;
  runs: readonly { key: string; title: string }[];
}) {
  const { save } = useSave();
  const { key, runBefore } = entry.change!;
  return (
    <span className="absolute top-1 right-1">
      <ActionMenu
        label={`State before: ${entry.title}`}
        icon={<CornerDownRight size={15} aria-hidden />}
        className={menuButton}
        anchor="bottom start"
        entries={runs
          .filter((r) => r.key !== runBefore)
          .map((r) => ({
            text: `State before the run: ${r.title}`,
            act: () =>
              save(() => setRunBefore({ jobId, action: key, run: r.key }), { done: `State before: run ${r.key}.` }),
          }))}
      />
    </span>
  );
}
