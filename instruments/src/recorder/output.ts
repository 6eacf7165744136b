import { randomUUID } from 'node:crypto';
import { Refusal } from '../http.ts';
import type { Supply } from '../instrument/index.ts';
import type { WatchedSupply } from '../watchdog/guard.ts';
import { withinBounds, type Bounds } from './bounds.ts';
import policy from './policy.json';
import type { InstrumentSpec } from '../instrument/spec.ts';
import type { Armed, ArmedHere, StationContext } from './station-state.ts';

/** What an output tells the instrument that it belongs to. */
interface OutputEvents {
  /** It went on, or off while it was on. */
  switched: (to: 'output-on' | 'output-off') => void;
  /** It was switched off without being asked to, in words. */
  switchedOff: (why: string) => void;
}

/** For whom it is armed: the job whose device is on the leads, and who is signed in. */
type ArmedFor = Pick<Armed, 'jobId' | 'person'>;

const nobody: ArmedFor = { jobId: null, person: null };

/**
 * The output of one supply. Arming and switching on take turns, and before it goes on what stands at the supply is read
 * back and compared with what was armed. Switching off waits for nobody, and undoes what is still under way.
 */
export class Output {
  private armed: ArmedHere | null = null;
  private on: boolean | null = null;
  private lostWhileOn = false;
  private lastFor: ArmedFor = nobody;
  private aliveAt = -Infinity;
  /** Of arming and switching on. */
  private turns: Promise<unknown> = Promise.resolve();
  /** Counts what makes arming or switching on that is under way worthless. */
  private offs = 0;

  constructor(
    private readonly supply: Supply,
    private readonly spec: () => InstrumentSpec,
    private readonly context: StationContext,
    private readonly events: OutputEvents,
  ) {}

  /** As others may see it: without the key. */
  get isArmed(): Armed | null {
    if (!this.armed) return null;
    const { key: _, ...shown } = this.armed;
    return shown;
  }

  /** As the supply says; null where nobody asked it yet, or it cannot be asked. */
  get isOn(): boolean | null {
    return this.on;
  }

  /** Contact was lost while it was on, and nobody has read back since that it is off. */
  get isUnknown(): boolean {
    return this.lostWhileOn;
  }

  /** What it takes to switch it off, where it may be on. */
  get watched(): (Omit<WatchedSupply, 'of'> & { of: ArmedFor }) | null {
    if (this.on !== true && !this.lostWhileOn) return null;
    // Only its page can reach it, and has been given what switches it off.
    if (this.spec().transport.kind === 'browser') return null;
    const { jobId, person } = this.armed ?? this.lastFor;
    const of = { jobId, person };
    return { spec: this.spec(), dialect: this.supply.dialect, networks: this.context.networks, of };
  }

  /**
   * Sets the supply up, its output still off. What goes beyond the bench's or the device's bounds is cut, and said.
   *
   * @param volts above zero
   * @param limitA amperes, above zero
   * @returns what is armed, with the key that switches it on: for whoever asked, and nobody else
   * @throws {Refusal} for values that are none, an output that is on, or one that was switched off meanwhile
   */
  arm(volts: number, limitA: number, bounds: Bounds, of: ArmedFor = nobody): Promise<ArmedHere> {
    if (!(volts > 0 && limitA > 0 && Number.isFinite(volts + limitA)))
      throw new Refusal('Voltage and limit must be above zero.');
    return this.inTurn(async () => {
      this.refuse();
      if (this.on) throw new Refusal(`The output of ${this.name} is on. Switch it off first.`);
      const safe = withinBounds(volts, limitA, bounds);
      const { offs } = this;
      this.armed = null;
      await this.supply.set(safe.volts, safe.limitA);
      const watchesItself = await this.supply.watchItself(beyond(safe));
      if (offs !== this.offs) throw new Refusal(`${this.name} was switched off in the meantime. Arm it again.`);
      this.armed = { id: randomUUID(), key: randomUUID(), ...safe, watchesItself, ...of };
      this.aliveAt = this.context.now();
      this.note('armed', { ...safe, askedV: volts, askedA: limitA, watchesItself });
      this.context.changed();
      return this.armed;
    });
  }

