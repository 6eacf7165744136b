import {
  LiveDevice,
  makeWorkspace,
  predictOutcome,
  SimulatedBoard,
  Trial,
  type CheckId,
  type Fault,
  type OperatorAct,
  type LiveReading,
  type Profile,
  type SeenHeat,
  type SupplyState,
} from '@umbral/core';

/** A virtual device on a virtual bench: what the simulated instruments are connected to. */
export class SimulatedBench {
  private device: LiveDevice;
  /** Rail that the supply's leads are held to, instead of the device's own feed. */
  private heldTo: string | null = null;
  private supply: SupplyState = { feed: 'battery', on: false, setV: 0, limitA: 0.1 };

  /** @param now our clock in seconds, never going back */
  constructor(
    profile: Profile,
    private faults: readonly Fault[],
    readonly now: () => number,
    private seed = 1,
  ) {
    this.device = new LiveDevice(profile, faults, seed);
    this.supply.feed = profile.battery ? 'battery' : 'dc-in';
  }

  /** Puts another device on the bench; the supply stays as it is set. */
  lay(profile: Profile, faults: readonly Fault[], seed = 1): void {
    this.device = new LiveDevice(profile, faults, seed);
    this.faults = faults;
    this.seed = seed;
    this.heldTo = null;
    this.supply = { ...this.supply, feed: profile.battery ? 'battery' : 'dc-in' };
    this.device.feed(this.supply, this.now());
  }

  get profile(): Profile {
    return this.device.board.profile;
  }

  /** What is connected and what the device shows, for whoever shows the hands. */
  get state() {
    const { supply, port } = this.read();
    // What a trusted meter at the same place would say.
    const truth = { supply, port };
    return { ...this.device.state, ...this.device.seen(this.now()), truth, heldTo: this.heldTo };
  }

  setSupply(change: Partial<SupplyState>): void {
    this.supply = { ...this.supply, ...change };
    this.device.feed(this.heldTo === null ? this.supply : { ...this.supply, on: false }, this.now());
  }

  /** @throws {RangeError} for a port or a part that the device does not have */
  act(act: OperatorAct): void {
    this.device.act(act, this.now());
  }

  /** What a check shows on this device, whatever it is connected to now; null for one that is not looked at. */
  look(check: CheckId): string | null {
    const { board } = this.device;
    return predictOutcome(new Trial(board, this.faults, makeWorkspace(board)), check);
  }

  /** What probes and leads find at the opened board. */
  get board(): SimulatedBoard {
    return new SimulatedBoard(this.profile, this.faults, this.seed);
  }

  /**
   * Holds the supply's leads to a rail of the opened board, or puts them back on the device's feed.
   *
   * @throws {RangeError} for a rail that the device does not have
   */
  holdTo(rail: string | null): void {
    if (rail !== null) this.board.ohms(rail);
    this.heldTo = rail;
    this.setSupply({});
  }

  /** What a camera sees now. Only a rail that is fed warms where it can be told. */
  heat(): SeenHeat {
    const { on, setV, limitA } = this.supply;
    if (this.heldTo === null || !on) return { hot: null, outcome: 'none', watts: 0 };
    return this.board.heat(this.heldTo, setV, limitA);
  }

  /**
   * A part is taken off or replaced, and with it what was wrong with it.
   *
   * @returns whether anything was wrong there
   */
  mend(at: string): boolean {
    const left = this.faults.filter((f) => f.at !== at);
    const was = left.length < this.faults.length;
    this.lay(this.profile, left, this.seed);
    return was;
  }

  read(): LiveReading {
    const reading = this.device.at(this.now());
    const { on, setV, limitA } = this.supply;
    if (this.heldTo === null || !on) return reading;
    const { terminalV, amps, limiting } = this.board.fed(this.heldTo, setV, limitA);
    return { ...reading, supply: { volts: terminalV, amps, mode: limiting ? 'cc' : 'cv' } };
  }
}
