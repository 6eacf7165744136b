import { formatPrice } from '@umbral/core/words';
import type { PartView } from '@/server/work/day/parts';

type Ordered = Pick<PartView, 'supplier' | 'number' | 'suffix' | 'name' | 'short' | 'cost'>;

/** What has to be ordered as a message to each supplier: a line a part, with its number. */
export function orderText(parts: readonly Ordered[]): string {
  const suppliers = [...new Set(parts.map((p) => p.supplier))].sort((a, b) => a.localeCompare(b, 'en'));
  return suppliers
    .map((supplier) => {
      const lines = parts
        .filter((p) => p.supplier === supplier)
        .map(
          (p) =>
            `${p.short} × ${[p.number, p.suffix].filter(Boolean).join(' ')}, ${p.name}, ${formatPrice(p.cost)} each`,
        );
      return [supplier === '' ? 'No supplier noted' : supplier, ...lines].join('\n');
    })
    .join('\n\n');
}
