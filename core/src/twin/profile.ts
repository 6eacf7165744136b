import type { CircuitId, RailState } from '../catalogue/index.ts';
/**
 * A device profile, `umbral-profile/1`: how a model is fed, which rails it has and what makes them, what hangs on them,
 * and in which order it starts. Every element has an id of its own and names the circuit it belongs to, so that a fault
 * at an element is a fault in a circuit. Volts, amperes, ohms, seconds throughout.
 */
export interface Profile {
  format: 'umbral-profile/1';
  id: string;
  name: string;
  class: string;
  /** True for a profile that stands for a whole class: its figures are taken with wide allowances. */
  generic: boolean;
  note: string;
  battery: BatterySpec | null;
  ports: PortSpec[];
  dcIn: DcInSpec | null;
  /** Starts by itself when external power is accepted. */
  startsOnPower: boolean;
  /** What happens after the supply sagged: it tries again after `restartS`, or waits for another press. */
  brownOut: 'restart' | 'off';
  restartS: number;
  rails: RailSpec[];
  converters: ConverterSpec[];
  loads: LoadSpec[];
  parts: PartSpec[];
  peripherals: PeripheralSpec[];
  stages: StageSpec[];
  references: ReferenceSpec[];
}

export interface BatterySpec {
  rail: string;
  nominalV: number;
  fullV: number;
  emptyV: number;
  /** Part that speaks for the pack (gauge, data line), or null. */
  data: string | null;
  /** The device does not start without the pack. */
  needed: boolean;
  internalOhm: number;
}

export interface PortSpec {
  id: string;
  rail: string;
  /** Part that makes the contract. */
  controller: string;
  /** Further parts that must answer before the contract is raised. */
  contractNeeds: string[];
  /** The source gives no voltage at all unless the controller answers; left out, a passive pull-down asks for it. */
  busNeedsController?: boolean;
  /** Voltages that the device asks for, rising; the highest is what a healthy unit reaches. */
  contracts: number[];
  limitA: number;
}

interface DcInSpec {
  id: string;
  rail: string;
  volts: number;
  limitA: number;
}

export interface RailSpec {
  id: string;
  name: string;
  nominalV: number;
  /** Power state in which it first stands: always, standby, boot, run, or G3 to S0. */
  state: RailState;
  circuit: CircuitId;
  /** Paralleled capacitors. */
  capacitors: number;
  /** How deep one must go to reach it, as for checks. */
  depth: number;
  half: string | null;
}

export const converterKinds = ['buck', 'boost', 'ldo', 'switch', 'charger'] as const;
type ConverterKind = (typeof converterKinds)[number];
export const overloadKinds = ['limit', 'hiccup', 'latch'] as const;
type OverloadKind = (typeof overloadKinds)[number];

export interface ConverterSpec {
  id: string;
  name: string;
  kind: ConverterKind;
  from: string;
  to: string[];
  circuit: CircuitId;
  /** 0 to 1; an LDO and a switch pass the current on as it is. */
  efficiency: number;
  /** Own draw from the input while it is on, A. */
  ownA: number;
  /** Sum of the output currents at which it gives up, A. */
  limitA: number;
  /** Series resistance of a switch. */
  ohm: number;
  onOverload: OverloadKind;
  retryS: number;
  /** Levels that turn it on: `power`, `attached`, `adapter`, or ids of stages. */
  enabledBy: string[];
  /** Part that must answer for it to run, or null. */
  drivenBy: string | null;
  /** Charger only: current into the battery at full rate, A. */
  chargeA: number;
  half: string | null;
}

export interface LoadSpec {
  id: string;
  name: string;
  rail: string;
  circuit: CircuitId;
  /** Current from a level on (`power`, `attached`, `adapter`, a stage), until the next one named. */
  amps: Record<string, number>;
  /** Height of the bursts above `amps` in the levels in which it is busy, A. */
  bursts: Record<string, number>;
  /** Part of the display, so that it goes with it. */
  ofDisplay: boolean;
  peripheral: string | null;
  half: string | null;
}

export interface PartSpec {
  id: string;
  name: string;
  circuit: CircuitId;
  /** Rail that it lives from, or null for something that needs none (a joint, a button, data). */
  rail: string | null;
  peripheral: string | null;
  half: string | null;
  role: PartRole;
}

export const partRoles = [
  'sequencer',
  'button',
  'management',
  'port-controller',
  'processor',
  'chipset',
  'memory',
  'storage',
  'firmware',
  'radio',
  'sensor',
  'battery-data',
  'power-good',
  'joint',
  'display',
] as const;
type PartRole = (typeof partRoles)[number];

export interface PeripheralSpec {
  id: string;
  name: string;
  rail: string;
  circuit: CircuitId;
}

export const onTimeouts = ['hold', 'off', 'restart', 'skip'] as const;
export type OnTimeout = (typeof onTimeouts)[number];

/** Something that a stage waits for: a rail that stands or a part that answers. */
export interface NeedSpec {
  of: string;
  timeoutS: number;
  then: OnTimeout;
}

export interface StageSpec {
  id: string;
  name: string;
  state: string;
  seconds: number;
  needs: NeedSpec[];
  screen: 'dark' | 'backlight-only' | 'logo' | 'image';
  fan: boolean;
  host: 'nothing' | 'recovery' | 'normal';
}

export interface ReferenceSpec {
  where: string;
  mode: 'voltage' | 'diode' | 'resistance';
  value: number;
  state: string | null;
}

/** Levels that are no stages, in the order in which they are reached. */
export const powerLevels = ['power', 'attached', 'adapter'] as const;
