import type { Entry, ObservationKind } from './kind.ts';
import table from './proofs.json';

/**
 * A proof that somebody looked for without a run or a check that shows it as well: passed, it speaks for a device that
 * works; failed, it says that something is still wrong, or wrong again. It says nothing of which circuit.
 */
export const proofKind: ObservationKind = {
  id: 'proof',
  entries: ({ value, space, over, epochOf }) =>
    value.proofs.flatMap((proof): Entry[] => {
      const { protocol, step, reason, result } = proof;
      if (result === 'not-done' || proof.run !== null || proof.check !== null) return [];
      const share = (h: number): number => (h === over.none ? table.works : table.fault);
      const pass = space.hypotheses.map((_, h) => share(h));
      const flat = (p: number): number[] => space.hypotheses.map(() => p);
      return [
        {
          kind: 'proof',
          source: `proof:${proof.id}`,
          epoch: epochOf(proof.after),
          reason: { id: 'proof', values: { protocol, step, reason, result } },
          answer: {
            question: {
              key: `proof:${proof.protocol}:${proof.step}`,
              repeats: table.repeats,
              outcomes: { pass, fail: pass.map((p) => 1 - p) },
              byState: {
                pass: { works: flat(table.works), other: flat(table.other) },
                fail: { works: flat(1 - table.works), other: flat(1 - table.other) },
              },
            },
            word: proof.result,
          },
          likelihood: null,
        },
      ];
    }),
  candidates: () => [],
};
