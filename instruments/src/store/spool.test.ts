import { appendFileSync, mkdtempSync, readFileSync, rmSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import fc from 'fast-check';
import { KeeperRefusal, type Keeper } from './keeper.ts';
import { handOverSpool } from '../recorder/recording.ts';
import { Spool, type SpoolEntry } from './spool.ts';

const folder = mkdtempSync(join(tmpdir(), 'umbral-spool-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const block = (seq: number, bytes: Uint8Array = Uint8Array.of(seq)): SpoolEntry => ({
  kind: 'block',
  seq,
  block: { rows: 1, t0: seq, t1: seq, min_a: null, max_a: null, mean_a: null, samples: Buffer.from(bytes) },
});
const all = async (spool: Spool, id: string): Promise<SpoolEntry[]> => {
  const found: SpoolEntry[] = [];
  for await (const entry of spool.entries(id)) found.push(entry);
  return found;
};

/** A record that remembers what it was given. */
function keeper(refuse = false) {
  const given: string[] = [];
  const take = (text: string): Promise<void> => {
    if (refuse) return Promise.reject(new KeeperRefusal('no such recording'));
    given.push(text);
    return Promise.resolve();
  };
  const made: Keeper = {
    begin: () => Promise.resolve(1),
    block: (id, seq) => take(`${id} block ${seq}`),
    notes: (id) => take(`${id} notes`),
    end: (id, state) => take(`${id} ${state}`),
    event: () => Promise.resolve(),
  };
  return { given, made };
}

describe('a spool', () => {
  test('gives back what was put into it, in order, whatever the bytes are', async () => {
    let n = 0;
    await fc.assert(
      fc.asyncProperty(fc.array(fc.uint8Array({ maxLength: 200 }), { minLength: 1, maxLength: 20 }), async (pieces) => {
        const spool = new Spool(join(folder, `p${n++}`));
        const entries = pieces.map((bytes, k) => block(k, bytes));
        for (const entry of entries) await spool.append('7', [entry]);
        expect(await all(spool, '7')).toEqual(entries);
      }),
      { numRuns: 30 },
    );
  });

  test('that a crash or a full disk cut short loses the line that was cut, and no other', async () => {
    const spool = new Spool(join(folder, 'cut'));
    await spool.append('7', [block(0), block(1)]);
    const path = join(folder, 'cut', '7.spool');
    truncateSync(path, readFileSync(path).length - 20);
    expect(await all(spool, '7')).toEqual([block(0)]);
    await spool.append('7', [block(2)]);
    expect(await all(spool, '7')).toEqual([block(0), block(2)]);
    appendFileSync(path, '{"kind":"notes","mark');
    expect(await all(spool, '7')).toEqual([block(0), block(2)]);
  });

  test('that was taken meanwhile has nothing, and says so at once', async () => {
    const spool = new Spool(join(folder, 'taken'));
    expect(await all(spool, '7')).toEqual([]);
    expect(await spool.ids()).toEqual([]);
    await spool.append('7', [block(0)]);
    await spool.empty('7');
    await spool.empty('8');
    expect(await all(spool, '7')).toEqual([]);
  });

  test('takes no name that leads elsewhere', async () => {
    const spool = new Spool(join(folder, 'names'));
    for (const bad of ['../x', 'a/b', '', 'x'.repeat(99)])
      await expect(spool.append(bad, [block(0)])).rejects.toThrow('is not the name');
  });
});

describe('what recorders left behind', () => {
  test('is handed over, ended as it was, and gone; what goes on is left alone', async () => {
    const spool = new Spool(join(folder, 'left'));
    await spool.append('1', [block(0), { kind: 'ended', at: '2026-03-02T10:00:00Z', problem: null }]);
    await spool.append('2', [block(0), block(1)]);
    await spool.append('3', [block(0)]);
    const { given, made } = keeper();
    // The third began after the others were listed.
    const live: number[] = [];
    const asked = (): number[] => {
      if (given.length > 0) live.push(3);
      return live;
    };
    const found = await handOverSpool(spool, made, asked, () => new Date());
    expect(found).toEqual({ given: [1, 2], refused: [] });
    expect(given).toEqual(['1 block 0', '1 finished', '2 block 0', '2 block 1', '2 interrupted']);
    expect(await spool.ids()).toEqual(['3']);
  });

  test('is put aside where the record refuses it for good', async () => {
    const spool = new Spool(join(folder, 'refused'));
    await spool.append('9', [block(0)]);
    writeFileSync(join(folder, 'refused', 'notes.txt'), 'of somebody');
    const { made } = keeper(true);
    const found = await handOverSpool(
      spool,
      made,
      () => [],
      () => new Date(),
    );
    expect(found.refused).toEqual([{ id: '9', why: 'no such recording' }]);
    expect(readFileSync(join(folder, 'refused', '9.refused'), 'utf8')).toContain('"seq":0');
    expect(await spool.ids()).toEqual([]);
  });
});
