import { EventEmitter } from 'node:events';
import crcOf from 'crc/calculators/crc16modbus';
import ModbusRTU from 'modbus-serial';
import { ConnectionProblem, type Connection, type Transport } from '../transport/index.ts';
import { AnswerProblem } from './supply.ts';

type Framing = 'rtu' | 'tcp';

/** Silence after which a late answer is no longer expected, milliseconds. */
const silentMs = 120;

/** Answers of functions that read bits, read registers, and write: bytes around what was asked for. */
const answerBytes = { head: 3, written: 6, checksum: 2, exception: 5 };

/** A port as the Modbus client wants one: whole answers with their checksum, whatever they come over. */
class RegisterPort extends EventEmitter {
  private kept = Buffer.alloc(0);
  private connection: Connection | null = null;
  private asked: { unit: number; code: number; length: number } | null = null;
  private transaction = 0;
  private silence: NodeJS.Timeout | undefined;
  /** When something arrived last, milliseconds. */
  heardAt = -Infinity;

  constructor(
    private readonly transport: Transport,
    private readonly framing: Framing,
    private readonly closed: (reason: string | null) => void,
  ) {
    super();
  }

  get isOpen(): boolean {
    return this.connection !== null;
  }

  open(done: (error?: Error) => void): void {
    this.transport
      .connect({
        data: (piece) => this.took(piece),
        closed: (reason) => {
          this.connection = null;
          clearTimeout(this.silence);
          this.closed(reason);
        },
      })
      .then(
        (connection) => {
          this.connection = connection;
          done();
        },
        (error: Error) => done(error),
      );
  }

  close(done?: () => void): void {
    this.connection?.close();
    done?.();
  }

  /** @param frame a request as on a serial bus, with its checksum */
  write(frame: Buffer): void {
    // What came before it was asked is the answer to nothing.
    clearTimeout(this.silence);
    this.kept = Buffer.alloc(0);
    this.asked = { unit: frame[0], code: frame[1], length: lengthOfAnswer(frame) };
    if (this.framing === 'rtu') return this.connection?.send(frame);
    this.transaction = (this.transaction + 1) & 0xffff;
    const body = frame.subarray(0, -answerBytes.checksum);
    const head = Buffer.alloc(6);
    head.writeUInt16BE(this.transaction, 0);
    head.writeUInt16BE(body.length, 4);
    this.connection?.send(Buffer.concat([head, body]));
  }

  private took(piece: Uint8Array): void {
    this.heardAt = performance.now();
    this.kept = Buffer.concat([this.kept, piece]).subarray(-1024);
    clearTimeout(this.silence);
    const frame = this.framing === 'rtu' ? this.rtuFrame() : this.tcpFrame();
    if (frame) this.tell(frame);
    // What is followed by silence and is no answer is told as it is: the client says what is wrong with it.
    else if (this.asked) this.silence = setTimeout(() => this.tell(this.kept), silentMs);
  }

  private tell(frame: Buffer): void {
    this.asked = null;
    this.emit('data', frame);
  }

  /** The first stretch that can be the answer; noise in front of it is passed over. */
  private rtuFrame(): Buffer | null {
    const { asked, kept } = this;
    if (!asked) return null;
    for (let k = 0; k + answerBytes.exception <= kept.length; k++) {
      if (kept[k] !== asked.unit) continue;
      const isException = kept[k + 1] === (asked.code | 0x80);
      if (!isException && kept[k + 1] !== asked.code) continue;
      const length = isException ? answerBytes.exception : asked.length;
      if (k + length > kept.length) return null;
      const frame = kept.subarray(k, k + length);
      if (crcOf(frame.subarray(0, -answerBytes.checksum)) === frame.readUInt16LE(length - answerBytes.checksum))
        return frame;
    }
    return null;
  }

  private tcpFrame(): Buffer | null {
    const { kept } = this;
    if (!this.asked || kept.length < 8) return null;
    const length = kept.readUInt16BE(4);
    if (kept.length < 6 + length) return null;
    const body = kept.subarray(6, 6 + length);
    if (kept.readUInt16BE(0) !== this.transaction) {
      this.kept = kept.subarray(6 + length);
      return null;
    }
    const sum = Buffer.alloc(answerBytes.checksum);
    sum.writeUInt16LE(crcOf(body));
    return Buffer.concat([body, sum]);
  }
}

function lengthOfAnswer(request: Buffer): number {
  const [, code] = request;
  const { head, written, checksum } = answerBytes;
  if (code > 4) return written + checksum;
  const count = request.readUInt16BE(4);
  return head + (code <= 2 ? Math.ceil(count / 8) : 2 * count) + checksum;
}

