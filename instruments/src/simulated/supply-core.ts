import { gaussianNoise, seededRandom } from '@umbral/core';
import type { SimulatedBench } from './bench.ts';
import { OnLoopback } from './server.ts';

/** What a simulated instrument can be made to do wrong, to try whoever talks to it. */
interface Trouble {
  /** Answers come this much later, milliseconds. */
  delayMs: number;
  /** Every so many answers: noise instead of one, only its first half, or none. */
  garbageEvery: number;
  halfEvery: number;
  silentEvery: number;
  /** The answer before is given once more first, so that answers and questions are out of step. */
  repeatEvery: number;
}

export interface SupplyModel {
  maxV: number;
  maxA: number;
  resolutionV: number;
  resolutionA: number;
  noiseA: number;
  /** A measurement takes about this long, milliseconds. */
  measureMs: number;
  errorQueue: number;
}

const usualModel: SupplyModel = {
  maxV: 32,
  maxA: 6,
  resolutionV: 0.001,
  resolutionA: 0.001,
  noiseA: 0.0006,
  measureMs: 12,
  errorQueue: 20,
};

const guardEveryMs = 100;

/** A simulated supply behind its language: what it is set to, what it gives, and when it switches off by itself. */
class SupplyCore {
  readonly trouble: Trouble = { delayMs: 0, garbageEvery: 0, halfEvery: 0, silentEvery: 0, repeatEvery: 0 };
  readonly model: SupplyModel;
  on = false;
  setV = 0;
  limitA = 0.1;
  /** It switches off by itself above these, and after so many seconds of silence; 0 s for never. */
  overV: number;
  overA: number;
  silentS = 0;
  private readonly random = seededRandom(11);
  private heardAt = performance.now();
  private answers = 0;
  private lastAnswer: Uint8Array = new Uint8Array(0);
  private readonly guard = setInterval(() => this.watchItself(), guardEveryMs);

  constructor(
    private readonly bench: SimulatedBench,
    model: Partial<SupplyModel> = {},
  ) {
    this.guard.unref();
    this.model = { ...usualModel, ...model };
    [this.overV, this.overA] = [1.1 * this.model.maxV, 1.1 * this.model.maxA];
  }

  close(): void {
    clearInterval(this.guard);
  }

  /** Somebody turns its knobs, or it is told to. */
  turn(to: { on?: boolean; setV?: number; limitA?: number }): void {
    this.on = to.on ?? this.on;
    this.setV = to.setV ?? this.setV;
    this.limitA = to.limitA ?? this.limitA;
    this.bench.setSupply({ on: this.on, setV: this.setV, limitA: this.limitA });
  }

  /** What it shows now, in steps of its display. Volts, amperes. */
  get shown(): { volts: number; amps: number; mode: 'cv' | 'cc' | 'off' } {
    const { volts, amps, mode } = this.bench.read().supply;
    const { resolutionV, resolutionA, noiseA } = this.model;
    const step = (value: number, size: number, noise: number): number =>
      Math.max(0, Math.round((value + noise * gaussianNoise(this.random)) / size) * size);
    return { volts: step(volts, resolutionV, 0.0004), amps: step(amps, resolutionA, noiseA), mode };
  }

  /**
   * Answers as its trouble has it.
   *
   * @param answer null where nothing is to be said
   * @param half the first half of an answer, as it breaks off
   */
  async answer(
    answer: Uint8Array | null,
    write: (bytes: Uint8Array) => void,
    of: { measures: boolean; noise: Uint8Array; half: (answer: Uint8Array) => Uint8Array },
  ): Promise<void> {
    this.heardAt = performance.now();
    const { trouble, model } = this;
    const wait = trouble.delayMs + (of.measures ? model.measureMs * (0.8 + 0.4 * this.random()) : 1);
    await new Promise((resolve) => setTimeout(resolve, wait));
    if (answer === null) return;
    const nth = ++this.answers;
    const isTurn = (every: number): boolean => every > 0 && nth % every === 0;
    if (isTurn(trouble.silentEvery)) return;
    if (isTurn(trouble.repeatEvery)) write(this.lastAnswer);
    this.lastAnswer = answer;
    if (isTurn(trouble.garbageEvery)) write(of.noise);
    else if (isTurn(trouble.halfEvery)) write(of.half(answer));
    else write(answer);
  }

  private watchItself(): void {
    if (!this.on) return;
    const { volts, amps } = this.bench.read().supply;
    const isSilent = this.silentS > 0 && performance.now() - this.heardAt > 1000 * this.silentS;
    if (volts <= this.overV && amps <= this.overA && !isSilent) return;
    this.turn({ on: false });
  }
}

/** A simulated supply, whatever it speaks: its panel, its knobs, and its cable. */
export abstract class SimulatedSupplyOf extends OnLoopback {
  protected readonly core: SupplyCore;

  constructor(bench: SimulatedBench, model: Partial<SupplyModel> = {}) {
    super();
    this.core = new SupplyCore(bench, model);
  }

  /** What it is made to do wrong. */
  get trouble(): Trouble {
    return this.core.trouble;
  }

  /** As its front panel would show it. */
  get panel(): { on: boolean; setV: number; limitA: number } {
    const { on, setV, limitA } = this.core;
    return { on, setV, limitA };
  }

  /** Somebody turns its knobs. */
  turn(to: { setV?: number; limitA?: number }): void {
    this.core.turn(to);
  }

  override async close(): Promise<void> {
    this.core.close();
    await super.close();
  }
}
