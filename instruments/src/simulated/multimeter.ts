import type { Socket } from 'node:net';
import { framedReadings } from '../dialect/index.ts';
import type { SimulatedBench } from './bench.ts';
import { sealed } from './frame-writer.ts';
import { OnLoopback } from './server.ts';

/** What it is set to and shows: by itself the voltage of the supply. */
interface Display {
  mode: 'DCV' | 'OHM' | 'DIODE' | 'CONT';
  value: number | 'OL';
}

const everyMs = 150;

/** A handheld multimeter with a cable: sends what it shows, several times a second. */
export class SimulatedMultimeter extends OnLoopback {
  private timer: NodeJS.Timeout | undefined;
  private shown: Display | null = null;

  /** @param sends lines of text, or the frames of the dialect that ships */
  constructor(
    private readonly bench: SimulatedBench,
    private readonly sends: 'lines' | 'frames' = 'lines',
  ) {
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
    if (this.sends === 'frames') return this.broadcast(framed(mode, value));
    const line = value === 'OL' ? `${mode} OL` : `${mode} ${scaled(mode, value)}`;
    this.broadcast(`${line}\r\n`);
  }
}

function scaled(mode: Display['mode'], value: number): string {
  if (mode === 'DCV' || mode === 'DIODE') return `${value.toFixed(3)} V`;
  return value >= 1000 ? `${(value / 1000).toFixed(3)} kohm` : `${value.toFixed(1)} ohm`;
}

const own = { DCV: 'voltage', OHM: 'resistance', DIODE: 'diode', CONT: 'continuity' } as const;
const counts = 40_000;

/** A frame of what it shows, in the first range that the value fits. */
function framed(mode: Display['mode'], value: Display['value']): Uint8Array {
  const of = Object.entries(framedReadings.modes).find(([, { is }]) => is === own[mode]);
  if (!of) throw new RangeError(`the dialect has no ${own[mode]}`);
  const [bits, { steps }] = of;
  const ranges = typeof steps === 'number' ? [['00', steps] as const] : Object.entries(steps);
  const isOpen = value === 'OL';
  const size = isOpen ? 0 : Math.abs(value);
  const [range, step] = ranges.find(([, worth]) => size / worth < counts) ?? ranges[ranges.length - 1];
  const digits = [...String(Math.round(size / step)).padStart(5, '0')].map(Number);
  const flags = (!isOpen && value < 0 ? 1 : 0) | (isOpen ? 2 : 0);
  const body = [Number.parseInt(bits, 16), Number.parseInt(range, 16), ...digits, flags];
  return sealed(framedReadings.frame, Uint8Array.from([0, 0, 0, ...body, 0, 0]));
}
