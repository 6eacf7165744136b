import { gaussianNoise, seededRandom } from '@umbral/core';
import type { SimulatedBench } from './bench.ts';
import { listenOnLoopback, type LineServer } from './server.ts';
import { numberArgument, ScpiError, ScpiTree, switchArgument } from './scpi-tree.ts';

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

const noTrouble: Trouble = { delayMs: 0, garbageEvery: 0, halfEvery: 0, silentEvery: 0, repeatEvery: 0 };

interface SupplyModel {
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

/** Bits of the operation status register that say how the output is regulated. */
const [cvBit, ccBit] = [1 << 8, 1 << 10];

/** A bench supply with SCPI over TCP, connected to a virtual device. Others cannot tell it from a real one. */
export class SimulatedSupply {
  readonly trouble: Trouble = { ...noTrouble };
  private readonly model: SupplyModel;
  private readonly random = seededRandom(11);
  private readonly errors: ScpiError[] = [];
  private readonly tree: ScpiTree;
  private on = false;
  private setV = 0;
  private limitA = 0.1;
  private eventStatus = 0;
  private answers = 0;
  private lastAnswer = '';
  private server: LineServer | null = null;
  /** It switches off by itself above these, and after so many seconds of silence; 0 s for never. */
  private overV: number;
  private overA: number;
  private silentS = 0;
  private heardAt = performance.now();
  private readonly guard = setInterval(() => this.watchItself(), guardEveryMs);

  constructor(
    private readonly bench: SimulatedBench,
    model: Partial<SupplyModel> = {},
  ) {
    this.guard.unref();
    this.model = { ...usualModel, ...model };
    [this.overV, this.overA] = [1.1 * this.model.maxV, 1.1 * this.model.maxA];
    this.tree = new ScpiTree(this.commands());
  }

  /** @returns the port that it listens on */
  async listen(port = 0): Promise<number> {
    this.server = await listenOnLoopback(port, (socket, listen) => {
      let turn = Promise.resolve();
      listen((line) => {
        turn = turn.then(() => this.serve(line, (text) => socket.writable && socket.write(text)));
      });
    });
    return this.server.port;
  }

  /** Pulls the cable; a new connection can be made at once. */
  dropConnections(): void {
    this.server?.drop();
  }

  async close(): Promise<void> {
    clearInterval(this.guard);
    await this.server?.close();
  }

  /** As its front panel would show it. */
  get panel() {
    return { on: this.on, setV: this.setV, limitA: this.limitA, errors: this.errors.length };
  }

  /** Somebody turns its knobs. */
  turn(to: { setV?: number; limitA?: number }): void {
    this.setV = to.setV ?? this.setV;
    this.limitA = to.limitA ?? this.limitA;
    this.apply();
  }

  private async serve(line: string, write: (text: string) => void): Promise<void> {
    this.heardAt = performance.now();
    const measures = /MEAS/i.test(line);
    const answer = this.tree.run(line, (error) => this.raise(error));
    const wait = this.trouble.delayMs + (measures ? this.model.measureMs * (0.8 + 0.4 * this.random()) : 1);
    await new Promise((resolve) => setTimeout(resolve, wait));
    if (answer === null) return;
    const nth = ++this.answers;
    const isTurn = (every: number): boolean => every > 0 && nth % every === 0;
    if (isTurn(this.trouble.silentEvery)) return;
    if (isTurn(this.trouble.repeatEvery)) write(`${this.lastAnswer}\n`);
    this.lastAnswer = answer;
    if (isTurn(this.trouble.garbageEvery)) write('#\u0007~?x\n');
    else if (isTurn(this.trouble.halfEvery)) write(`${answer.slice(0, Math.ceil(answer.length / 2))}\n`);
    else write(`${answer}\n`);
  }

  /** The queue keeps the oldest; its last place says that it overflowed (SCPI-99, 21.8.1). */
  private raise(error: ScpiError): void {
    this.eventStatus |= error.code <= -200 ? 0x10 : 0x20;
    if (this.errors.length < this.model.errorQueue) this.errors.push(error);
    else this.errors[this.model.errorQueue - 1] = new ScpiError(-350, 'Queue overflow');
  }

  private nextError(): string {
    const error = this.errors.shift();
    return error ? `${error.code},"${error.message}"` : '0,"No error"';
  }

  private apply(): void {
    this.bench.setSupply({ on: this.on, setV: this.setV, limitA: this.limitA });
  }

