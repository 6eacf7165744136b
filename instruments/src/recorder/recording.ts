import { randomUUID } from 'node:crypto';
import type { Marker } from '@umbral/core';
import type { LiveSample } from '../instrument/index.ts';
import { packSamples } from '../store/samples.ts';
import type { Gap, SetTo, Spool, SpoolEntry } from '../store/spool.ts';
import { brokeOff, KeeperRefusal, type Keeper, type RecordingOf } from '../store/keeper.ts';

interface RecordingOptions {
  /** How often what has come is written, milliseconds: a crash loses no more than this. */
  everyMs?: number;
  /** Samples that are held in memory alone, while neither disk nor database takes them; beyond it the recording ends and says so. */
  maxHeld?: number;
  /** @param problem in words; null when it is over */
  trouble?: (problem: string | null) => void;
}

/** How a recording ended: in the record, on disk until the record can be reached, or given up. */
export type Ending = 'stored' | 'on disk' | 'given up';

const usualEveryMs = 500;
const usualMostHeld = 4_000_000;
const retryMs = 500;
const rowsInBlock = 20_000;
const mostGaps = 1000;
const mostSettings = 200;
const sameGapS = 2.5;
/** Entries that are kept in memory for handing over; those before them are read from disk again. */
const maxInMemory = 2000;
/** A keeper that takes longer than this counts as away; what it may still do is repeated without harm. */
const keeperTimeoutMs = 4000;

/**
 * One recording on its way into the record. What comes is on disk within half a second, and handed over from there as
 * soon as the record takes it; a crash, a database that is away, or a full disk each cost as little as they can. Times
 * are seconds since the recording began.
 */
export class Recording {
  private held: LiveSample[] = [];
  private markers: Marker[] = [];
  private gaps: Gap[] = [];
  private setTo: SetTo[] = [];
  private notesChanged = false;
  private seq = 0;
  private timer: NodeJS.Timeout;
  /** To be handed over, oldest first; with `isBehind` there are older ones on disk alone. */
  private pending: SpoolEntry[] = [];
  private isBehind = false;
  /** Rows in `pending` that no disk holds. */
  private unsafeRows = 0;
  private collecting: Promise<void> = Promise.resolve();
  private handing: Promise<boolean> | null = null;
  private problem: string | null = null;
  private ended: 'no' | 'too much' | 'yes' = 'no';
  private lastT = -Infinity;
  /** Samples that came. */
  rows = 0;

  private constructor(
    private readonly keeper: Keeper,
    private readonly spool: Spool,
    readonly id: number,
    /** On the recorder's clock, seconds. */
    readonly beganAt: number,
    private readonly wall: () => Date,
    private readonly options: RecordingOptions,
  ) {
    this.timer = setInterval(() => void this.flush(), options.everyMs ?? usualEveryMs);
    this.timer.unref();
  }

  /**
   * Begins a recording: the record knows it before the first sample.
   *
   * @param instrumentKey of which there can be one recording at a time
   * @throws {Error} of the keeper, among them a second recording of the same instrument
   */
  static async begin(
    kept: { keeper: Keeper; spool: Spool },
    instrumentKey: string,
    of: RecordingOf,
    clock: { now: number; wall: () => Date },
    options: RecordingOptions = {},
  ): Promise<Recording> {
    const id = await kept.keeper.begin(instrumentKey, of, clock.wall(), randomUUID());
    return new Recording(kept.keeper, kept.spool, id, clock.now, clock.wall, options);
  }

  /** @param sample on the recorder's clock; one that is not after the last is refused by returning false */
  add(sample: LiveSample): boolean {
    const t = sample.t - this.beganAt;
    if (this.ended !== 'no' || t < 0 || t <= this.lastT) return false;
    this.lastT = t;
    this.held.push({ t, v: sample.v, i: sample.i });
    this.rows++;
    if (this.held.length + this.unsafeRows > (this.options.maxHeld ?? usualMostHeld)) {
      this.ended = 'too much';
      this.say('neither the database nor the disk could save it; the recording ends here');
    }
    return true;
  }

  mark(marker: Marker): void {
    this.markers.push(marker);
    // One that was told late belongs before those that were told at once.
    this.markers.sort((a, b) => a.t - b.t);
    this.notesChanged = true;
  }

  /** What the supply says that it is set to; nothing where that is what it said last. */
  wasSetTo(now: SetTo): void {
    const last = this.setTo.at(-1);
    if (last && last.volts === now.volts && last.limitA === now.limitA && last.on === now.on) return;
    // A knob that is turned all day long: where it stood last is what still holds.
    if (this.setTo.length >= mostSettings) this.setTo.pop();
    this.setTo.push(now);
    this.notesChanged = true;
  }

  /** @param from on the recorder's clock */
  gap(from: number, to: number, why: string): void {
    if (to < this.beganAt) return;
    const last = this.gaps.at(-1);
    this.notesChanged = true;
    // The same instant after instant is one gap; one that has a length stands by itself, since something was read between them.
    if (last?.why === why && from === to && from - this.beganAt - last.t1 < sameGapS) {
      last.t1 = to - this.beganAt;
      return;
    }
    // One that falters all day long: what is noted of it does not grow for ever.
    if (last && this.gaps.length >= mostGaps) [last.t1, last.why] = [to - this.beganAt, 'it faltered many times'];
    else this.gaps.push({ t0: Math.max(0, from - this.beganAt), t1: to - this.beganAt, why });
  }

  private say(problem: string | null): void {
    if (problem === this.problem) return;
    this.problem = problem;
    this.options.trouble?.(problem);
  }

  private async flush(): Promise<boolean> {
    await this.collect();
    return this.handOver();
  }

