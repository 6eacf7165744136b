import {
  LiveDevice,
  makeWorkspace,
  predictOutcome,
  Trial,
  type CheckId,
  type Fault,
  type Hand,
  type LiveReading,
  type Profile,
  type SupplyState,
} from '@umbral/core';

/** A virtual device on a virtual bench: what the simulated instruments are connected to. */
export class SimulatedBench {
  private device: LiveDevice;
  private supply: SupplyState = { feed: 'battery', on: false, setV: 0, limitA: 0.1 };

  /** @param now our clock in seconds, never going back */
  constructor(
    profile: Profile,
    private faults: readonly Fault[],
    readonly now: () => number,
    seed = 1,
  ) {
    this.device = new LiveDevice(profile, faults, seed);
    this.supply.feed = profile.battery ? 'battery' : 'dc-in';
  }

  /** Puts another device on the bench; the supply stays as it is set. */
  lay(profile: Profile, faults: readonly Fault[], seed = 1): void {
    this.device = new LiveDevice(profile, faults, seed);
    this.faults = faults;
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
    return { ...this.device.state, ...this.device.seen(this.now()), truth };
  }

  setSupply(change: Partial<SupplyState>): void {
    this.supply = { ...this.supply, ...change };
    this.device.feed(this.supply, this.now());
  }

  /** @throws {RangeError} for a port or a part that the device does not have */
  hand(hand: Hand): void {
    this.device.hand(hand, this.now());
  }

  /** What a check shows on this device, whatever it is connected to now; null for one that is not looked at. */
  look(check: CheckId): string | null {
    const { board } = this.device;
    return predictOutcome(new Trial(board, this.faults, makeWorkspace(board)), check);
  }

  read(): LiveReading {
    return this.device.at(this.now());
  }
}
