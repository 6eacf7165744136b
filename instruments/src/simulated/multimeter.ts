import type { Socket } from 'node:net';
import type { SimulatedBench } from './bench.ts';
import { OnLoopback } from './server.ts';

/** What it is set to and shows: by itself the voltage of the supply. */
interface Display {
  mode: 'DCV' | 'OHM' | 'DIODE' | 'CONT';
  value: number | 'OL';
}

const everyMs = 150;

/** A handheld multimeter with a cable: sends a line for what it shows, several times a second. */
export class SimulatedMultimeter extends OnLoopback {
  private timer: NodeJS.Timeout | undefined;
  private shown: Display | null = null;

  constructor(private readonly bench: SimulatedBench) {
    super();
  }

  /** Somebody turns its knob and holds its probes to something; null for the supply again. */
  show(display: Display | null): void {
    this.shown = display;
  }

  override async listen(port = 0): Promise<number> {
    const at = await super.listen(port);
    this.timer = setInterval(() => this.send(), everyMs);
    return at;
  }

  override async close(): Promise<void> {
    clearInterval(this.timer);
    await super.close();
  }

  protected connected(socket: Socket): void {
    socket.resume();
  }

  private send(): void {
    const { mode, value } = this.shown ?? { mode: 'DCV' as const, value: this.bench.read().supply.volts };
    const line = value === 'OL' ? `${mode} OL` : `${mode} ${scaled(mode, value)}`;
    this.broadcast(`${line}\r\n`);
  }
}

function scaled(mode: Display['mode'], value: number): string {
  if (mode === 'DCV' || mode === 'DIODE') return `${value.toFixed(3)} V`;
  return value >= 1000 ? `${(value / 1000).toFixed(3)} kohm` : `${value.toFixed(1)} ohm`;
}
