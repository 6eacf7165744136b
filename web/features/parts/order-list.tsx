'use client';

import { formatPrice } from '@umbral/core/words';
import type { PartView } from '@/server/work/day/parts';
import { useToast } from '@/ui/toast';
import { orderText } from './order-text';

/** What has to be ordered, ready to be sent: as text, or as a table for a spreadsheet. */
export function OrderList({ parts }: { parts: readonly PartView[] }) {
  const toast = useToast();
  const short = parts.filter((p) => p.short > 0);
  if (short.length === 0) return null;
  const copy = (): void =>
    void navigator.clipboard.writeText(orderText(short)).then(
      () => toast({ tone: 'done', text: 'Copied.' }),
      () => toast({ tone: 'problem', text: 'This browser cannot copy here. Select the text and copy it by hand.' }),
    );
  const total = short.reduce((sum, p) => sum + p.short * p.cost, 0);
  return (
    <section aria-label="Order list" className="card mt-3 grid gap-2">
      <div className="flex flex-wrap items-center gap-2">
        <h2 className="mr-auto text-lg">Order list: {formatPrice(total)}</h2>
        <button type="button" className="button min-h-9" onClick={copy}>
          Copy as text
        </button>
        <a href="/api/order-list" className="button min-h-9" download>
          Download as CSV
        </a>
      </div>
      <pre className="overflow-x-auto rounded-lg border border-line bg-raised px-3 py-2 font-sans whitespace-pre-wrap">
        {orderText(short)}
      </pre>
    </section>
  );
}
