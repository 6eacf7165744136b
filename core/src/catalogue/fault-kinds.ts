/** What a value of a fault may be: its unit, the usual one, and its bounds. */
interface FaultValue {
  unit: 'ohm' | 's' | 'V' | '';
  usual: number;
  min: number;
  max: number;
}

/** What of a profile a fault can be at. */
export const elementKinds = ['rail', 'converter', 'load', 'part', 'port', 'dc-in', 'battery', 'peripheral'] as const;
export type ElementKind = (typeof elementKinds)[number];

/** Everything that is said of a kind of fault beside what it does to a board (`twin/condition`) and how often it comes (`hypotheses`). */
interface FaultKindDefinition {
  /** After the name of the element: "main rail: short to ground". */
  name: string;
  /** What can have it. */
  at: readonly ElementKind[];
  /** Left out where it is or is not there. */
  value?: FaultValue;
}

/** The kinds of fault. The ids are stable outside Umbral: profiles, the command line and confirmed cases name them. */
const catalogue = {
  none: { name: 'healthy', at: [] },
  short: {
    name: 'short to ground',
    at: ['rail', 'converter', 'load', 'peripheral'],
    value: { unit: 'ohm', usual: 0.5, min: 1e-3, max: 1e5 },
  },
  dead: { name: 'dead', at: ['converter'] },
  weak: { name: 'gives up early', at: ['converter'], value: { unit: '', usual: 0.3, min: 0.01, max: 1 } },
  cycling: { name: 'starts and stops', at: ['converter'], value: { unit: 's', usual: 0.3, min: 0.01, max: 60 } },
  mute: { name: 'does not answer', at: ['part'] },
  open: { name: 'open', at: ['port', 'dc-in', 'battery', 'peripheral'] },
  resistive: {
    name: 'high resistance',
    at: ['port', 'dc-in', 'battery'],
    value: { unit: 'ohm', usual: 1, min: 1e-3, max: 1e4 },
  },
  loose: { name: 'loose', at: ['part', 'port', 'dc-in', 'battery'] },
  drained: { name: 'drained', at: ['battery'], value: { unit: 'V', usual: 2.5, min: 0, max: 60 } },
} as const satisfies Readonly<Record<string, FaultKindDefinition>>;

export type FaultKind = keyof typeof catalogue;
export const faultTypes: Readonly<Record<FaultKind, FaultKindDefinition>> = catalogue;
export const faultKinds = Object.keys(catalogue) as FaultKind[];

/** Kinds of fault that an element can have, in the order of the catalogue. */
export function faultKindsAt(element: ElementKind): FaultKind[] {
  return faultKinds.filter((kind) => faultTypes[kind].at.includes(element));
}
