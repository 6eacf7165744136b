import type { LoadSpec, NeedSpec, PartSpec, Profile, RailSpec, ConverterSpec } from '../twin/index.ts';
import type { Spread } from './spread.ts';

export const populationFormat = 'umbral-population/1';

/**
 * The devices of a class that a bench may meet, as data: profiles to start from, ways in which real ones differ from them,
 * and how far their figures spread.
 */
export interface Population {
  format: typeof populationFormat;
  name: string;
  /** Ids of the profiles that it stands for. */
  profiles: string[];
  /** How many devices are drawn of each profile. */
  devices: number;
  seed: number;
  spread: Spread;
  alternatives: Alternative[];
}

/** One way in which devices of a class differ: every device has one of the options. */
export interface Alternative {
  id: string;
  /** What is asked, for people: "who makes the contract". */
  name: string;
  /** Ids of the profiles that it is for; all of the population's where left out. */
  only?: string[];
  options: Option[];
}

export interface Option {
  id: string;
  /** Share of the devices that are so; the weights of an alternative sum to 1. */
  weight: number;
  /** How a device is that has it, for a list: "two cells". Null for what nobody would say of a device. */
  words: string | null;
  /** What it changes in the profile, in this order; nothing where the profile is so already. */
  edits: Edit[];
}

/** A change to a profile. `only` names the profiles that it is for; all where left out. */
export type Edit = (
  | { at: string[]; set: Record<string, unknown> }
  | { scale: string[]; field: string; by: number }
  | { needs: string[]; set: Partial<Omit<NeedSpec, 'of'>> }
  | { stage: string; wait: NeedSpec }
  | { stage: string; drop: string }
  | { remove: string[] }
  | { add: Additions }
  | { device: Partial<Pick<Profile, 'startsOnPower' | 'brownOut' | 'restartS'>> }
  | { cells: number; rails: string[] }
  | { chargeShare: number }
) & { only?: string[] };

interface Additions {
  rails?: RailSpec[];
  converters?: ConverterSpec[];
  loads?: LoadSpec[];
  parts?: PartSpec[];
}

/** One device of a population. */
export interface DrawnDevice {
  profile: Profile;
  /** Which option it has, by id of the alternative. */
  choices: Record<string, string>;
  /** How full its battery is when it comes to the bench, 0 to 1. */
  chargeShare: number;
}
