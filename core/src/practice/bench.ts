import type { CheckId } from '../catalogue/index.ts';
import { predictOutcome, Trial, type ProbePhase } from '../prediction/index.ts';
import { seededRandom } from '../trace/index.ts';
import { compileProfile, makeWorkspace, type Profile } from '../twin/index.ts';
import { SimulatedBoard, type SeenHeat } from './board.ts';
import { powerOn, type PowerOn, type RecordedPower } from './power-on.ts';
import type { UnitState } from './state.ts';

/** What a supply comes to that is held to a rail, and what a camera sees then. Volts, amperes. */
export interface FedRail {
  volts: number;
  amps: number;
  mode: 'cv' | 'cc';
  heat: SeenHeat;
}

/** Keeps the draws of one run apart from those of the next. */
const runSeed = 7919;

/** A practice unit on its bench, as it is after the changes made so far. Every answer is the same when it is asked again. */
export class PracticeBench {
  private readonly trial: Trial;
  private readonly board: SimulatedBoard;

  /**
   * @param device as it lies there
   * @param seed of the unit
   */
  constructor(
    private readonly device: Profile,
    private readonly state: UnitState,
    private readonly seed: number,
  ) {
    const board = compileProfile(device);
    const faults = state.faults.filter((f) => !state.off.includes(f.at));
    this.trial = new Trial(board, faults, makeWorkspace(board));
    this.board = new SimulatedBoard(device, faults, seed);
  }

  /**
   * Feeds it, presses its button, and records.
   *
   * @param nth how many runs there were before
   * @throws {RangeError} for a setup that this device or its instrument does not allow
   */
  record(on: PowerOn, nth: number): RecordedPower {
    const random = seededRandom(this.seed * runSeed + nth);
    return powerOn(this.device, this.state.faults, this.state.off, on, `r${nth + 1}`, random);
  }

  /** What a check shows; null for one that is not looked at on a virtual device. */
  check(id: CheckId): string | null {
    return predictOutcome(this.trial, id);
  }

  /**
   * What a meter shows at a rail, as somebody would type it.
   *
   * @param phase when a voltage is taken
   * @throws {RangeError} for a rail that the device does not have
   */
  probe(rail: string, mode: 'voltage' | 'resistance', phase: ProbePhase): string {
    return sayProbe(this.board, rail, mode, phase);
  }

  /**
   * Holds a supply to a rail.
   *
   * @throws {RangeError} for a rail that the device does not have
   */
  feed(rail: string, setV: number, limitA: number): FedRail {
    const { terminalV, amps, limiting } = this.board.fed(rail, setV, limitA);
    return { volts: terminalV, amps, mode: limiting ? 'cc' : 'cv', heat: this.board.heat(rail, setV, limitA) };
  }
}

/** What a meter shows at a rail of a simulated board, as somebody would type it. */
export function sayProbe(
  board: SimulatedBoard,
  rail: string,
  mode: 'voltage' | 'resistance',
  phase: ProbePhase,
): string {
  if (mode === 'resistance') return `${Number(board.ohms(rail).toPrecision(shownDigits))} ohm`;
  const { volts, low } = board.volts(rail, phase);
  const shown = (x: number): string => x.toFixed(shownDigits);
  return low === null ? `${shown(volts)} V` : `${shown(low)}~${shown(volts)} V`;
}

const shownDigits = 3;
