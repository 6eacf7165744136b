import { operatingPoint, type InjectionStep } from '../bench/index.ts';
import { shortedRail } from '../observation/index.ts';
import { railsOf, Trial, type ProbePhase } from '../prediction/index.ts';
import { seededRandom } from '../trace/index.ts';
import { compileProfile, makeWorkspace, type Fault, type Profile } from '../twin/index.ts';
import settings from './board.json';

/** What a camera sees of a simulated board. */
export interface SeenHeat {
  /** Id of the element that warms last down the power tree; null where nothing is warm enough. */
  hot: string | null;
  outcome: 'none' | 'leads-only' | 'one-spot';
  watts: number;
}

const { visibleW, soundOhm, toleranceShare, downShare, swingShare } = settings;
/** Of the supply's leads, ohms. */
export const leadsOhm = settings.leadsOhm;

/** What probes, leads and a camera find at the opened board of a simulated device. */
export class SimulatedBoard {
  private readonly trial: Trial;

  constructor(
    profile: Profile,
    private readonly faults: readonly Fault[],
    private readonly seed: number,
  ) {
    const board = compileProfile(profile);
    this.trial = new Trial(board, faults, makeWorkspace(board));
  }

  /**
   * What a meter shows at a rail with the device powered.
   *
   * @throws {RangeError} for a rail that the device does not have
   */
  volts(rail: string, phase: ProbePhase): { volts: number; low: number | null } {
    const k = this.railOf(rail);
    const told = railsOf(this.trial)?.[phase][k] ?? 'down';
    const made = this.trial.board.nominalV[k];
    const jitter = 1 + toleranceShare * (seededRandom(this.seed * settings.railSeed + k)() - settings.middle);
    if (told === 'down') return { volts: downShare * made * jitter, low: null };
    return { volts: made * jitter, low: told === 'swings' ? swingShare * made : null };
  }

  /** What a meter shows from a rail to ground with the device unpowered, its leads in it. Ohms. */
  ohms(rail: string): number {
    return this.groundOhm(this.railOf(rail)) + leadsOhm;
  }

  /** Where a supply comes to rest that is held to a rail. */
  fed(rail: string, setV: number, limitA: number): Omit<InjectionStep, 'setV' | 'limitA' | 'visible'> {
    return operatingPoint(setV, limitA, this.groundOhm(this.railOf(rail)), leadsOhm);
  }

  /** What a camera sees while a rail is fed. */
  heat(rail: string, setV: number, limitA: number): SeenHeat {
    const k = this.railOf(rail);
    const { defectW, leadsW } = this.fed(rail, setV, limitA);
    const fault = this.faults.find((f) => shortedRail(this.trial.board, f) === k);
    if (fault && defectW >= visibleW) return { hot: fault.at, outcome: 'one-spot', watts: defectW };
    return { hot: null, outcome: leadsW >= visibleW ? 'leads-only' : 'none', watts: defectW };
  }

  private groundOhm(rail: number): number {
    const siemens = this.faults.reduce(
      (sum, f) => sum + (shortedRail(this.trial.board, f) === rail ? 1 / (f.value ?? 0.5) : 0),
      1 / soundOhm,
    );
    return 1 / siemens;
  }

  private railOf(id: string): number {
    const k = this.trial.board.railIndex.get(id);
    if (k === undefined) throw new RangeError(`there is no rail "${id}" on this device`);
    return k;
  }
}
