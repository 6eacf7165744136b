'use client';

import { circuitNames, formatPercent } from '@umbral/core/words';
import Link from '@/ui/link';
import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import type { JobParts } from '@/server/work/day/job-parts';
import type { PartView } from '@/server/work/day/parts';
import { Likely } from '@/ui/parts';
import { putBack, reserve, takeFromShelf, takeOffDonor } from './actions';
import { AmountDialog } from './amount-dialog';

/** What a job is likely to need, what is there, and what was taken for it. */
export function JobPartsView({ view }: { view: JobParts }) {
  const [wanted, setWanted] = useState('');
  const [text, setText] = useState('');
  const asked = text.trim().toLowerCase();
  const found =
    asked === '' ? [] : view.others.filter((p) => `${p.name} ${p.number}${p.suffix}`.toLowerCase().includes(asked));
  return (
    <div className="mt-3 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_400px]">
      <section aria-label="Likely needed" className="card grid min-w-0 content-start gap-2">
        <div className="flex flex-wrap items-center gap-3">
          <h2 className="text-lg">Likely needed</h2>
          <label className="ml-auto flex items-center gap-2 text-sm">
            Suffix of the old part
            <input className="field min-h-9 w-24" value={wanted} onChange={(e) => setWanted(e.target.value)} />
          </label>
        </div>
        <p className="text-sm text-muted">
          Note the number, suffix and orientation before you remove a part. Hot air burns and gives off fumes:
          extraction on, battery out.
        </p>
        {view.likely.length === 0 && (
          <p>
            The <Link href="/parts">shelf</Link> has no part for the suspects.
          </p>
        )}
        <ul className="grid gap-1.5">
          {view.likely.map((l) => (
            <li key={l.part.id}>
              <Likely p={l.p}>
                <PartLine
                  part={l.part}
                  says={`${formatPercent(l.p)} · ${circuitNames[l.part.circuit]}`}
                  free={l.free}
                  reserved={l.reservedHere}
                  taken={l.takenHere}
                  view={view}
                  wanted={wanted}
                />
              </Likely>
            </li>
          ))}
        </ul>
      </section>
      <div className="grid min-w-0 content-start gap-3.5">
        <section aria-label="Another part" className="card grid gap-2">
          <h2 className="text-lg">Another part</h2>
          <input
            className="field"
            aria-label="Search the shelf"
            placeholder="name or number"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          <ul className="grid gap-1.5">
            {found.slice(0, 8).map((part) => (
              <li key={part.id} className="rounded-xl border border-line">
                <PartLine
                  part={part}
                  says={circuitNames[part.circuit]}
                  free={part.onHand - part.reserved}
                  reserved={0}
                  taken={0}
                  view={view}
                  wanted={wanted}
                />
              </li>
            ))}
          </ul>
          {asked !== '' && found.length === 0 && <p className="text-muted">No match on the shelf.</p>}
        </section>
        <DonorParts view={view} />
      </div>
    </div>
  );
}

function PartLine({
  part,
  says,
  free,
  reserved,
  taken,
  view,
  wanted,
}: {
  part: PartView;
  says: string;
  free: number;
  reserved: number;
  taken: number;
  view: JobParts;
  wanted: string;
}) {
  const { saving, save } = useSave();
  const [asks, setAsks] = useState<string[]>([]);
  const [isOrdering, setOrdering] = useState(false);
  const { jobId } = view;
  const take = (confirmed: boolean): void =>
    save(() => takeFromShelf({ partId: part.id, jobId, count: 1, wanted, confirmed }), { then: setAsks });
  const there = [
    `${part.onHand} on hand`,
    free !== part.onHand ? `${free} free` : '',
    part.ordered > 0 ? `${part.ordered} on order` : '',
    reserved > 0 ? `${reserved} reserved here` : '',
    taken > 0 ? `${taken} taken here` : '',
  ].filter(Boolean);
  return (
    <div className="px-3 py-1.5">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <strong>{part.name}</strong>
        <span>
          {part.number} <strong>{part.suffix}</strong>
        </span>
        <span className="text-sm">{says}</span>
      </p>
      <p className="text-sm">
        {there.join(' · ')}
        {part.shelf && ` · ${part.shelf}`}
      </p>
      {!view.isClosed && (
        <div className="mt-1 flex flex-wrap gap-1.5">
          <button
            type="button"
            className="button min-h-9 px-2.5"
            disabled={saving}
            aria-label={`Take ${part.name}`}
            onClick={() => take(false)}
          >
            Take one
          </button>
          <button
            type="button"
            className="button min-h-9 px-2.5"
            disabled={saving}
            aria-label={reserved > 0 ? `Return ${part.name} to the shelf` : `Reserve ${part.name}`}
            onClick={() => save(() => reserve(part.id, jobId, reserved > 0 ? 0 : 1))}
          >
            {reserved > 0 ? 'Cancel reservation' : 'Reserve'}
          </button>
          <button
            type="button"
            className="button min-h-9 px-2.5"
            aria-label={`Order ${part.name}`}
            onClick={() => setOrdering(true)}
          >
            Order
          </button>
          {taken > 0 && (
            <button
              type="button"
              className="button min-h-9 px-2.5"
              disabled={saving}
              aria-label={`Return ${part.name}`}
              onClick={() => save(() => putBack(part.id, jobId))}
            >
              Return
            </button>
          )}
        </div>
      )}
      {asks.map((line) => (
        <p key={line} role="alert" className="mt-1 flex flex-wrap items-center gap-2 font-semibold text-decide">
          {line}
          <button type="button" className="button min-h-9" disabled={saving} onClick={() => take(true)}>
            Take it
          </button>
        </p>
      ))}
      {isOrdering && <AmountDialog part={part} does="order" jobId={jobId} onClose={() => setOrdering(false)} />}
    </div>
  );
}

function DonorParts({ view }: { view: JobParts }) {
  const { saving, save } = useSave();
  return (
    <section aria-label="On donor boards" className="card grid gap-2">
      <h2 className="text-lg">On donor boards</h2>
      {view.donors.length === 0 && <p className="text-muted">Nothing for this kind of device.</p>}
      <ul className="grid gap-1.5">
        {view.donors.map((d) => (
          <li key={d.id} className="flex flex-wrap items-center gap-2 border-b border-line pb-1 last:border-0">
            <span className="min-w-0 flex-1">
              <strong>{d.what}</strong> {d.number}
              {d.suffix}
              <span className="block text-sm text-muted">
                {d.donor}
                {d.shelf && `, ${d.shelf}`} · {circuitNames[d.circuit]} {d.p > 0 ? formatPercent(d.p) : ''}
              </span>
            </span>
            {!view.isClosed && (
              <button
                type="button"
                className="button min-h-9"
                disabled={saving}
                aria-label={`Take ${d.what} off ${d.donor}`}
                onClick={() =>
                  save(() => takeOffDonor(d.id, view.jobId), {
                    done: 'Taken. A donor part makes the result less certain. Note it with the repair.',
                  })
                }
              >
                Take off
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}