  /**
   * Switches it on as it was armed.
   *
   * @param key what arming gave
   * @throws {Refusal} where it was armed by somebody else or not at all, or the supply is set otherwise by now
   */
  switchOn(key: string): Promise<void> {
    return this.inTurn(async () => {
      this.refuse();
      const armed = this.armedWith(key);
      const { offs } = this;
      const set = await this.supply.settings().catch(async (error: unknown) => {
        await this.switchOffBecause('it did not report its settings');
        throw error;
      });
      const { resolutionV, resolutionA } = this.supply.dialect;
      if (offs !== this.offs) throw new Refusal(`${this.name} was switched off in the meantime. Arm it again.`);
      if (differs(set.volts, armed.volts, resolutionV) || differs(set.limitA, armed.limitA, resolutionA)) {
        await this.switchOff('its settings changed after it was armed').catch(() => undefined);
        throw new Refusal(
          `${this.name} is now set to ${set.volts} V, ${set.limitA} A, not to the ${armed.volts} V, ${armed.limitA} A that was armed. Arm it again.`,
        );
      }
      // Until it says otherwise it may be on: a refusal or a wrong answer ends with it off, not with a guess.
      this.on = true;
      this.context.mayBeOn();
      this.note('output on', { volts: armed.volts, limitA: armed.limitA });
      try {
        await this.supply.switchOutput(true);
      } catch (error) {
        await this.switchOff('it could not be switched on').catch(() => undefined);
        throw error;
      }
      this.events.switched('output-on');
      this.context.changed();
    });
  }

  /**
   * Off, and disarmed. Always allowed.
   *
   * @throws {Error} where the supply does not say that it is off
   */
  async switchOff(why = 'by hand'): Promise<void> {
    this.offs++;
    this.lastFor = this.armed ?? this.lastFor;
    this.armed = null;
    if (this.supply.isOpen) {
      await this.supply.switchOutput(false);
      if (this.on) {
        this.events.switched('output-off');
        this.note('output off', { why });
      }
      this.on = false;
      this.context.mayBeOn();
    }
    this.context.changed();
  }

  /** Disarms what is armed and not on; and with `why`, switches off what is on. */
  async disarm(why: string | null): Promise<void> {
    if (this.on && why === null) return;
    if (!this.armed && !this.on) return;
    await this.switchOffBecause(why ?? 'the event log is not available', why !== null);
  }

  /** Whoever armed it is still there; whether it was armed with this key. */
  alive(key: string): boolean {
    if (this.armed?.key !== key) return false;
    this.aliveAt = this.context.now();
    return true;
  }

  /** Switches off what nobody watches any more; to be called now and then. */
  async watchOver(): Promise<void> {
    // Switching off went wrong before: again, until the supply says that it is off.
    if (!this.armed && this.on) return this.switchOffBecause('by hand', false);
    const silentS = (this.context.now() - this.aliveAt) / this.context.factor;
    if (!this.armed || silentS <= policy.heartbeatS) return;
    await this.switchOffBecause(`no contact with the window that armed it for ${policy.heartbeatS} s`);
  }

  /** Contact ended. */
  lost(): void {
    this.offs++;
    this.lostWhileOn ||= this.on === true;
    this.on = null;
  }

  /** After contact came, or came back, nobody knows what the output does: off, and read back. */
  async connected(): Promise<void> {
    this.offs++;
    this.armed = null;
    await this.supply.switchOutput(false);
    if (this.lostWhileOn) this.note('output off', { why: 'contact was lost and restored' });
    this.lostWhileOn = false;
    this.on = false;
    this.context.mayBeOn();
    this.context.changed();
  }

  private get name(): string {
    return this.spec().name;
  }

  private armedWith(key: string): ArmedHere {
    if (!this.armed) throw new Refusal(`${this.name} is not armed.`);
    if (this.armed.key !== key) throw new Refusal(`${this.name} was armed from another window. Disarm it there.`);
    return this.armed;
  }

  private async switchOffBecause(why: string, isSaid = true): Promise<void> {
    if (isSaid) this.events.switchedOff(why);
    await this.switchOff(why).catch(() => undefined);
  }

  private refuse(): void {
    const refusal = this.context.refusal();
    if (refusal !== null) throw new Refusal(refusal);
  }

  private note(what: string, detail: object): void {
    const { jobId, person } = this.armed ?? this.lastFor;
    const { key, name } = this.spec();
    this.context.note(`${name}: ${what}`, { instrument: key, ...detail }, { jobId, person });
  }

  private inTurn<T>(work: () => Promise<T>): Promise<T> {
    const turn = this.turns.then(work);
    this.turns = turn.catch(() => undefined);
    return turn;
  }
}

const differs = (is: number, wanted: number, step: number): boolean => Math.abs(is - wanted) > step + 1e-9;

/** What the supply itself holds to: far enough above what is armed that regulating never trips it. */
function beyond({ volts, limitA }: { volts: number; limitA: number }) {
  const { overShare, overV, overA, silentS } = policy.selfWatch;
  return {
    volts: volts + Math.max(overV, overShare * volts),
    amps: limitA + Math.max(overA, overShare * limitA),
    silentS,
  };
}
