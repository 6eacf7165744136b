'use client';

import { countOf, circuitNames, formatPrice } from '@umbral/core/words';
import { Plus } from 'lucide-react';
import Link from '@/ui/link';
import { useState } from 'react';
import { sayDay } from '@/ui/local-time';
import { useSave } from '@/ui/kit/use-save';
import { jobNumber } from '@/features/words';
import type { DonorView } from '@/server/work/day/donors';
import type { PartView } from '@/server/work/day/parts';
import { Empty } from '@/ui/parts';
import { arrived, cancelled } from './actions';
import { OrderList } from './order-list';
import { AmountDialog } from './amount-dialog';
import { Donors } from './donors';
import { PartDialog } from './part-dialog';

type Open = { what: 'part'; part: PartView | null } | { what: 'count' | 'order'; part: PartView } | null;

/** What is on the shelf, what must be ordered, what comes, and what is still on donor boards. */
export function PartsView({ parts, donors }: { parts: PartView[]; donors: DonorView[] }) {
  const [open, setOpen] = useState<Open>(null);
  const [text, setText] = useState('');
  const [onlyShort, setOnlyShort] = useState(false);
  const { saving, save } = useSave();
  const asked = text.trim().toLowerCase();
  const shown = parts.filter(
    (p) =>
      (!onlyShort || p.short > 0) &&
      [p.name, p.number, p.suffix, p.model, p.shelf, circuitNames[p.circuit]].join(' ').toLowerCase().includes(asked),
  );
  const short = parts.filter((p) => p.short > 0).length;
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Parts</h1>
        <p className="text-muted">
          {parts.length} kinds · {short} to order · {countOf(donors.length, 'donor board')}
        </p>
        <button
          type="button"
          className="button button-main ml-auto"
          onClick={() => setOpen({ what: 'part', part: null })}
        >
          <Plus size={17} aria-hidden /> New part
        </button>
      </div>
      {parts.length === 0 && (
        <Empty title="No parts yet">
          <p>Add the parts your repairs need. A job then shows which parts it probably needs and what is in stock.</p>
        </Empty>
      )}
      {parts.length > 0 && (
        <section aria-label="Shelf" className="card relative mt-3 overflow-x-auto">
          <div className="mb-2 flex flex-wrap items-center gap-2">
            <label className="flex items-center gap-2">
              Search <input className="field min-h-9 w-56" value={text} onChange={(e) => setText(e.target.value)} />
            </label>
            <button
              type="button"
              className="button min-h-9 font-medium"
              aria-pressed={onlyShort}
              onClick={() => setOnlyShort(!onlyShort)}
            >
              To order
            </button>
          </div>
          <table className="w-full">
            <caption className="sr-only">Parts on the shelf</caption>
            <thead className="text-left text-sm text-muted">
              <tr>
                <th scope="col" className="font-normal">
                  Part
                </th>
                <th scope="col" className="font-normal">
                  Number
                </th>
                <th scope="col" className="font-normal">
                  Circuit
                </th>
                <th scope="col" className="text-right font-normal">
                  Price
                </th>
                <th scope="col" className="text-right font-normal">
                  On hand
                </th>
                <th scope="col" className="text-right font-normal">
                  Reserved
                </th>
                <th scope="col" className="text-right font-normal">
                  Minimum
                </th>
                <th scope="col" className="font-normal">
                  <span className="sr-only">Action</span>
                </th>
              </tr>
            </thead>
            <tbody>
              {shown.map((p) => (
                <tr key={p.id} className="border-t border-line align-top">
                  <th scope="row" className="py-1 pr-3 text-left">
                    {p.name}
                    <span className="block text-sm font-normal text-muted">
                      {[p.model, p.shelf, p.supplier].filter(Boolean).join(' · ')}
                    </span>
                    {p.orders.map((o) => (
                      <span key={o.id} className="flex flex-wrap items-center gap-2 text-sm font-normal">
                        {o.count} on order for {sayDay(o.dueOn)}
                        {o.jobId !== null && <Link href={`/jobs/${o.jobId}`}>{jobNumber(o.jobId)}</Link>}
                        <button
                          type="button"
                          className="button min-h-8 px-2"
                          disabled={saving}
                          aria-label={`${p.name}: the order arrived`}
                          onClick={() => save(() => arrived(o.id), { done: 'Added to the shelf.' })}
                        >
                          Arrived
                        </button>
                        <button
                          type="button"
                          className="button button-quiet min-h-8 px-2"
                          disabled={saving}
                          aria-label={`${p.name}: cancel the order`}
                          onClick={() => save(() => cancelled(o.id), { done: 'The order was cancelled.' })}
                        >
                          Cancel
                        </button>
                      </span>
                    ))}
                  </th>
                  <td className="py-1 pr-3">
                    {p.number} <strong>{p.suffix}</strong>
                    {p.fits.length > 0 && (
                      <span className="block text-sm text-muted">replaces {p.fits.join(', ')}</span>
                    )}
                  </td>
                  <td className="py-1 pr-3">{circuitNames[p.circuit]}</td>
                  <td className="py-1 pr-3 text-right whitespace-nowrap">{formatPrice(p.cost)}</td>
                  <td className={`py-1 text-right ${p.short > 0 ? 'font-bold text-decide' : ''}`}>
                    {p.onHand}
                    {p.short > 0 && <span className="block text-sm">{p.short} to order</span>}
                  </td>
                  <td className="py-1 text-right">{p.reserved}</td>
                  <td className="py-1 text-right">{p.minimum}</td>
                  <td className="py-1 pl-3">
                    <span className="flex flex-wrap justify-end gap-1">
                      {(['count', 'order'] as const).map((what) => (
                        <button
                          key={what}
                          type="button"
                          className="button min-h-9 px-2.5"
                          aria-label={`${what === 'count' ? 'Count' : 'Order'} ${p.name}`}
                          onClick={() => setOpen({ what, part: p })}
                        >
                          {what === 'count' ? 'Count' : 'Order'}
                        </button>
                      ))}
                      <button
                        type="button"
                        className="button min-h-9 px-2.5"
                        aria-label={`Edit ${p.name}`}
                        onClick={() => setOpen({ what: 'part', part: p })}
                      >
                        Edit
                      </button>
                    </span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {shown.length === 0 && <p className="mt-2 text-muted">No match.</p>}
        </section>
      )}
      <OrderList parts={parts} />
      <Donors donors={donors} />
      {open?.what === 'part' && <PartDialog part={open.part} onClose={() => setOpen(null)} />}
      {(open?.what === 'count' || open?.what === 'order') && (
        <AmountDialog part={open.part} does={open.what} jobId={null} onClose={() => setOpen(null)} />
      )}
    </main>
  );
}
