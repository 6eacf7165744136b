'use client';

import type { UnnamedPlace } from '@umbral/core';
import { Link as Chain } from 'lucide-react';
import Link from '@/ui/link';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';
import dynamic from 'next/dynamic';
import { circuitNames } from '@umbral/core/words';
import { localMoment } from '@/ui/local-time';
import { Silhouette } from '@/ui/silhouette';
import { EntryMenu } from './entry-menu';
import type { PlaceToName } from './place-dialog';
import { EntriesUnderWay } from '@/ui/kit/under-way';
import { AddPicture, Pictures } from './pictures';
import type { JobView, StoryEntry } from './view';

const PlaceDialog = dynamic(() => import('./place-dialog').then((m) => m.PlaceDialog), { ssr: false });

/** Entries that a picture can belong to. */
const pictured = /^(intake|run-|reading-|action-|check-)/;
const never = (): (() => void) => () => undefined;

/** The job's story in time; a run is chosen by its face. Every entry can be corrected where it stands. */
export function Story({ view }: { view: JobView }) {
  const { story: entries, unnamed, pictures, actions } = view;
  const jobId = view.job.id;
  const chosen = view.chosen?.run.id ?? null;
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
        const counts = !e.entry?.voidWhy && !e.entry?.isPlanned;
        const isChange = e.kind === 'action' && counts;
        return (
          <li
            key={e.key}
            title={e.by ? `Entered by ${e.by}` : undefined}
            className={`group relative ${isChange ? '-ml-5 rounded-lg border border-edge bg-raised py-1.5 pr-1 pl-5' : ''} ${e.epoch < actions.length || !counts ? 'text-muted' : ''}`}
          >
            {isChange && <span className="block text-xs font-semibold text-muted">Change {e.epoch}</span>}
            {e.entry?.isPlanned && <span className="block text-xs font-semibold text-decide">Planned</span>}
            {e.entry?.voidWhy && <span className="block text-xs font-semibold">Void: {e.entry.voidWhy}</span>}
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
                className="block rounded-md pr-14 hover:underline"
              >
                <Body entry={e} time={time} by={by} isVoid={Boolean(e.entry?.voidWhy)} />
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
              <div className="pr-14">
                <Body entry={e} time={time} by={by} isVoid={Boolean(e.entry?.voidWhy)} />
              </div>
            )}
            <Pictures jobId={jobId} pictures={pictures.filter((p) => p.of === (e.key === 'intake' ? 'job' : e.key))} />
            {e.place && <NetOfPlace jobId={jobId} place={e.place} unnamed={unnamed} />}
            <span className="absolute -top-1 right-0 flex">
              {pictured.test(e.key) && (
                <AddPicture jobId={jobId} of={e.key === 'intake' ? 'job' : e.key.replace('-', ':')} what={e.title} />
              )}
              {e.entry && <EntryMenu view={view} entry={e} row={e.entry} />}
            </span>
          </li>
        );
      })}
      <EntriesUnderWay />
    </ol>
  );
}

function Body({ entry, time, by, isVoid }: { entry: StoryEntry; time: string; by: string; isVoid: boolean }) {
  return (
    <>
      <span className={`block break-words ${isVoid ? 'line-through' : ''}`}>{entry.title}</span>
      <small className="block break-words text-muted">
        {time && `${time} · `}
        {entry.detail}
        {by && ` · ${by}`}
      </small>
    </>
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
          className="mt-0.5 flex items-center gap-1 text-left text-xs text-muted hover:underline"
          onClick={ask}
        >
          <Chain size={11} aria-hidden /> {circuitNames[circuit]}
        </button>
      )}
      {asked && <PlaceDialog jobId={jobId} place={asked} onClose={() => setAsked(null)} />}
    </>
  );
}
