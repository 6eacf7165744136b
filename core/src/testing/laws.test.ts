import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import held from './laws/held.json';
import { judge, laws, type Law } from './laws/index.ts';

/** So many made-up situations of each law. */
const situations = 10;
const counts: Record<string, number> = {};

afterAll(() => {
  // `LAWS=accept npx jest core/src/testing/laws.test.ts` writes down what holds now.
  if (process.env.LAWS === 'accept')
    writeFileSync(join(__dirname, 'laws', 'held.json'), `${JSON.stringify(counts, null, 2)}\n`);
});

describe('laws of diagnosis: as many hold as are written down, and no fewer', () => {
  test.each(laws.map((l): [string, Law] => [l.id, l]))('%s', async (id, law) => {
    const broken: string[] = [];
    for (let seed = 1; seed <= situations; seed++) {
      const verdict = await judge(law, seed);
      const claims = verdict.broken.map((c) => `    ${c.says}: ${c.seen}`);
      if (claims.length > 0) broken.push([`seed ${seed}: ${verdict.about}`, ...claims].join('\n'));
    }
    counts[id] = situations - broken.length;
    if (process.env.LAWS) process.stderr.write([`${id}: ${counts[id]}`, ...broken, ''].join('\n'));
    const expected = (held as Record<string, number>)[id] ?? 0;
    if (counts[id] < expected && process.env.LAWS !== 'accept')
      throw new Error(`${law.why}\n${counts[id]} of ${situations} hold, ${expected} did:\n${broken.join('\n')}`);
  });
});
