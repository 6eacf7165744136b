import { unknownInstrument, type Instrument, type MarkerEvent } from '@umbral/core';
import { Refusal } from '../http.ts';
import type { LiveSample } from '../instrument/index.ts';
import { Outline } from '../store/outline.ts';
import { Recent } from '../store/recent.ts';
import type { SetTo } from '../store/spool.ts';
import type { RecordingOf } from '../store/keeper.ts';
import { Recording } from './recording.ts';
import type { InstrumentSpec } from '../instrument/spec.ts';
import type { StationContext, StationState, WentOn } from './station-state.ts';

/** Samples that a reader who was away for a while is given one by one. */
const remembered = 60_000;

interface UnderWay {
  live: Recording;
  of: RecordingOf;
  wall: Date;
  outline: Outline;
  recent: Recent;
  problem: string | null;
}

type Ended = NonNullable<StationState['ended']>;

/** What one instrument records: one recording at a time, for one job. */
export class StationRecording {
  private current: UnderWay | null = null;
  private stopping: Promise<number | null> | null = null;
  private isHeld = false;
  private last: Ended | null = null;

  constructor(private readonly context: StationContext) {}

  /** How the last one ended that is in the record. */
  get ended(): Ended | null {
    return this.last;
  }

  /** Id of the recording under way; null where there is none. */
  get id(): number | null {
    return this.current?.live.id ?? null;
  }

  /** Who began the one under way, and for which job. */
  get by(): number | null {
    return this.current?.of.person ?? null;
  }

  get jobId(): number | null {
    return this.current?.of.jobId ?? null;
  }

  get state(): StationState['recording'] {
    const { current } = this;
    return (
      current && {
        id: current.live.id,
        jobId: current.of.jobId,
        startedAt: current.wall.toISOString(),
        rows: current.live.rows,
        seconds: Math.max(0, this.context.now() - current.live.beganAt),
        stopAfterS: current.of.stopAfterS ?? null,
        problem: current.problem,
      }
    );
  }

  /** Recorded for as long as was asked for. */
  get isOverTime(): boolean {
    const { current, stopping } = this;
    if (!current?.of.stopAfterS || stopping) return false;
    return this.context.now() - current.live.beganAt >= current.of.stopAfterS;
  }

  /**
   * Begins a recording.
   *
   * @param spec the instrument as it is described now
   * @returns its id
   * @throws {Refusal} where one is under way already, naming the job
   */
  async begin(
    of: RecordingOf,
    spec: InstrumentSpec,
    resolution: Pick<StationState, 'resolutionV' | 'resolutionA'>,
  ): Promise<number> {
    if (this.current)
      throw new Refusal(
        `${spec.name} is already recording for job ${this.current.of.jobId}. Stop that recording first.`,
      );
    const { now, wall, keeper, spool } = this.context;
    const began = wall();
    const stated = Object.fromEntries(Object.entries(of.instrument).filter(([, value]) => value !== null));
    const instrument: Instrument = { ...unknownInstrument, ...resolution, ...stated, ...spec.calibration };
    const trouble = (problem: string | null): void => {
      if (this.current) this.current.problem = problem;
      this.context.changed();
    };
    const clock = { now: now(), wall };
    const live = await Recording.begin({ keeper, spool }, spec.key, { ...of, instrument }, clock, { trouble });
    this.current = { live, of, wall: began, outline: new Outline(), recent: new Recent(remembered), problem: null };
    [this.last, this.isHeld] = [null, false];
    this.context.changed();
    return live.id;
  }

  /**
   * Takes no more of what comes: the recording is about to end, and that its output goes off is no part of the run. What was
   * called of it last is then what is called when it is kept.
   */
  hold(): void {
    this.isHeld = true;
  }

  /** Ends the recording; returns its id once everything is in the record. Who asks again while it ends waits too. */
  stop(giveUp?: AbortSignal, why: Ended['why'] = 'by hand'): Promise<number | null> {
    this.hold();
    this.stopping ??= this.end(giveUp, why).finally(() => (this.stopping = null));
    return this.stopping;
  }

  private async end(giveUp: AbortSignal | undefined, why: Ended['why']): Promise<number | null> {
    const { current } = this;
    if (!current) return null;
    const ending = await current.live.finish(giveUp);
    this.current = null;
    if (ending === 'stored') this.last = { id: current.live.id, jobId: current.of.jobId, why };
    if (ending === 'on disk') this.context.leftOnDisk();
    this.context.changed();
    return ending === 'stored' ? current.live.id : null;
  }

  /**
   * Marks an instant, now or so many seconds ago; nothing where nothing is recorded.
   *
   * @param isByHand a person says it, who is late: where the trace has its step is found when the run is read
   */
  mark(event: MarkerEvent, note = '', agoS = 0, isByHand = false): void {
    if (!this.current || this.isHeld) return;
    const t = Math.max(0, this.context.now() - agoS - this.current.live.beganAt);
    this.current.live.mark({ t, event, ...(note ? { note } : {}), ...(isByHand ? { said: t } : {}) });
  }

  /** What the supply says that it is set to, as it was at a time of the recorder's clock. */
  wasSetTo(at: number, set: Omit<SetTo, 't'>): void {
    const { current } = this;
    current?.live.wasSetTo({ t: Math.max(0, at - current.live.beganAt), ...set });
  }

  gap(from: number, to: number, why: string): void {
    this.current?.live.gap(from, to, why);
  }

  add(sample: LiveSample): void {
    const { current } = this;
    if (this.isHeld || !current?.live.add(sample)) return;
    const t = sample.t - current.live.beganAt;
    current.recent.add(t, sample.v, sample.i);
    current.outline.add(t, sample.i, sample.v);
  }

  /** How the recording under way went on since a row; null where nothing did. */
  since(recordingId: number, row: number): WentOn | null {
    if (this.current?.live.id !== recordingId) return null;
    const { recent, outline } = this.current;
    const { rows } = recent;
    if (row === rows) return null;
    const samples = recent.since(row);
    return samples ? { rows, samples } : { rows, outline: outline.state };
  }
}
