import fc from 'fast-check';
import { unknownInstrument, unknownSetup } from '@umbral/core';
import { Spool } from '../store/spool.ts';
import { unpackSamples } from '../store/samples.ts';
import { ForgetfulFiles } from '../testing/forgetful-files.ts';
import { Journal } from './journal.ts';
import type { BenchEvent, Keeper } from '../store/keeper.ts';
import { handOverSpool, Recording } from './recording.ts';

/** A record that commits or is away, by a pattern; what it committed is there whatever happens to the bench. */
class Record implements Keeper {
  readonly blocks = new Map<number, number[]>();
  readonly events = new Map<string, BenchEvent>();
  state = 'none';
  isAway = false;

  private async commit(work: () => void): Promise<void> {
    await Promise.resolve();
    if (this.isAway) throw new Error('the event log is not available');
    work();
  }
  begin(): Promise<number> {
    return Promise.resolve(7);
  }
  async block(_: number, seq: number, block: Parameters<Keeper['block']>[2]): Promise<void> {
    const { t } = await unpackSamples(block);
    await this.commit(() => this.blocks.set(seq, [...t]));
  }
  notes(): Promise<void> {
    return this.commit(() => undefined);
  }
  end(_: number, state: string): Promise<void> {
    return this.commit(() => (this.state = state));
  }
  event(event: BenchEvent): Promise<void> {
    return this.commit(() => void (this.events.has(event.key) || this.events.set(event.key, event)));
  }
  get times(): number[] {
    return [...this.blocks].sort(([a], [b]) => a - b).flatMap(([, t]) => t);
  }
}

const folder = '/bench';
const of = { jobId: 1, feed: 'battery' as const, setup: unknownSetup, instrument: unknownInstrument, after: null };
const wall = (): Date => new Date('2026-03-02T10:00:00Z');
const fails = (work: Promise<unknown>): Promise<boolean> =>
  work.then(
    () => false,
    () => true,
  );

/** One power cut: at a step of writing, with a share of what was under way there afterwards, the record away for a while. */
const cut = fc.record({
  at: fc.integer({ min: 1, max: 90 }),
  share: fc.double({ min: 0, max: 1, noNaN: true }),
  again: fc.integer({ min: 1, max: 12 }),
  away: fc.array(fc.boolean(), { minLength: 12, maxLength: 12 }),
});

test('a thousand power cuts cost what was not yet on disk, half a second, and no start is refused', async () => {
  await fc.assert(
    fc.asyncProperty(cut, async ({ at, share, again, away }) => {
      const record = new Record();
      const files = new ForgetfulFiles(undefined, at, share);
      const spool = new Spool(folder, files);
      const recording = await Recording.begin(
        { keeper: record, spool },
        'supply',
        of,
        { now: 0, wall },
        { everyMs: 1e9 },
      );
      // Written twice a second; how far it had come when the last write was through.
      const flush = (): Promise<boolean> => (recording as unknown as { flush: () => Promise<boolean> }).flush();
      let safe = 0;
      for (const [k, isAway] of away.entries()) {
        record.isAway = isAway;
        for (let n = 0; n < 10; n++) recording.add({ t: k + n / 20, v: 4, i: 0.1 });
        await flush();
        const { unsafeRows } = recording as unknown as { unsafeRows: number };
        if (unsafeRows === 0) safe = 10 * (k + 1);
      }
      record.isAway = true;
      // The plug is pulled. The next start is interrupted as well, and the one after that comes to its end.
      record.isAway = false;
      const second = files.after(again, share);
      await fails(handOverSpool(new Spool(folder, second), record, () => [], wall));
      const third = second.after();
      const found = await handOverSpool(new Spool(folder, third), record, () => [], wall);
      expect(found.refused).toEqual([]);
      const { times } = record;
      expect(times.length).toBeGreaterThanOrEqual(safe);
      expect(times.every((t, k) => k === 0 || t > times[k - 1])).toBe(true);
      // What is missing is at the end, never in the middle.
      const all = away.flatMap((_, k) => Array.from({ length: 10 }, (__, n) => k + n / 20));
      expect(times.map((t) => Math.round(t * 20))).toEqual(all.slice(0, times.length).map((t) => Math.round(t * 20)));
    }),
    { numRuns: 1000 },
  );
}, 120_000);

test('events that were noted are told once, in order, whatever happened meanwhile', async () => {
  await fc.assert(
    fc.asyncProperty(cut, async ({ at, share, again, away }) => {
      const record = new Record();
      const files = new ForgetfulFiles(undefined, at, share);
      const journal = new Journal(folder, record, wall, () => true, files);
      let safe = 0;
      for (const [k, isAway] of away.entries()) {
        record.isAway = isAway;
        journal.note(String(k), null, null, {});
        await journal.settled();
        const { waiting, onDisk } = journal as unknown as { waiting: unknown[]; onDisk: number };
        if (waiting.length <= onDisk) safe = k + 1;
      }
      record.isAway = false;
      const second = files.after(again, share);
      await new Journal(folder, record, wall, () => true, second).handOver();
      await new Journal(folder, record, wall, () => true, second.after()).handOver();
      const told = [...record.events.values()].map((e) => Number(e.what));
      expect(told.length).toBeGreaterThanOrEqual(safe);
      expect(told).toEqual(told.map((_, k) => k));
    }),
    { numRuns: 1000 },
  );
}, 120_000);

test('an event on disk stays there until all of them are told', async () => {
  const record = new Record();
  const files = new ForgetfulFiles();
  record.isAway = true;
  const first = new Journal(folder, record, wall, () => false, files);
  first.note('off', null, null, {});
  await first.settled();
  const next = new Journal(folder, record, wall, () => true, files);
  await next.settled();
  // The next one succeeds, and takes the earlier one along.
  record.isAway = false;
  next.note('armed', null, null, {});
  await next.settled();
  expect([...record.events.values()].map((e) => e.what)).toEqual(['off', 'armed']);
});
