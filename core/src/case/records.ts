import { circuitIds } from '../catalogue/index.ts';
import { railStates, readingModes } from './ids.ts';
import { field } from './record.ts';

/** What people say in place of a number. */
export const readingWords = ['no-beep', 'beep', 'short', 'not-short', 'ok', 'open'] as const;
export type ReadingWord = (typeof readingWords)[number];

export const heatOutcomes = ['none', 'leads-only', 'uniform', 'one-spot', 'several-spots'] as const;
export type HeatOutcome = (typeof heatOutcomes)[number];

export const proofResults = ['pass', 'fail', 'not-done'] as const;

/** Id of the last action before it. */
const after = field.inColumn('after_action', field.text(null));

/** An outcome that was looked at, with the place that was meant. */
export const checkFields = {
  id: field.inColumn('check_id', field.id()),
  outcome: field.text(null),
  note: field.text(''),
  /** Where it was seen, in words or as a profile's id: where the corrosion sits, what warmed. */
  where: field.text(''),
  /** The circuit of that place. */
  circuit: field.choice(circuitIds),
  /** `heat-view`: what was fed. */
  rail: field.text(''),
  /** The half of the device that was looked at; null for the whole. */
  half: field.text(null),
  /** What was unplugged meanwhile. */
  unplugged: field.names(),
  after,
};

/** A value at a place, or what was said in its stead. Volts, ohms. */
export const readingFields = {
  where: field.name(),
  circuit: field.choice(circuitIds),
  state: field.choice(railStates),
  prompted: field.flag(null),
  mode: field.oneOf(readingModes),
  /** Volts or ohms; null where open line. */
  value: field.number(),
  unit: field.implied(field.oneOf(['V', 'ohm'])),
  ol: field.flag(false),
  reference: field.number(),
  redProbe: field.choice(['ground', 'point']),
  powered: field.flag(null),
  /** The value is a bound: the true one lies below or above it. */
  bound: field.choice(['below', 'above']),
  /** What was said in place of a value. */
  says: field.choice(readingWords),
  /** Between the two ends of a part that should conduct, not to ground. */
  across: field.flag(false),
  /** `value` is the middle of it. */
  swing: field.span(),
  /** Feed that was plugged in while it was measured, where that is not the bench. */
  feed: field.choice(['usb-c', 'dc-in']),
  /** What the meter showed before the leads were taken off, and their resistance. Ohms. */
  shownOhm: field.number({ quantity: 'resistance' }),
  leadsOhm: field.number({ quantity: 'resistance', bound: 'from 0' }),
  after,
};

/** A voltage put on a rail from any supply, what flowed, and what warmed. Volts, amperes, ohms. */
export const injectionFields = {
  id: field.inColumn('injection_key', field.id()),
  /** The rail in words or as a profile's id. */
  rail: field.name(),
  circuit: field.choice(circuitIds),
  setV: field.given('is missing; expected a number of volts above 0', { quantity: 'voltage', bound: 'above 0' }),
  limitA: field.number({ quantity: 'current', bound: 'above 0' }),
  amps: field.number({ quantity: 'current', bound: 'from 0' }),
  leadsOhm: field.number({ quantity: 'resistance', bound: 'from 0' }),
  /** What warmed, in words; null where nothing did or nobody looked. */
  hot: field.text(null),
  hotCircuit: field.choice(circuitIds),
  heat: field.choice(heatOutcomes),
  /** What a good board took in the same way. */
  referenceA: field.number({ quantity: 'current', bound: 'from 0' }),
  after,
};

/** What was said of one step of a proof that a repair holds. */
export const proofFields = {
  id: field.id(),
  /** Ids of the protocol and of its step. */
  protocol: field.name(),
  step: field.name(),
  result: field.oneOf(proofResults),
  /** What was seen, or why it was not done. */
  reason: field.text(''),
  /** Id of the run that shows it; null where none does. */
  run: field.inColumn('run_key', field.text(null)),
  /** Id of the check that was entered with it; null where none was. */
  check: field.inColumn('check_id', field.text(null)),
  after,
};
