declare const of: unique symbol;

/**
 * A list with one entry for each of something, in a fixed order. Lists over different things do not fit in each other's
 * place: what is by circuit is no posterior by hypothesis, though both are numbers. A list that nobody labelled fits.
 */
type Per<Of extends string, Entry = number> = readonly Entry[] & { readonly [of]?: Of };

/** One entry a hypothesis of the model's space. */
export type PerHypothesis<Entry = number> = Per<'hypothesis', Entry>;
/** One entry a circuit, in the order of `circuitIds`. */
export type PerCircuit<Entry = number> = Per<'circuit', Entry>;
/** One entry a rail of a profile. */
export type PerRail<Entry = number> = Per<'rail', Entry>;
/** One entry a state of the fault, in the order of `faultStates`. */
export type PerState<Entry = number> = Per<'state', Entry>;
