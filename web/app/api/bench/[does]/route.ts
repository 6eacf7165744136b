import { readInput } from '@umbral/core';
import {
  benchOf,
  endLeftOf,
  greetBench,
  helloInput,
  instrumentsOf,
  keepOf,
  leaseInput,
  type BenchRow,
} from '@/server/edges/benches/benches';
import { takeLive } from '@/server/edges/benches/live';
import { tellAll } from '@/server/edges/benches/wire';
import { ExpectedError } from '@/server/record/errors';
import { jsonOf } from '@/server/record/requests';
import * as yup from 'yup';
import { route } from '@/server/edges/route';

const answerInput = yup.object({
  id: yup.string().max(80).required(),
  status: yup.number().integer().required(),
  value: yup.object().required(),
});

const acts: Record<string, (bench: BenchRow, body: unknown) => Promise<unknown>> = {
  instruments: (bench) => instrumentsOf(bench),
  keep: keepOf,
  left: endLeftOf,
  live: takeLive,
  answer: (_bench, body) => tellAll('umbral_answer', readInput(answerInput, body)),
};

/** What a bench with a recorder of its own tells and asks. */
export const POST = route<{ does: string }>(
  { role: 'lead', scope: 'bench' },
  async (request, { does }, { tokenId }) => {
    const body = await jsonOf(request);
    if (tokenId === null) throw new ExpectedError('input', 'A bench needs a token.');
    if (does === 'hello') return greetBench(tokenId, readInput(helloInput, body));
    if (!Object.hasOwn(acts, does)) throw new ExpectedError('missing', 'Not found.');
    const bench = await benchOf(tokenId, readInput(leaseInput, body).lease);
    return (await acts[does](bench, body)) ?? null;
  },
);
