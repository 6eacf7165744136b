import type { circuitIds } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import { classHypotheses, placesOf, type Hypothesis, type NamedPlace } from '../hypotheses/index.ts';
import type { Profile } from '../twin/index.ts';
import { deviceTwinOf, type DeviceTwin } from './device-twin.ts';
import settings from './fit.json';
import type { Closeness } from './fit.ts';

/**
 * What may be wrong with a device, as a list: every fault of every element of its own profile or, for a model that has
 * none, every circuit at every place that was named. A twin stands beside it; only that of an own profile is asked about
 * single hypotheses.
 */
export interface Space {
  closeness: Closeness;
  /** How surely the twin's profile is that of the device, 0 to 1. */
  trust: number;
  twin: DeviceTwin;
  hypotheses: readonly Hypothesis[];
  /** Index of the circuit of every hypothesis in `circuitIds`. */
  circuitOf: readonly number[];
  /** Index of the circuit whose net every hypothesis pulls down; its own where it pulls no other. */
  netOf: readonly number[];
  /** Places that were named; empty for an own profile, whose elements have names. */
  places: readonly NamedPlace[];
  none: number;
  unmodelled: number;
}

/** @param profiles the shop's own profiles by id; those that ship with the application are known without */
export function spaceOf(value: Case, profiles?: ReadonlyMap<string, Profile>): Space {
  const twin = deviceTwinOf(value.device, value.runs, profiles);
  const places = twin.closeness === 'own' ? [] : placesOf(value);
  const hypotheses = twin.closeness === 'own' ? twin.hypotheses : classHypotheses(places);
  const only = (circuit: (typeof circuitIds)[number]): number => hypotheses.findIndex((h) => h.circuit === circuit);
  return {
    closeness: twin.closeness,
    trust: settings.trust[twin.closeness],
    twin,
    hypotheses,
    circuitOf: hypotheses.map((h) => h.index),
    netOf: hypotheses.map((h) => h.net),
    places,
    none: only('none'),
    unmodelled: only('unmodelled'),
  };
}