/** Reads or writes registers of one address on the bus. */
export type Registers = Pick<
  ModbusRTU,
  | 'readHoldingRegisters'
  | 'readInputRegisters'
  | 'readCoils'
  | 'readDiscreteInputs'
  | 'writeRegister'
  | 'writeRegisters'
  | 'writeCoil'
>;

/** Somebody on the bus: told when the line is gone. */
type User = (reason: string | null) => void;

/**
 * A line with instruments that are asked by registers. Several share one serial port, each with an address of its own; they
 * take turns, so that an answer is never taken for that of another's question.
 */
export class RegisterBus {
  private static readonly open = new Map<string, RegisterBus>();
  private readonly users = new Set<User>();
  private readonly port: RegisterPort;
  private readonly client: ModbusRTU;
  private opening: Promise<void> | null = null;
  private turns: Promise<unknown> = Promise.resolve();
  private tellLost: (error: Error) => void = () => undefined;
  /** A late answer may still come. */
  private inDoubt = false;

  private constructor(
    private readonly transport: Transport,
    framing: Framing,
  ) {
    this.port = new RegisterPort(transport, framing, (reason) => this.closed(reason));
    this.client = new ModbusRTU(this.port);
  }

  /**
   * Joins the line that a transport leads to, opening it where nobody has.
   *
   * @throws {ConnectionProblem} where it cannot be reached
   */
  static async join(transport: Transport, framing: Framing, user: User): Promise<RegisterBus> {
    // Over the network each connection is a line of its own; a serial port is one, whoever uses it.
    const { line } = transport;
    const bus = (line !== undefined && RegisterBus.open.get(line)) || new RegisterBus(transport, framing);
    if (line !== undefined) RegisterBus.open.set(line, bus);
    bus.users.add(user);
    bus.opening ??= new Promise<void>((resolve, reject) =>
      bus.client.open((error?: Error) => (error ? reject(error) : resolve())),
    );
    try {
      await bus.opening;
    } catch (error) {
      bus.leave(user);
      throw error;
    }
    return bus;
  }

  leave(user: User): void {
    if (!this.users.delete(user) || this.users.size > 0) return;
    this.forget();
    this.port.close();
  }

  /**
   * Does something with the registers of an address, when it is its turn.
   *
   * @throws {AnswerProblem} for what is refused, or not answered in time
   */
  use<T>(unit: number, timeoutMs: number, work: (registers: Registers) => Promise<T>): Promise<T> {
    const turn = this.turns.then(async () => {
      if (!this.port.isOpen) throw new ConnectionProblem(`${this.transport.where}: not connected`);
      while (this.inDoubt && performance.now() - this.port.heardAt < silentMs)
        await new Promise((resolve) => setTimeout(resolve, silentMs / 4));
      this.inDoubt = false;
      this.client.setID(unit);
      this.client.setTimeout(timeoutMs);
      try {
        // The client waits out its time even where the line is gone.
        return await Promise.race([work(this.client), this.lost()]);
      } catch (error) {
        this.inDoubt = true;
        throw problemOf(error, unit, timeoutMs);
      }
    });
    this.turns = turn.catch(() => undefined);
    return turn;
  }

  /** Rejects when the line is gone. */
  private lost(): Promise<never> {
    return new Promise((_, reject) => {
      this.tellLost = reject;
    });
  }

  private forget(): void {
    const { line } = this.transport;
    if (line !== undefined && RegisterBus.open.get(line) === this) RegisterBus.open.delete(line);
  }

  private closed(reason: string | null): void {
    this.forget();
    this.tellLost(new ConnectionProblem(`${this.transport.where}: ${reason ?? 'closed'}`));
    const told = [...this.users];
    this.users.clear();
    for (const user of told) user(reason);
  }
}

function problemOf(error: unknown, unit: number, timeoutMs: number): Error {
  if (error instanceof ConnectionProblem || error instanceof AnswerProblem) return error;
  const { message, name } = error as Error;
  if (name === 'TransactionTimedOutError') return new NoAnswer(`address ${unit} did not answer within ${timeoutMs} ms`);
  const exception = /^Modbus exception (\d+): (.*)$/.exec(message);
  return new AnswerProblem(
    exception
      ? `the instrument refused: exception ${exception[1]}, ${exception[2].toLowerCase()}`
      : `an answer that is none: ${message}`,
  );
}

/** Nobody answered in time. */
export class NoAnswer extends AnswerProblem {}
