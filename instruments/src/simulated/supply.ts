import type { Socket } from 'node:net';
import { bytesOf, LineCutter, textOf } from '../transport/index.ts';
import type { SimulatedBench } from './bench.ts';
import { numberArgument, ScpiError, ScpiTree, switchArgument } from './scpi-tree.ts';
import { SimulatedSupplyOf, type SupplyModel } from './supply-core.ts';

/** Bits of the operation status register that say how the output is regulated. */
const [cvBit, ccBit] = [1 << 8, 1 << 10];

const lineEnd = 10;

/** A bench supply with SCPI over TCP, connected to a virtual device. Others cannot tell it from a real one. */
export class SimulatedSupply extends SimulatedSupplyOf {
  private readonly errors: ScpiError[] = [];
  private readonly tree: ScpiTree;
  private eventStatus = 0;

  constructor(bench: SimulatedBench, model: Partial<SupplyModel> = {}) {
    super(bench, model);
    this.tree = new ScpiTree(this.commands());
  }

  override get panel() {
    return { ...super.panel, errors: this.errors.length };
  }

  protected connected(socket: Socket): void {
    let turn = Promise.resolve();
    const cutter = new LineCutter((line) => {
      turn = turn.then(() => this.serve(line, (bytes) => socket.writable && socket.write(bytes)));
    });
    socket.on('data', (piece: Buffer) => cutter.push(textOf(piece)));
  }

  private async serve(line: string, write: (text: Uint8Array) => void): Promise<void> {
    const answer = this.tree.run(line, (error) => this.raise(error));
    await this.core.answer(answer === null ? null : bytesOf(`${answer}\n`), write, {
      measures: /MEAS/i.test(line),
      noise: bytesOf('#\u0007~?x\n'),
      half: (bytes) => Uint8Array.from([...bytes.slice(0, Math.ceil((bytes.length - 1) / 2)), lineEnd]),
    });
  }

  /** The queue keeps the oldest; its last place says that it overflowed (SCPI-99, 21.8.1). */
  private raise(error: ScpiError): void {
    this.eventStatus |= error.code <= -200 ? 0x10 : 0x20;
    if (this.errors.length < this.core.model.errorQueue) this.errors.push(error);
    else this.errors[this.core.model.errorQueue - 1] = new ScpiError(-350, 'Queue overflow');
  }

  private nextError(): string {
    const error = this.errors.shift();
    return error ? `${error.code},"${error.message}"` : '0,"No error"';
  }

  private commands(): Record<string, (argument: string) => string | null> {
    const { core } = this;
    const { model } = core;
    const volts = { unit: 'V', least: 0, most: model.maxV, usual: 0 } as const;
    const amps = { unit: 'A', least: 0, most: model.maxA, usual: 0.1 } as const;
    const seconds = { unit: 'S', least: 0, most: 3600, usual: 0 } as const;
    const done = (work: () => void): null => (work(), null);
    const digits = (step: number): number => Math.max(0, -Math.floor(Math.log10(step)));
    const measureV = (): string => core.shown.volts.toFixed(digits(model.resolutionV));
    const measureA = (): string => core.shown.amps.toFixed(digits(model.resolutionA));
    const reset = (): void => {
      core.silentS = 0;
      core.turn({ on: false, setV: 0, limitA: 0.1 });
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
        done(() => core.turn({ setV: numberArgument(x, volts) })),
      '[SOURce:]VOLTage[:LEVel][:IMMediate][:AMPLitude]?': () => core.setV.toFixed(3),
      '[SOURce:]CURRent[:LEVel][:IMMediate][:AMPLitude]': (x) =>
        done(() => core.turn({ limitA: numberArgument(x, amps) })),
      '[SOURce:]CURRent[:LEVel][:IMMediate][:AMPLitude]?': () => core.limitA.toFixed(3),
      '[SOURce:]VOLTage:PROTection[:LEVel]': (x) =>
        done(() => (core.overV = numberArgument(x, { ...volts, most: 1.1 * model.maxV }))),
      '[SOURce:]VOLTage:PROTection[:LEVel]?': () => core.overV.toFixed(3),
      '[SOURce:]CURRent:PROTection[:LEVel]': (x) =>
        done(() => (core.overA = numberArgument(x, { ...amps, most: 1.1 * model.maxA }))),
      '[SOURce:]CURRent:PROTection[:LEVel]?': () => core.overA.toFixed(3),
      'SYSTem:COMMunicate:WATChdog': (x) => done(() => (core.silentS = numberArgument(x, seconds))),
      'SYSTem:COMMunicate:WATChdog?': () => core.silentS.toFixed(0),
      'OUTPut[:STATe]': (x) => done(() => core.turn({ on: switchArgument(x) })),
      'OUTPut[:STATe]?': () => (core.on ? '1' : '0'),
      'MEASure[:SCALar]:VOLTage[:DC]?': measureV,
      'MEASure[:SCALar]:CURRent[:DC]?': measureA,
      'MEASure[:SCALar]:POWer[:DC]?': () => (Number(measureV()) * Number(measureA())).toFixed(3),
      'STATus:OPERation:CONDition?': () => {
        const { mode } = core.shown;
        return String(mode === 'cc' ? ccBit : mode === 'cv' ? cvBit : 0);
      },
    };
  }
}
