import { circuitIds } from '../catalogue/index.ts';
import { contractKinds } from '../case/index.ts';
import type { Reason } from '../reasons/index.ts';
import table from './contracts.json';
import type { Entry, ObservationKind } from './kind.ts';

/** What the meter's decoder read: an accepted offer proves the port controller, its supply and its CC lines. */
export const contractKind: ObservationKind = {
  id: 'contract',
  entries: ({ value, space, epochOf }) =>
    value.runs.flatMap((run): Entry[] => {
      if (run.contract === null) return [];
      const common = { kind: 'contract', source: `contract:${run.id}`, epoch: epochOf(run.after) };
      const { kind, volts } = run.contract;
      const reason: Reason = { id: 'contract', values: { run: run.id, kind, volts } };
      if (run.feed !== 'usb-c') return [{ ...common, reason, why: { id: 'needs-usb-c', values: { feed: run.feed } } }];
      const rows = table as unknown as Record<string, Record<string, number>>;
      return [
        {
          ...common,
          reason,
          answer: {
            question: {
              key: `contract:${run.setup.port ?? 1}`,
              repeats: table.repeats,
              outcomes: Object.fromEntries(
                contractKinds.map((word) => [
                  word,
                  space.netOf.map((net) => (rows[circuitIds[net]] ?? table.default)[word]),
                ]),
              ),
            },
            word: kind,
          },
          likelihood: null,
        },
      ];
    }),
  candidates: () => [],
};
