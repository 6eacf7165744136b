import { type MarkerEvent } from '@umbral/core';
import type { Health, LiveSample, SeenReadings, SourceEvents } from '../instrument/index.ts';
import { Refusal } from '../http.ts';
import type { PagePort } from '../transport/index.ts';
import type { WatchedSupply } from '../watchdog/guard.ts';
import type { Bounds } from './bounds.ts';
import type { RecordingOf } from '../store/keeper.ts';
import { Output } from './output.ts';
import type { InstrumentSpec } from '../instrument/spec.ts';
import { sourceOf, type MadeSource } from './station-source.ts';
import { ShownReading } from './shown-reading.ts';
import { StationRecording } from './station-recording.ts';
import { averageReadings, samplesFor } from './averaged.ts';
import {
  shownBy,
  type Armed,
  type ArmedHere,
  type StationContext,
  type StationState,
  type WentOn,
} from './station-state.ts';

/** Who does something with an instrument: number and name; nobody where nobody is signed in. */
interface Given {
  person: number | null;
  who: string;
}

const nobody: Given = { person: null, who: '' };

/** One instrument with what is done with it: measuring, its output, its recording. */
export class Station {
  private readonly made: MadeSource;
  private health: Health = 'connecting';
  private why = '';
  private last: LiveSample | null = null;
  private readonly read = new ShownReading();
  private rateHz = 0;
  private mode: StationState['mode'] = null;
  private modeAskedAt = -Infinity;
  private readonly output: Output | null;
  private readonly recording: StationRecording;
  private readonly listeners = new Set<(sample: LiveSample) => void>();

  /** @throws {RangeError} for commands or lines that nobody described */
  constructor(
    private current: InstrumentSpec,
    private readonly context: StationContext,
  ) {
    this.recording = new StationRecording(context);
    const events: SourceEvents = {
      sample: (sample) => this.took(sample),
      gap: (from, to, why) => this.recording.gap(from, to, why),
      reading: (reading) => this.read.took(reading, context.now()),
      health: (health, why) => {
        [this.health, this.why] = [health, why];
        if (health === 'lost') {
          this.read.forget();
          this.output?.lost();
          this.mode = null;
        }
        context.changed();
      },
      connected: async () => this.output?.connected(),
    };
    this.made = sourceOf(current, events, context);
    this.output =
      this.made.supply &&
      new Output(this.made.supply, () => this.spec, context, {
        switched: (to) => {
          this.recording.mark(to);
          void this.noteSettings();
        },
        switchedOff: (why) => (this.why = `switched off: ${why}`),
      });
  }

  get spec(): InstrumentSpec {
    return this.current;
  }

  /** Another name or calibration, from the next recording on. The rest of a station never changes. */
  describe({ name, calibration }: Pick<InstrumentSpec, 'name' | 'calibration'>): void {
    this.current = { ...this.current, name, calibration };
    this.context.changed();
  }

  /** Records, or has its output armed or on: not to be taken away now. */
  get isBusy(): boolean {
    return this.recording.id !== null || this.output?.isArmed != null || this.output?.isOn === true;
  }

  start(): void {
    this.made.source.start();
  }

  /** The output off, the recording written, the connection closed. */
  async stop(giveUp?: AbortSignal): Promise<void> {
    await this.switchOff('the recorder stopped').catch(() => undefined);
    await this.stopRecording(giveUp);
    await this.made.source.stop();
  }

  get state(): StationState {
    return {
      ...shownBy(this.spec, this.last),
      isSeen: this.made.seen !== null,
      atPage: this.spec.transport.kind === 'browser' ? this.spec.transport : null,
      health: this.health,
      why: this.why,
      ...this.made.resolution,
      reading: this.read.now(this.context.now()),
      mode: this.mode,
      rateHz: this.rateHz,
      armed: this.output?.isArmed ?? null,
      outputOn: this.output?.isOn ?? null,
      outputUnknown: this.output?.isUnknown ?? false,
      canWatchItself: this.made.supply && this.made.supply.dialect.watchdog !== null,
      recording: this.recording.state,
      ended: this.recording.ended,
    };
  }

  /**
   * Averages what the instrument shows, before any correction, from now on.
   *
   * @throws {Refusal} where it measures nothing meanwhile
   */
  async average(seconds: number): Promise<ReturnType<typeof averageReadings>> {
    const samples = await samplesFor(seconds, this.listeners);
    if (samples.length < 2) throw new Refusal(`${this.spec.name} sent nothing for ${seconds} s: ${this.why}`);
    return averageReadings(samples);
  }

  /**
   * Sets a supply up, its output still off ({@link Output.arm}).
   *
   * @throws {Refusal} for a meter, an instrument that is not there, or values that are none
   */
  async arm(volts: number, limitA: number, bounds: Bounds, of?: Pick<Armed, 'jobId' | 'person'>): Promise<ArmedHere> {
    return this.theOutput().arm(volts, limitA, bounds, of);
  }

  /**
   * Switches the output on.
   *
   * @param key what arming gave
   * @throws {Refusal} where it was not armed, or was armed by somebody else
   */
  async switchOn(key: string): Promise<void> {
    await this.theOutput().switchOn(key);
  }

  /** Switches the output off, and disarms; nothing for a meter. */
  async switchOff(why?: string): Promise<void> {
    await this.output?.switchOff(why);
  }

  /** Disarms what is armed and not on; and with `why`, switches off what is on. */
  async disarm(why: string | null): Promise<void> {
    await this.output?.disarm(why);
  }

  /** What it takes to switch this supply's output off, where it may be on. */
  get watched(): WatchedSupply | null {
    const watched = this.output?.watched;
    return watched ? { ...watched, of: { ...watched.of, recording: this.recording.id } } : null;
  }