  /** Takes what came into entries, and onto the disk. One after the other, never waiting for the record. */
  private collect(): Promise<void> {
    const next = this.collecting.then(() => this.collectNow());
    this.collecting = next.catch(() => undefined);
    return next;
  }

  private async collectNow(): Promise<void> {
    const fresh: SpoolEntry[] = [];
    const samples = this.held;
    this.held = [];
    for (let at = 0; at < samples.length; at += rowsInBlock) {
      const block = samples.slice(at, at + rowsInBlock);
      const stored = await packSamples({
        t: Float64Array.from(block, (s) => s.t),
        v: Float32Array.from(block, (s) => s.v),
        i: Float32Array.from(block, (s) => s.i),
      });
      fresh.push({ kind: 'block', seq: this.seq++, block: stored });
    }
    if (this.notesChanged) {
      this.notesChanged = false;
      fresh.push({ kind: 'notes', markers: [...this.markers], gaps: [...this.gaps], setTo: [...this.setTo] });
    }
    await this.keepOnDisk(fresh);
  }

  private async keepOnDisk(fresh: SpoolEntry[]): Promise<void> {
    this.pending.push(...fresh);
    try {
      // What the disk refused before goes with it.
      await this.spool.append(String(this.id), this.unsafeRows > 0 ? [...this.pending] : fresh);
      this.unsafeRows = 0;
      if (this.pending.length > maxInMemory && !this.handing) {
        this.pending = [];
        this.isBehind = true;
      }
    } catch (error) {
      this.unsafeRows += fresh.reduce((sum, e) => sum + (e.kind === 'block' ? e.block.rows : 0), 0);
      if (this.ended === 'no') this.say(`the disk refused it: ${messageOf(error)}`);
    }
  }

  /** Hands over what there is; one at a time. Resolves with whether the record has everything now. */
  private handOver(): Promise<boolean> {
    this.handing ??= this.handOverNow().finally(() => (this.handing = null));
    return this.handing;
  }

  private async handOverNow(): Promise<boolean> {
    try {
      if (this.isBehind) {
        for await (const entry of this.spool.entries(String(this.id))) await this.give(entry);
        this.isBehind = false;
      }
      while (this.pending.length > 0) {
        await this.give(this.pending[0]);
        this.pending.shift();
      }
      this.unsafeRows = 0;
      // In turn with writing, so that nothing is thrown away that came in between.
      const emptied = this.collecting.then(async () => {
        if (this.pending.length === 0 && !this.isBehind) await this.spool.empty(String(this.id));
      });
      this.collecting = emptied.catch(() => undefined);
      await this.collecting;
      if (this.ended !== 'too much') this.say(null);
      return true;
    } catch (error) {
      const kept = this.unsafeRows === 0 ? '; it is on disk for now' : '';
      if (this.ended !== 'too much') this.say(`the database refused it: ${messageOf(error)}${kept}`);
      return false;
    }
  }

  private give(entry: SpoolEntry): Promise<void> {
    return inTime(giveEntry(this.keeper, this.id, entry));
  }

  /**
   * Ends the recording once the record has everything. Where it cannot be reached and the disk has everything, that is
   * enough: {@link handOverSpool} takes it from there.
   *
   * @param giveUp ends the wait for a record that is away while the disk is full
   */
  async finish(giveUp?: AbortSignal): Promise<Ending> {
    if (this.ended === 'no') this.ended = 'yes';
    clearInterval(this.timer);
    await this.collect();
    await this.keepOnDisk([{ kind: 'ended', at: this.wall().toISOString(), problem: this.problem }]);
    for (;;) {
      if (await this.handOver()) {
        await this.spool.remove(String(this.id)).catch(() => undefined);
        return 'stored';
      }
      if (this.unsafeRows === 0) return 'on disk';
      if (giveUp?.aborted) return 'given up';
      await new Promise((resolve) => setTimeout(resolve, retryMs));
      await this.keepOnDisk([]);
    }
  }
}

const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

async function inTime(work: Promise<void>): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error('it does not answer')), keeperTimeoutMs);
  });
  try {
    await Promise.race([work, late]);
  } finally {
    clearTimeout(timer);
    work.catch(() => undefined);
  }
}

async function giveEntry(keeper: Keeper, id: number, entry: SpoolEntry): Promise<void> {
  if (entry.kind === 'block') await keeper.block(id, entry.seq, entry.block);
  else if (entry.kind === 'notes') await keeper.notes(id, entry);
  else await keeper.end(id, 'finished', new Date(entry.at), entry.problem);
}

/**
 * Hands over what recorders left on disk. A recording without an end broke off.
 *
 * @param live recordings that go on and hand over by themselves, asked again for each: one may have begun meanwhile
 * @returns what was handed over, and what the record refuses for good with its reason; that is put aside
 * @throws {Error} where the record cannot be reached; what is left is handed over the next time
 */
export async function handOverSpool(
  spool: Spool,
  keeper: Keeper,
  live: () => readonly number[],
  wall: () => Date,
): Promise<{ given: number[]; refused: { id: string; why: string }[] }> {
  const given: number[] = [];
  const refused: { id: string; why: string }[] = [];
  for (const name of await spool.ids()) {
    const id = Number(name);
    if (!Number.isInteger(id) || live().includes(id)) continue;
    try {
      let hasEnd = false;
      for await (const entry of spool.entries(name)) {
        await giveEntry(keeper, id, entry);
        hasEnd ||= entry.kind === 'ended';
      }
      if (!hasEnd) await keeper.end(id, 'interrupted', wall(), brokeOff);
      await spool.remove(name);
      given.push(id);
    } catch (error) {
      if (!(error instanceof KeeperRefusal)) throw error;
      await spool.setAside(name);
      refused.push({ id: name, why: error.message });
    }
  }
  return { given, refused };
}
