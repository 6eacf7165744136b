import crcOf from 'crc/calculators/crc16modbus';
import {
  registersFor,
  registerTypes,
  valueIn,
  type RegisterBit,
  type RegisterDialect,
  type RegisterValue,
} from '../dialect/index.ts';
import { ConnectionProblem, type Transport } from '../transport/index.ts';
import { NoAnswer, RegisterBus, type Registers } from './register-bus.ts';
import {
  AnswerProblem,
  refuseOther,
  type SelfWatch,
  type Supply,
  type SupplyMeasurement,
  type SupplyOptions,
} from './supply.ts';

const answerTimeoutMs = 1000;

/** Functions that write a coil and a register, and what a coil is told for on. */
const [coilCode, registerCode, coilOn] = [5, 6, 0xff00];

/** What of an instrument is read: registers in a row, by the function that reads them. */
interface Span {
  function: RegisterBit['function'];
  from: number;
  count: number;
}

type Reader = (span: Span) => Promise<readonly number[]>;

/** A supply, or a meter, that is asked and set by registers (Modbus RTU or TCP). */
export class RegisterSupply implements Supply {
  private bus: RegisterBus | null = null;
  private readonly timeoutMs: number;
  private readonly unit: number;
  private lostWhy = 'not connected';
  private readonly gone = (reason: string | null): void => {
    this.bus = null;
    this.lostWhy = reason ?? 'not connected';
    this.options.lost?.(reason);
  };

  constructor(
    private readonly transport: Transport,
    readonly dialect: RegisterDialect,
    private readonly options: SupplyOptions = {},
  ) {
    this.timeoutMs = options.timeoutMs ?? answerTimeoutMs;
    this.unit = options.unit ?? dialect.unit;
  }

  get isOpen(): boolean {
    return this.bus !== null;
  }

  async open(): Promise<string> {
    const framing = this.dialect.framing ?? (this.transport.isSerial ? 'rtu' : 'tcp');
    this.bus = await RegisterBus.join(this.transport, framing, this.gone);
    const { identify, name } = this.dialect;
    try {
      if (identify && !(await this.isBit(identify)))
        throw new AnswerProblem(
          `address ${this.unit} answers, but not in this language: register ${identify.register} is not ${identify.is}`,
        );
      await this.measure();
    } catch (error) {
      this.close();
      throw error;
    }
    return `${name}, address ${this.unit}`;
  }

  close(): void {
    const { bus } = this;
    this.bus = null;
    bus?.leave(this.gone);
  }

  async set(volts: number, limitA: number): Promise<void> {
    const { setVolts, setLimit, resolutionV, resolutionA } = this.dialect;
    // The limit first: a higher voltage never meets an old, higher limit.
    await this.write('the limit', setLimit, limitA, 'A', resolutionA);
    await this.write('the voltage', setVolts, volts, 'V', resolutionV);
  }

  async watchItself(to: { volts: number; amps: number; silentS: number }): Promise<SelfWatch> {
    const { overVolts, overAmps, watchdog, resolutionV, resolutionA } = this.dialect;
    const put = async (what: string, of: RegisterValue | null, x: number, unit: string, step: number) =>
      of && (await this.write(what, of, x, unit, step), x);
    return {
      overV: await put('the over-voltage limit', overVolts, to.volts, 'V', resolutionV),
      overA: await put('the over-current limit', overAmps, to.amps, 'A', resolutionA),
      silentS: await put('the communication watchdog', watchdog, to.silentS, 's', 1),
    };
  }

  async selfWatch(): Promise<SelfWatch> {
    const { overVolts, overAmps, watchdog } = this.dialect;
    const asked = async (of: RegisterValue | null) => of && (await this.read([of]))[0];
    return { overV: await asked(overVolts), overA: await asked(overAmps), silentS: await asked(watchdog) };
  }

  async settings(): Promise<{ volts: number; limitA: number; on: boolean }> {
    const { setVolts, setLimit } = this.dialect;
    const [volts, limitA] = await this.read([needed(setVolts), needed(setLimit)]);
    return { volts, limitA, on: await this.isOn() };
  }

  async switchOutput(on: boolean): Promise<void> {
    const output = needed(this.dialect.output);
    const { register, function: by, bit, is } = output;
    const whole = on ? is : is === 0 ? 1 : 0;
    await this.use(async (registers) => {
      if (by === 1) return void (await registers.writeCoil(register, whole === 1));
      const was = bit === null ? 0 : (await registers.readHoldingRegisters(register, 1)).data[0];
      const next = bit === null ? whole : whole === 0 ? was & ~(1 << bit) : was | (1 << bit);
      await registers.writeRegister(register, next);
    });
    if ((await this.isOn()) !== on)
      throw new AnswerProblem(`the output should be ${on ? 'on' : 'off'}, but the supply says it is not`);
  }