  /** Nothing was heard for a while that the recorder's own clock does not know of; into the recording under way. */
  missed(why: string): void {
    const now = this.context.now();
    this.recording.gap(now, now, why);
  }

  /** Whoever armed the output is still there; whether it was armed with this key. */
  alive(key: string): boolean {
    return this.output?.alive(key) ?? false;
  }

  /** Ends what is over time, and switches off what nobody watches any more; to be called now and then. */
  async watchOver(): Promise<void> {
    if (this.recording.isOverTime) {
      // Not waited for: a database that is away must not keep anyone from watching over the outputs.
      void this.recording.stop(undefined, 'by its time');
      await this.switchOff('time limit reached').catch(() => undefined);
    }
    await this.output?.watchOver();
  }

  /**
   * Takes what a page read off the display, and the steps that it shows, V and A, once they are known.
   *
   * @throws {Refusal} where no camera watches this instrument, or another window does
   */
  take(readings: SeenReadings, steps: { volts: number | null; amps: number | null }, given: Given = nobody): void {
    const before = this.made.seen?.window ?? null;
    if (!this.made.seen) throw new Refusal(`${this.spec.name} is not read by a camera.`);
    if (!this.made.seen.take(readings)) throw new Refusal('Another window reads this display. Close that one first.');
    if (before !== null && before !== readings.by) this.continuedBy(given);
    if (steps.volts !== null) this.made.resolution.resolutionV = steps.volts;
    if (steps.amps !== null) this.made.resolution.resolutionA = steps.amps;
  }

  /**
   * The way to a page that this instrument is plugged into.
   *
   * @throws {Refusal} where it is reached from here
   */
  get page(): PagePort {
    if (!this.made.page) throw new Refusal(`${this.spec.name} is not connected by a page.`);
    return this.made.page;
  }

  /** @throws {Refusal} where the instrument records already, naming the job */
  async record(of: RecordingOf): Promise<number> {
    const refusal = this.recording.id === null ? this.context.refusal() : null;
    if (refusal !== null) throw new Refusal(refusal);
    const id = await this.recording.begin(of, this.spec, this.made.resolution);
    await this.noteSettings();
    this.context.mayBeOn();
    return id;
  }

  /** The recording under way; null where there is none. */
  get recordingId(): number | null {
    return this.recording.id;
  }

  /** How the recording under way went on since a row; null where nothing did. */
  since(recordingId: number, row: number): WentOn | null {
    return this.recording.since(recordingId, row);
  }

  /** The run has what the supply says that it is set to, whoever set it, and not what somebody typed. */
  private async noteSettings(): Promise<void> {
    const { supply } = this.made;
    if (this.recording.id === null || !supply?.isOpen) return;
    const at = this.context.now();
    const set = await supply.settings().catch(() => null);
    if (set) this.recording.wasSetTo(at, set);
  }

  /** What comes from here on is no part of the recording, which is about to be ended. */
  holdRecording(): void {
    this.recording.hold();
  }

  /** Ends the recording; returns its id once everything is in the record. Who asks again while it ends waits too. */
  async stopRecording(giveUp?: AbortSignal): Promise<number | null> {
    this.recording.hold();
    await this.noteSettings();
    return this.recording.stop(giveUp).finally(() => this.context.mayBeOn());
  }

  /** @throws {Refusal} where nothing is recorded */
  mark(event: MarkerEvent, note: string, agoS = 0, given: Given = nobody): void {
    if (this.recording.id === null) throw new Refusal(`${this.spec.name} is not recording.`);
    this.byAnother(given, 'marked');
    this.recording.mark(event, note, agoS, true);
  }

  /** What comes from here on is read by another window: said in the recording, whoever sits there. */
  continuedBy({ person, who }: Given): void {
    if (this.recording.id === null) return;
    const name = person !== null && person !== this.recording.by ? who || 'someone else' : '';
    this.remark(`what follows was read in another window${name && `, by ${name}`}`, 'continued', person);
  }

  /** Somebody ends the recording. */
  stoppedBy(given: Given): void {
    this.byAnother(given, 'stopped');
  }

  /** In a recording stands who else had a hand in it than whoever began it. */
  private byAnother({ person, who }: Given, did: string): void {
    const { id, by } = this.recording;
    if (id === null || person === null || by === null || person === by) return;
    this.remark(`${did} by ${who || 'someone else'}`, did, person);
  }

  private remark(says: string, did: string, person: number | null): void {
    const now = this.context.now();
    this.recording.gap(now, now, says);
    const { key, name } = this.spec;
    const detail = { instrument: key, recording: this.recording.id };
    this.context.note(`${name}: recording ${did} by another`, detail, { jobId: this.recording.jobId, person });
  }

  private theOutput(): Output {
    if (!this.output) throw new Refusal(`${this.spec.name} is a meter and has no output.`);
    if (!this.made.supply?.isOpen) throw new Refusal(`${this.spec.name} is not connected: ${this.why}`);
    return this.output;
  }

  private took(sample: LiveSample): void {
    const { last } = this;
    if (last && sample.t > last.t) {
      const rate = 1 / (sample.t - last.t);
      this.rateHz = this.rateHz === 0 ? rate : 0.95 * this.rateHz + 0.05 * rate;
    }
    this.last = sample;
    for (const listen of this.listeners) listen(sample);
    this.recording.add(sample);
    if (this.made.supply && sample.t - this.modeAskedAt > 0.25) {
      this.modeAskedAt = sample.t;
      this.made.supply
        .mode()
        .then((mode) => (this.mode = mode))
        .catch(() => (this.mode = null));
    }
  }
}