  private watchItself(): void {
    if (!this.on) return;
    const { volts, amps } = this.bench.read().supply;
    const isSilent = this.silentS > 0 && performance.now() - this.heardAt > 1000 * this.silentS;
    if (volts <= this.overV && amps <= this.overA && !isSilent) return;
    this.on = false;
    this.apply();
  }

  private shown(value: number, step: number, noise: number): string {
    const digits = Math.max(0, -Math.floor(Math.log10(step)));
    return Math.max(0, Math.round((value + noise * gaussianNoise(this.random)) / step) * step).toFixed(digits);
  }

  private commands(): Record<string, (argument: string) => string | null> {
    const { model } = this;
    const volts = { unit: 'V', least: 0, most: model.maxV, usual: 0 } as const;
    const amps = { unit: 'A', least: 0, most: model.maxA, usual: 0.1 } as const;
    const seconds = { unit: 'S', least: 0, most: 3600, usual: 0 } as const;
    const done = (work: () => void): null => (work(), null);
    const measureV = (): string => this.shown(this.bench.read().supply.volts, model.resolutionV, 0.0004);
    const measureA = (): string => this.shown(this.bench.read().supply.amps, model.resolutionA, model.noiseA);
    const reset = (): void => {
      [this.on, this.setV, this.limitA, this.silentS] = [false, 0, 0.1, 0];
      this.apply();
    };
    return {
      '*IDN?': () => 'Bench Works,Simulated supply,0001,1.0',
      '*RST': () => done(reset),
      '*CLS': () => done(() => ((this.errors.length = 0), (this.eventStatus = 0))),
      '*OPC?': () => '1',
      '*OPC': () => done(() => (this.eventStatus |= 1)),
      '*WAI': () => null,
      '*TST?': () => '0',
      '*STB?': () => String((this.errors.length > 0 ? 4 : 0) | (this.eventStatus ? 32 : 0)),
      '*ESR?': () => {
        const status = this.eventStatus;
        this.eventStatus = 0;
        return String(status);
      },
      'SYSTem:ERRor[:NEXT]?': () => this.nextError(),
      'SYSTem:ERRor:COUNt?': () => String(this.errors.length),
      'SYSTem:VERSion?': () => '1999.0',
      '[SOURce:]VOLTage[:LEVel][:IMMediate][:AMPLitude]': (x) =>
        done(() => ((this.setV = numberArgument(x, volts)), this.apply())),
      '[SOURce:]VOLTage[:LEVel][:IMMediate][:AMPLitude]?': () => this.setV.toFixed(3),
      '[SOURce:]CURRent[:LEVel][:IMMediate][:AMPLitude]': (x) =>
        done(() => ((this.limitA = numberArgument(x, amps)), this.apply())),
      '[SOURce:]CURRent[:LEVel][:IMMediate][:AMPLitude]?': () => this.limitA.toFixed(3),
      '[SOURce:]VOLTage:PROTection[:LEVel]': (x) =>
        done(() => (this.overV = numberArgument(x, { ...volts, most: 1.1 * model.maxV }))),
      '[SOURce:]VOLTage:PROTection[:LEVel]?': () => this.overV.toFixed(3),
      '[SOURce:]CURRent:PROTection[:LEVel]': (x) =>
        done(() => (this.overA = numberArgument(x, { ...amps, most: 1.1 * model.maxA }))),
      '[SOURce:]CURRent:PROTection[:LEVel]?': () => this.overA.toFixed(3),
      'SYSTem:COMMunicate:WATChdog': (x) => done(() => (this.silentS = numberArgument(x, seconds))),
      'SYSTem:COMMunicate:WATChdog?': () => this.silentS.toFixed(0),
      'OUTPut[:STATe]': (x) => done(() => ((this.on = switchArgument(x)), this.apply())),
      'OUTPut[:STATe]?': () => (this.on ? '1' : '0'),
      'MEASure[:SCALar]:VOLTage[:DC]?': measureV,
      'MEASure[:SCALar]:CURRent[:DC]?': measureA,
      'MEASure[:SCALar]:POWer[:DC]?': () => (Number(measureV()) * Number(measureA())).toFixed(3),
      'STATus:OPERation:CONDition?': () => {
        const { mode } = this.bench.read().supply;
        return String(mode === 'cc' ? ccBit : mode === 'cv' ? cvBit : 0);
      },
    };
  }
}
