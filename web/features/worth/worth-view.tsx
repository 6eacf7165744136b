'use client';

import dynamic from 'next/dynamic';
import { circuitNames, formatPercent, formatMoney } from '@umbral/core/words';
import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { LocalDate } from '@/ui/kit/local-date';
import type { JobWorth } from '@/server/work/day/worth';
import { useToast } from '@/ui/toast';
import { answered, ask } from './actions';
import { Terms } from './terms';
import { breakEvenWords, changeWords, knowingWords, optionWords } from './words';

/** A chart, with the room that it takes until its script is there. */
const WorthChart = dynamic(() => import('./worth-chart').then((m) => m.WorthChart), {
  ssr: false,
  loading: () => <div style={{ height: 250 }} />,
});

/** Whether going on pays: what each way is expected to bring, where that changes, and what the customer is told. */
export function WorthView({ worth }: { worth: JobWorth }) {
  const name = circuitNames[worth.curve.circuit];
  const options = Object.entries(worth.worths).flatMap(([id, amount]) =>
    amount === null ? [] : [{ id: id as JobWorth['best'], amount }],
  );
  return (
    <div className="mt-3 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_400px]">
      <div className="grid min-w-0 content-start gap-3.5">
        <section aria-label="Options" className="card">
          <h2 className="text-lg">
            {optionWords[worth.best].name}: {formatMoney(worth.worths[worth.best] ?? 0)} expected
          </h2>
          <table className="mt-2 w-full">
            <caption className="sr-only">Expected value of each option</caption>
            <tbody>
              {options.map(({ id, amount }) => (
                <tr key={id} className={`border-t border-line ${id === worth.best ? 'font-bold' : ''}`}>
                  <th scope="row" className="py-1 pr-3 text-left font-[inherit]">
                    {optionWords[id].name}
                    <span className="block text-sm font-normal text-muted">{optionWords[id].means}</span>
                  </th>
                  <td className="py-1 text-right align-top">{formatMoney(amount)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="mt-2">{knowingWords(worth)}</p>
          <p className="mt-1">{breakEvenWords(worth)}</p>
          <p className="mt-1 text-sm text-muted">
            Time already spent does not count. Fees, hours and limits come from the shop policy in the settings.
          </p>
        </section>
        <section aria-label="When the answer changes" className="card">
          <h2 className="text-lg">When the answer changes</h2>
          <WorthChart curve={worth.curve} name={name} />
          {changeWords(worth, name).map((line) => (
            <p key={line} className="mt-1">
              {line}
            </p>
          ))}
          {worth.curve.changes.length === 0 && (
            <p className="mt-1">
              Whatever the chance of {name}, it pays most {optionWords[worth.best].does}. It is{' '}
              {formatPercent(worth.curve.p)} now.
            </p>
          )}
        </section>
      </div>
      <div className="grid min-w-0 content-start gap-3.5">
        {!worth.isClosed && <Terms key={worth.version} worth={worth} />}
        <Customer worth={worth} />
      </div>
    </div>
  );
}

/** What the customer is told, and what they said. */
function Customer({ worth }: { worth: JobWorth }) {
  const [kind, setKind] = useState<'quote' | 'decline'>(worth.best === 'stop' ? 'decline' : 'quote');
  const { saving, save } = useSave();
  const toast = useToast();
  const copy = (): void =>
    void navigator.clipboard.writeText(worth[kind]).then(
      () => toast({ tone: 'done', text: 'Copied.' }),
      () => toast({ tone: 'problem', text: 'This browser cannot copy here. Select the text and copy it by hand.' }),
    );
  return (
    <section aria-label="To the customer" className="card grid gap-2">
      <h2 className="text-lg">To the customer</h2>
      <div role="group" aria-label="Text" className="flex flex-wrap gap-1.5">
        {(['quote', 'decline'] as const).map((id) => (
          <button
            key={id}
            type="button"
            className="button min-h-9 font-medium"
            aria-pressed={kind === id}
            onClick={() => setKind(id)}
          >
            {id === 'quote' ? 'Quote' : 'Decline'}
          </button>
        ))}
      </div>
      <p className="rounded-lg border border-line bg-raised px-3 py-2 whitespace-pre-line" data-testid="letter">
        {worth[kind]}
      </p>
      <div className="flex flex-wrap gap-2">
        <button type="button" className="button min-h-9" onClick={copy}>
          Copy the text
        </button>
        {!worth.isClosed && (
          <>
            <button
              type="button"
              className="button min-h-9"
              disabled={saving}
              onClick={() => save(() => ask(worth.jobId), { done: 'Waiting for the answer.' })}
            >
              Asked the customer
            </button>
            <button
              type="button"
              className="button min-h-9"
              disabled={saving}
              onClick={() => save(() => answered(worth.jobId, 'yes'), { done: 'Accepted. Work continues.' })}
            >
              Accepted
            </button>
            <button
              type="button"
              className="button min-h-9"
              disabled={saving}
              onClick={() => save(() => answered(worth.jobId, 'no'), { done: 'Declined. Close the job.' })}
            >
              Declined
            </button>
          </>
        )}
      </div>
      {worth.agreedAt !== null && (
        <p className="text-sm text-muted">
          Agreed on <LocalDate iso={worth.agreedAt} time />.
        </p>
      )}
    </section>
  );
}
