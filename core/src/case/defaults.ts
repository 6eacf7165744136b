import { noNotes } from './action-notes.ts';
import { defaultsOf } from './record.ts';
import { checkFields, injectionFields, readingFields } from './records.ts';
import {
  type Device,
  type Intake,
  type Setup,
  type Run,
  type Check,
  type Reading,
  type Injection,
  type Case,
  type Action,
} from './values.ts';

export const unknownSetup: Setup = {
  setV: null,
  limitA: null,
  port: null,
  flipped: false,
  battery: null,
  display: null,
  assembly: null,
  half: null,
  unplugged: [],
  deviceState: null,
  batteryV: null,
  charger: null,
  temperatureC: null,
};

export const emptyIntake: Intake = {
  liquid: false,
  dropped: false,
  priorRepair: false,
  batterySwollen: false,
  batteryIsolated: false,
  dataWanted: false,
  notes: '',
};

/** A case of which nothing is known but its device and its runs. */
export function bareCase(device: Pick<Device, 'class'> & Partial<Device>, runs: Run[], id = ''): Case {
  return {
    id,
    device: { model: '', serial: '', profile: null, expect: {}, ...device },
    complaint: '',
    complaintKind: null,
    intake: emptyIntake,
    runs,
    checks: [],
    readings: [],
    injections: [],
    actions: [],
    proofs: [],
    places: [],
    outcome: null,
  };
}

/** A change of which nothing is noted but that it was made. */
export const plainAction: Omit<Action, 'id' | 'kind'> = {
  circuit: null,
  target: '',
  note: '',
  runBefore: null,
  undoes: null,
  ...noNotes,
};

/** A check of which nothing is known but its answer. */
export const plainCheck: Omit<Check, 'id' | 'outcome'> = defaultsOf(checkFields);

/** A reading of which nothing is known but its place, mode and value. */
export const plainReading: Omit<Reading, 'where' | 'mode' | 'value' | 'unit'> = defaultsOf(readingFields);

/** A voltage on a rail of which nothing is known but where and how much. */
export const plainInjection: Omit<Injection, 'id' | 'rail' | 'setV'> = defaultsOf(injectionFields);