  offBytes(): Uint8Array[] {
    const { output } = this.dialect;
    if (!output || output.bit !== null) return [];
    const { register, function: by, is } = output;
    const value = is === 0 ? 1 : 0;
    const frame = Buffer.alloc(8);
    frame.set([this.unit, by === 1 ? coilCode : registerCode]);
    frame.writeUInt16BE(register, 2);
    frame.writeUInt16BE(by === 1 ? value * coilOn : value, 4);
    frame.writeUInt16LE(crcOf(frame.subarray(0, 6)), 6);
    return [frame];
  }

  isOn(): Promise<boolean> {
    return this.isBit(needed(this.dialect.output));
  }

  async measure(): Promise<SupplyMeasurement> {
    const [volts, amps] = await this.read([this.dialect.volts, this.dialect.amps]);
    return { volts, amps };
  }

  async mode(): Promise<'cv' | 'cc' | 'off' | null> {
    const { constantAmps, constantVolts, output } = this.dialect;
    if (!constantAmps && !constantVolts) return null;
    if (output && !(await this.isBit(output))) return 'off';
    if (constantAmps && (await this.isBit(constantAmps))) return 'cc';
    return !constantVolts || (await this.isBit(constantVolts)) ? 'cv' : 'off';
  }

  /** Writes a value and reads it back. */
  private async write(what: string, of: RegisterValue | null, x: number, unit: string, step: number): Promise<void> {
    const to = needed(of);
    const values = registersFor(x, to);
    if (values === null) throw new AnswerProblem(`${what}: ${x} ${unit} does not fit into register ${to.register}`);
    await this.use(async (registers) => {
      if (to.write === 16) await registers.writeRegisters(to.register, values);
      else await registers.writeRegister(to.register, values[0]);
    });
    const [is] = await this.read([to]);
    refuseOther(what, is, x, unit, Math.max(step, Math.abs(to.scale)));
  }

  /** Several values, with one request where their registers are near each other. */
  private async read(values: readonly RegisterValue[]): Promise<number[]> {
    const spans = spansOf(values, this.dialect.maxGap);
    const found = await this.use(async (registers) => {
      const read = readerOf(registers);
      const out = new Map<string, number>();
      for (const span of spans) (await read(span)).forEach((x, k) => out.set(`${span.function} ${span.from + k}`, x));
      return out;
    });
    return values.map((of) => {
      const count = registerTypes[of.type].registers;
      const raw = Array.from({ length: count }, (_, k) => found.get(`${of.function} ${of.register + k}`) ?? NaN);
      const value = valueIn(raw, of);
      if (!Number.isFinite(value)) throw new AnswerProblem(`register ${of.register} holds no number`);
      return value;
    });
  }

  private async isBit({ register, function: by, bit, is }: RegisterBit): Promise<boolean> {
    const [raw] = await this.use((registers) => readerOf(registers)({ function: by, from: register, count: 1 }));
    return (bit === null ? raw : (raw >> bit) & 1) === is;
  }

  private async use<T>(work: (registers: Registers) => Promise<T>): Promise<T> {
    const { bus } = this;
    if (!bus) throw new ConnectionProblem(`${this.transport.where}: ${this.lostWhy}`);
    try {
      return await bus.use(this.unit, this.timeoutMs, work);
    } catch (error) {
      // Whoever does not answer is looked for anew; others on the line go on.
      if (error instanceof NoAnswer) this.close();
      throw error;
    }
  }
}

function needed<T>(of: T | null): T {
  if (of === null) throw new AnswerProblem('this instrument has no output that could be set');
  return of;
}

const readerOf =
  (registers: Registers): Reader =>
  async ({ function: by, from, count }) => {
    if (by === 3) return (await registers.readHoldingRegisters(from, count)).data;
    if (by === 4) return (await registers.readInputRegisters(from, count)).data;
    const { data } = await (by === 1 ? registers.readCoils(from, count) : registers.readDiscreteInputs(from, count));
    return data.slice(0, count).map(Number);
  };

/** The most registers that one request may ask for. */
const mostRegisters = 120;

function spansOf(values: readonly RegisterValue[], maxGap: number): Span[] {
  const spans: Span[] = [];
  const inOrder = [...values].sort((a, b) => a.function - b.function || a.register - b.register);
  for (const { function: by, register, type } of inOrder) {
    const end = register + registerTypes[type].registers;
    const last = spans.at(-1);
    const isNear = last?.function === by && register - (last.from + last.count) <= maxGap;
    if (last && isNear && end - last.from <= mostRegisters) last.count = Math.max(last.count, end - last.from);
    else spans.push({ function: by, from: register, count: end - register });
  }
  return spans;
}
