import type { Socket } from 'node:net';
import { gaussianNoise, seededRandom } from '@umbral/core';
import type { SimulatedBench } from './bench.ts';
import { listenOnLoopback, type LineServer } from './server.ts';

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
}

const usualModel: MeterModel = {
  rateHz: 20,
  resolutionV: 0.001,
  resolutionA: 0.001,
  noiseA: 0.0008,
  gainA: 1,
  offsetA: 0,
  clockRate: 1,
};

/** An inline meter at the device's port: sends a line for every sample to whoever is connected. */
export class SimulatedMeter {
  /** Lines that are replaced by noise: every so many; 0 for none. */
  garbageEvery = 0;
  private readonly model: MeterModel;
  private readonly random = seededRandom(23);
  private readonly listeners = new Set<Socket>();
  private server: LineServer | null = null;
  private timer: NodeJS.Timeout | undefined;
  private sent = 0;
  private began = 0;

  constructor(
    private readonly bench: SimulatedBench,
    model: Partial<MeterModel> = {},
  ) {
    this.model = { ...usualModel, ...model };
  }

  /** @returns the port that it listens on */
  async listen(port = 0): Promise<number> {
    this.server = await listenOnLoopback(port, (socket) => {
      this.listeners.add(socket);
      socket.on('close', () => this.listeners.delete(socket));
      socket.resume();
    });
    this.began = this.bench.now();
    const every = 1000 / this.model.rateHz;
    this.timer = setInterval(() => this.send(), Math.max(1, every));
    return this.server.port;
  }

  dropConnections(): void {
    this.server?.drop();
  }

  async close(): Promise<void> {
    clearInterval(this.timer);
    await this.server?.close();
  }

  /** A timer is late now and then; every sample that is due is sent, so that the rate holds. */
  private send(): void {
    const due = Math.floor((this.bench.now() - this.began) * this.model.rateHz);
    for (let k = 0; this.sent < due && k < 200; k++) {
      this.sent++;
      const line = this.line();
      for (const socket of this.listeners) if (socket.writable) socket.write(line);
    }
    this.sent = due;
  }

  private line(): string {
    const { model } = this;
    if (this.garbageEvery > 0 && this.sent % this.garbageEvery === 0) return '\u00ff;;~\n';
    const { volts, amps } = this.bench.read().port;
    const shownA = amps * model.gainA + model.offsetA + model.noiseA * gaussianNoise(this.random);
    const seconds = (this.sent / model.rateHz) * model.clockRate;
    const plain = (x: number, step: number): string => (Math.max(0, Math.round(x / step)) * step).toFixed(4);
    return `${seconds.toFixed(4)};${plain(volts, model.resolutionV)};${plain(shownA, model.resolutionA)}\n`;
  }
}
