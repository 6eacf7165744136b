import type { ActionKind, Origin, SwappedUnit } from '@umbral/core';
import { namedChecks } from '@umbral/core/words';

/** Forms of entries as they are filled in: texts, empty where nothing was said. The same for a new entry and for a correction. */
export interface CheckForm {
  check: string;
  outcome: string;
  note: string;
  where: string;
  circuit: string;
  rail: string;
  half: string;
  /** Names, separated by commas. */
  unplugged: string;
}

export interface InjectionForm {
  rail: string;
  circuit: string;
  setV: string;
  limitA: string;
  amps: string;
  leadsOhm: string;
  referenceA: string;
  heat: string;
  hot: string;
  hotCircuit: string;
  note: string;
}

export interface ActionForm {
  kind: ActionKind;
  circuit: string;
  target: string;
  note: string;
  /** Empty for the last run with nothing unplugged. */
  runBefore: string;
  undoes: string;
  part: string;
  orientation: string;
  confounders: string[];
  stays: boolean;
  unit: SwappedUnit | '';
  with: Origin | '';
}

export const blankCheck: CheckForm = {
  check: namedChecks.screen,
  outcome: '',
  note: '',
  where: '',
  circuit: '',
  rail: '',
  half: '',
  unplugged: '',
};

export const blankInjection: InjectionForm = {
  rail: '',
  circuit: '',
  setV: '',
  limitA: '',
  amps: '',
  leadsOhm: '',
  referenceA: '',
  heat: '',
  hot: '',
  hotCircuit: '',
  note: '',
};

export const blankAction: ActionForm = {
  kind: 'disconnect',
  circuit: '',
  target: '',
  note: '',
  runBefore: '',
  undoes: '',
  part: '',
  orientation: '',
  confounders: [],
  stays: false,
  unit: '',
  with: '',
};
