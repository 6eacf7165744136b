import type { Socket } from 'node:net';
import { bytesOf, textOf } from '../transport/index.ts';
import type { SimulatedBench } from './bench.ts';
import { SimulatedSupplyOf, type SupplyModel } from './supply-core.ts';

/** Every command that it knows, by how it begins, with the digits that follow. */
const commands = /^(VS|IS)(\d{4})|^ON([01])|^(RD|ST|ID)\?/;

/** A supply that is told by plain text without line ends, with numbers of four digits; it answers to questions only. */
export class SimulatedAsciiSupply extends SimulatedSupplyOf {
  /** @param echoes it says every command back before it answers */
  constructor(
    bench: SimulatedBench,
    private readonly echoes = false,
    model: Partial<SupplyModel> = {},
  ) {
    super(bench, { resolutionV: 0.01, ...model });
  }

  protected connected(socket: Socket): void {
    let kept = '';
    let turn = Promise.resolve();
    socket.on('data', (piece: Buffer) => {
      kept = (kept + textOf(piece)).slice(-200);
      for (let match = commands.exec(kept); match; match = commands.exec(kept)) {
        kept = kept.slice(match[0].length);
        const [command] = match;
        turn = turn.then(() => this.serve(command, (bytes) => socket.writable && socket.write(bytes)));
      }
      // What begins no command is passed over.
      while (kept !== '' && !/^[VIORS]/.test(kept)) kept = kept.slice(1);
    });
  }

  private async serve(command: string, write: (bytes: Uint8Array) => void): Promise<void> {
    const answer = this.does(command);
    if (this.echoes) write(bytesOf(command));
    await this.core.answer(answer === null ? null : bytesOf(answer), write, {
      measures: command === 'RD?',
      noise: bytesOf('#~'),
      half: (bytes) => bytes.slice(0, Math.ceil(bytes.length / 2)),
    });
  }

  private does(command: string): string | null {
    const { core } = this;
    const number = Number(command.slice(2));
    const four = (x: number): string => String(Math.round(x)).padStart(4, '0');
    if (command === 'ID?') return 'PS-32';
    if (command === 'ST?') return `${four(core.setV * 100)}${four(core.limitA * 1000)}${core.on ? 1 : 0}`;
    if (command === 'RD?') {
      const { volts, amps, mode } = core.shown;
      return `${four(volts * 100)}${four(amps * 1000)}${mode === 'cc' ? 1 : 0}`;
    }
    // What it cannot do it does not do, and says nothing of it.
    if (command.startsWith('VS') && number / 100 <= core.model.maxV) core.turn({ setV: number / 100 });
    if (command.startsWith('IS') && number / 1000 <= core.model.maxA) core.turn({ limitA: number / 1000 });
    if (command.startsWith('ON')) core.turn({ on: command === 'ON1' });
    return null;
  }
}
