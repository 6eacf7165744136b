import type { Socket } from 'node:net';
import crcOf from 'crc/calculators/crc16modbus';
import { usualRegisters as dialect } from '../dialect/index.ts';
import type { SimulatedBench } from './bench.ts';
import { SimulatedSupplyOf, type SupplyModel } from './supply-core.ts';

/** Exceptions of the protocol. */
const exceptions = { function: 1, address: 2, value: 3 } as const;

class Exception extends Error {
  constructor(readonly code: number) {
    super(`exception ${code}`);
  }
}

/** How many registers it has; what lies between those that mean something reads 0. */
const registers = 12;
const identity = 4242;

/**
 * A bench supply of the bottom shelf: Modbus registers, over a socket with a header (TCP), or as on a serial bus (RTU), which
 * a pseudo-terminal leads to. Others cannot tell it from a real one.
 */
export class SimulatedRegisterSupply extends SimulatedSupplyOf {
  constructor(
    bench: SimulatedBench,
    private readonly of: { framing: 'rtu' | 'tcp'; unit?: number } = { framing: 'tcp' },
    model: Partial<SupplyModel> = {},
  ) {
    super(bench, { resolutionV: 0.01, ...model });
  }

  protected connected(socket: Socket): void {
    const { framing } = this.of;
    let kept = Buffer.alloc(0);
    let turn = Promise.resolve();
    socket.on('data', (piece: Buffer) => {
      kept = Buffer.concat([kept, piece]);
      for (let request = cut(kept, framing); request; request = cut(kept, framing)) {
        kept = kept.subarray(request.bytes);
        const { body, transaction } = request;
        turn = turn.then(() => this.answer(body, transaction, (bytes) => socket.writable && socket.write(bytes)));
      }
    });
  }

  /** @param body address, function and data of a request; null for one that is not whole */
  private async answer(body: Buffer | null, transaction: number, write: (bytes: Uint8Array) => void): Promise<void> {
    if (!body || body[0] !== (this.of.unit ?? dialect.unit)) return;
    const [unit, code] = body;
    let said: Buffer;
    try {
      said = Buffer.concat([Buffer.from([unit, code]), this.does(code, body.subarray(2))]);
    } catch (error) {
      if (!(error instanceof Exception)) throw error;
      said = Buffer.from([unit, code | 0x80, error.code]);
    }
    const whole = this.of.framing === 'rtu' ? withChecksum(said) : withHeader(said, transaction);
    await this.core.answer(whole, write, {
      measures: code === 3 || code === 4,
      noise: Buffer.from([unit, code, 0xff, 0, 0x7e]),
      half: (bytes) => bytes.subarray(0, Math.ceil(bytes.length / 2)),
    });
  }

  private does(code: number, data: Buffer): Buffer {
    const at = data.readUInt16BE(0);
    const second = data.readUInt16BE(2);
    if (code === 3 || code === 4) {
      if (second < 1 || at + second > registers) throw new Exception(exceptions.address);
      const out = Buffer.alloc(1 + 2 * second);
      out[0] = 2 * second;
      const all = this.values();
      for (let k = 0; k < second; k++) out.writeUInt16BE(all[at + k], 1 + 2 * k);
      return out;
    }
    if (code === 6) this.write(at, second);
    else if (code === 16) for (let k = 0; k < second; k++) this.write(at + k, data.readUInt16BE(5 + 2 * k));
    else throw new Exception(exceptions.function);
    return data.subarray(0, 4);
  }

  private values(): number[] {
    const { core } = this;
    const { volts, amps, mode } = core.shown;
    const all = [
      core.setV * 100,
      core.limitA * 1000,
      volts * 100,
      amps * 1000,
      0,
      0,
      core.overV * 100,
      core.overA * 1000,
    ];
    return [...all, mode === 'cc' ? 1 : 0, core.on ? 1 : 0, core.silentS, identity].map(Math.round);
  }

  private write(register: number, value: number): void {
    const { core } = this;
    const { maxV, maxA } = core.model;
    const within = (x: number, most: number): number => {
      if (x > most + 1e-9) throw new Exception(exceptions.value);
      return x;
    };
    const writes: Record<number, () => void> = {
      0: () => core.turn({ setV: within(value / 100, maxV) }),
      1: () => core.turn({ limitA: within(value / 1000, maxA) }),
      6: () => (core.overV = within(value / 100, 1.1 * maxV)),
      7: () => (core.overA = within(value / 1000, 1.1 * maxA)),
      9: () => core.turn({ on: within(value, 1) === 1 }),
      10: () => (core.silentS = value),
    };
    const does = writes[register];
    if (!does) throw new Exception(exceptions.address);
    does();
  }
}

/** The first request of what arrived; null until one is whole. */
function cut(kept: Buffer, framing: 'rtu' | 'tcp'): { body: Buffer | null; transaction: number; bytes: number } | null {
  if (framing === 'tcp') {
    if (kept.length < 7) return null;
    const bytes = 6 + kept.readUInt16BE(4);
    return kept.length < bytes ? null : { body: kept.subarray(6, bytes), transaction: kept.readUInt16BE(0), bytes };
  }
  if (kept.length < 8) return null;
  const bytes = kept[1] === 16 ? 9 + kept[6] : 8;
  if (kept.length < bytes) return null;
  const body = kept.subarray(0, bytes - 2);
  // A request that is not whole is not answered; what comes is heard from the next byte on.
  if (crcOf(body) !== kept.readUInt16LE(bytes - 2)) return { body: null, transaction: 0, bytes: 1 };
  return { body, transaction: 0, bytes };
}

function withChecksum(body: Buffer): Buffer {
  const sum = Buffer.alloc(2);
  sum.writeUInt16LE(crcOf(body));
  return Buffer.concat([body, sum]);
}

function withHeader(body: Buffer, transaction: number): Buffer {
  const head = Buffer.alloc(6);
  head.writeUInt16BE(transaction, 0);
  head.writeUInt16BE(body.length, 4);
  return Buffer.concat([head, body]);
}
