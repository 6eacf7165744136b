import { type MarkerEvent } from '@umbral/core';
import type { Health, LiveSample, ScpiSupply, SeenReadings, SourceEvents } from '../instrument/index.ts';
import { Refusal } from '../http.ts';
import type { WatchedSupply } from '../watchdog/guard.ts';
import policy from './policy.json';
import { withinBounds, type Bounds } from './bounds.ts';
import type { RecordingOf } from './keeper.ts';
import type { InstrumentSpec } from './spec.ts';
import { sourceOf, type MadeSource } from './station-source.ts';
import { StationRecording } from './station-recording.ts';
import { averaged, samplesFor } from './averaged.ts';
import { shownBy, type Armed, type StationContext, type StationState, type WentOn } from './station-state.ts';

/** One instrument with what is done with it: measuring, its output, its recording. */
export class Station {
  private readonly made: MadeSource;
  private health: Health = 'connecting';
  private why = '';
  private last: LiveSample | null = null;
  private rateHz = 0;
  private mode: StationState['mode'] = null;
  private modeAskedAt = -Infinity;
  private armed: Armed | null = null;
  private outputOn: boolean | null = null;
  /** It was on when contact was lost. */
  private wasOn = false;
  private lastOf: Pick<Armed, 'jobId' | 'person'> | null = null;
  private readonly recording: StationRecording;
  private aliveAt = -Infinity;
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
      health: (health, why) => {
        [this.health, this.why] = [health, why];
        if (health === 'lost') {
          this.wasOn ||= this.outputOn === true;
          [this.outputOn, this.mode] = [null, null];
        }
        context.changed();
      },
      connected: () => this.makeSafe(),
    };
    this.made = sourceOf(current, events, context);
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
    return this.recording.id !== null || this.armed !== null || this.outputOn === true;
  }

  start(): void {
    this.made.source.start();
  }

  /** The output off, the recording written, the connection closed. */
  async stop(giveUp?: AbortSignal): Promise<void> {
    await this.output(false, null, 'the recorder stops').catch(() => undefined);
    await this.stopRecording(giveUp);
    await this.made.source.stop();
  }

  get state(): StationState {
    return {
      ...shownBy(this.spec, this.last),
      isSeen: this.made.seen !== null,
      health: this.health,
      why: this.why,
      ...this.made.resolution,
      mode: this.mode,
      rateHz: this.rateHz,
      armed: this.armed,
      outputOn: this.outputOn,
      recording: this.recording.state,
      ended: this.recording.ended,
    };
  }

  /**
   * Averages what the instrument shows, before any correction, from now on.
   *
   * @throws {Refusal} where it measures nothing meanwhile
   */
  async average(seconds: number): Promise<ReturnType<typeof averaged>> {
    const samples = await samplesFor(seconds, this.listeners);
    if (samples.length < 2) throw new Refusal(`${this.spec.name} showed nothing for ${seconds} s: ${this.why}`);
    return averaged(samples);
  }

  /**
   * Sets a supply up, its output still off. What goes beyond the bench's or the device's bounds is cut, and said.
   *
   * @throws {Refusal} for a meter, an instrument that is not there, or values that are none
   */
  async arm(
    volts: number,
    limitA: number,
    bounds: Bounds,
    by: string,
    of: Pick<Armed, 'jobId' | 'person'> = { jobId: null, person: null },
  ): Promise<Armed> {
    const supply = this.theSupply();
    this.refuse();
    if (!(volts > 0 && limitA > 0 && Number.isFinite(volts + limitA)))
      throw new Refusal('Voltage and limit have to be above zero.');
    if (this.outputOn) throw new Refusal(`The output of ${this.spec.name} is on; switch it off first.`);
    const safe = withinBounds(volts, limitA, bounds);
    this.armed = null;
    await supply.set(safe.volts, safe.limitA);
    this.armed = { ...safe, by, ...of };
    this.aliveAt = this.context.now();
    this.note('armed', { ...safe, askedV: volts, askedA: limitA });
    this.context.changed();
    return this.armed;
  }

  /**
   * Switches the output. Off is always allowed and disarms.
   *
   * @throws {Refusal} where it was not armed, or was armed by somebody else
   */
  async output(on: boolean, by: string | null, why = 'by hand'): Promise<void> {
    if (on) {
      const supply = this.theSupply();
      this.refuse();
      if (!this.armed) throw new Refusal(`${this.spec.name} is not armed.`);
      if (this.armed.by !== by) throw new Refusal(`${this.spec.name} was armed from another window; disarm it there.`);
      // Until it says otherwise it may be on: a refusal or a wrong answer ends with it off, not with a guess.
      this.outputOn = true;
      this.context.mayBeOn();
      this.note('output on', { volts: this.armed.volts, limitA: this.armed.limitA });
      try {
        await supply.switchOutput(true);
      } catch (error) {
        await this.output(false, null, 'it could not be switched on').catch(() => undefined);
        throw error;
      }
      this.recording.mark('output-on');
    } else {
      this.lastOf = this.armed ?? this.lastOf;
      this.armed = null;
      if (!this.made.supply?.isOpen) return this.context.changed();
      await this.made.supply.switchOutput(false);
      if (this.outputOn) {
        this.recording.mark('output-off');
        this.note('output off', { why });
      }
      this.outputOn = false;
      this.context.mayBeOn();
    }
    this.context.changed();
  }

  /** Disarms what is armed and not on; and with `why`, switches off what is on. */
  async disarm(why: string | null): Promise<void> {
    if (this.outputOn && why === null) return;
    if (!this.armed && !this.outputOn) return;
    if (why !== null) this.why = `switched off: ${why}`;
    await this.output(false, null, why ?? 'the record is away').catch(() => undefined);
  }

  /** What it takes to switch this supply's output off, where it may be on. */
  get watched(): WatchedSupply | null {
    const dialect = this.made.supply?.dialect;
    return dialect && this.mayBeOn ? { spec: this.spec, dialect, networks: this.context.networks } : null;
  }

  /** Contact was lost while it was on, or it is on, or nobody has read back that it is off. */
  private get mayBeOn(): boolean {
    return this.outputOn === true || this.wasOn;
  }

  private refuse(): void {
    const refusal = this.context.refusal();
    if (refusal !== null) throw new Refusal(refusal);
  }

  private note(what: string, detail: object): void {
    const { jobId, person } = this.armed ?? this.lastOf ?? { jobId: null, person: null };
    this.context.note(`${this.spec.name}: ${what}`, { instrument: this.spec.key, ...detail }, { jobId, person });
  }

  /** Whoever armed the output is still there. */
  alive(by: string): void {
    if (this.armed?.by === by) this.aliveAt = this.context.now();
  }

  /** Switches off what nobody watches any more; to be called now and then. */
  async watchOver(): Promise<void> {
    // Switching off went wrong before: again, until the supply says that it is off.
    if (!this.armed && this.outputOn) return this.output(false, null).catch(() => undefined);
    if (this.recording.isOverTime) {
      // Not waited for: a database that is away must not keep anyone from watching over the outputs.
      void this.recording.stop(undefined, 'by its time');
      await this.output(false, null, 'its time is over').catch(() => undefined);
    }
    const silentS = (this.context.now() - this.aliveAt) / this.context.factor;
    if (!this.armed || silentS <= policy.heartbeatS) return;
    const gone = `the window that armed it was not heard of for ${policy.heartbeatS} s`;
    this.why = `switched off: ${gone}`;
    await this.output(false, null, gone).catch(() => undefined);
  }

  /**
   * Takes what a page read off the display, and the steps that it shows, V and A, once they are known.
   *
   * @throws {Refusal} where no camera watches this instrument, or another window does
   */
  take(readings: SeenReadings, steps: { volts: number | null; amps: number | null }): void {
    if (!this.made.seen) throw new Refusal(`${this.spec.name} is not read by a camera.`);
    if (!this.made.seen.take(readings)) throw new Refusal('Another window reads this display; close that first.');
    if (steps.volts !== null) this.made.resolution.resolutionV = steps.volts;
    if (steps.amps !== null) this.made.resolution.resolutionA = steps.amps;
  }

  /** @throws {Refusal} where the instrument records already, naming the job */
  async record(of: RecordingOf): Promise<number> {
    if (this.recording.id === null) this.refuse();
    return this.recording.begin(of, this.spec, this.made.resolution);
  }

  /** The recording under way; null where there is none. */
  get recordingId(): number | null {
    return this.recording.id;
  }

  /** How the recording under way went on since a row; null where nothing did. */
  since(recordingId: number, row: number): WentOn | null {
    return this.recording.since(recordingId, row);
  }

  /** Ends the recording; returns its id once everything is in the record. Who asks again while it ends waits too. */
  stopRecording(giveUp?: AbortSignal): Promise<number | null> {
    return this.recording.stop(giveUp);
  }

  /** @throws {Refusal} where nothing is recorded */
  mark(event: MarkerEvent, note: string, agoS = 0): void {
    if (this.recording.id === null) throw new Refusal(`${this.spec.name} records nothing.`);
    this.recording.mark(event, note, agoS);
  }

  private theSupply(): ScpiSupply {
    if (!this.made.supply) throw new Refusal(`${this.spec.name} is a meter and has no output.`);
    if (!this.made.supply.isOpen) throw new Refusal(`${this.spec.name} is not connected: ${this.why}`);
    return this.made.supply;
  }

  /** After contact came, or came back, nobody knows what the output does: off, and read back. */
  private async makeSafe(): Promise<void> {
    this.armed = null;
    if (!this.made.supply) return;
    await this.made.supply.switchOutput(false);
    if (this.wasOn) this.note('output off', { why: 'contact was lost and came back' });
    this.wasOn = false;
    this.outputOn = false;
    this.context.mayBeOn();
    this.context.changed();
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
