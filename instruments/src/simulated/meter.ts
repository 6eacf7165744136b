import type { Socket } from 'node:net';
import { gaussianNoise, seededRandom } from '@umbral/core';
import { usualFrames, type FrameDialect } from '../dialect/index.ts';
import type { SimulatedBench } from './bench.ts';
import { frameOf } from './frame-writer.ts';
import { OnLoopback } from './server.ts';

interface MeterModel {
  rateHz: number;
  resolutionV: number;
  resolutionA: number;
  noiseA: number;
  /** `shown = true * gain + offset`. */
  gainA: number;
  offsetA: number;
  /** Its own clock against ours: 1 runs the same. */
  clockRate: number;
  /** Text lines, or frames of a dialect and so many bytes. */
  sends: 'lines' | { dialect: FrameDialect; bytes: number };
}

const usualModel: MeterModel = {
  rateHz: 20,
  resolutionV: 0.001,
  resolutionA: 0.001,
  noiseA: 0.0008,
  gainA: 1,
  offsetA: 0,
  clockRate: 1,
  sends: 'lines',
};

/** An inline meter at the device's port: sends a line, or a binary frame, for every sample to whoever is connected. */
export class SimulatedMeter extends OnLoopback {
  /** Lines or frames that are replaced by noise: every so many; 0 for none. */
  garbageEvery = 0;
  private readonly model: MeterModel;
  private readonly random = seededRandom(23);
  private timer: NodeJS.Timeout | undefined;
  private sent = 0;
  private began = 0;

  constructor(
    private readonly bench: SimulatedBench,
    model: Partial<MeterModel> = {},
  ) {
    super();
    this.model = { ...usualModel, ...model };
  }

  override async listen(port = 0): Promise<number> {
    const at = await super.listen(port);
    this.began = this.bench.now();
    const every = 1000 / this.model.rateHz;
    this.timer = setInterval(() => this.send(), Math.max(1, every));
    return at;
  }

  override async close(): Promise<void> {
    clearInterval(this.timer);
    await super.close();
  }

  protected connected(socket: Socket): void {
    socket.resume();
  }

  /** A timer is late now and then; every sample that is due is sent, so that the rate holds. */
  private send(): void {
    const due = Math.floor((this.bench.now() - this.began) * this.model.rateHz);
    for (let k = 0; this.sent < due && k < 200; k++) {
      this.sent++;
      const { sends } = this.model;
      this.broadcast(sends === 'lines' ? this.line() : this.frame(sends));
    }
    this.sent = due;
  }

  /** Seconds of its own clock, volts and amperes, as its display shows them. */
  private get shown(): [seconds: number, volts: number, amps: number] {
    const { model } = this;
    const { volts, amps } = this.bench.read().port;
    const shownA = amps * model.gainA + model.offsetA + model.noiseA * gaussianNoise(this.random);
    const plain = (x: number, step: number): number => Math.max(0, Math.round(x / step)) * step;
    const seconds = (this.sent / model.rateHz) * model.clockRate;
    return [seconds, plain(volts, model.resolutionV), plain(shownA, model.resolutionA)];
  }

  private get isNoise(): boolean {
    return this.garbageEvery > 0 && this.sent % this.garbageEvery === 0;
  }

  private line(): string {
    if (this.isNoise) return '\u00ff;;~\n';
    return `${this.shown.map((x) => x.toFixed(4)).join(';')}\n`;
  }

  /** Noise is a frame with a byte that went wrong. */
  private frame({ dialect, bytes }: Exclude<MeterModel['sends'], string>): Uint8Array {
    const [seconds, volts, amps] = this.shown;
    const frame = frameOf(dialect, { seconds, volts, amps }, bytes, (at) => (at === countAt ? this.sent & 0xff : 0));
    if (this.isNoise) frame[countAt + 1] ^= 0x10;
    return frame;
  }
}

/** Where frames are counted, unless a value stands there. */
const countAt = 4;

/** What the frame meter that ships sends. */
export const usualFrameMeter = { dialect: usualFrames, bytes: 17 };
