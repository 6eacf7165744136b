/** The ids that are stable outside Umbral, with the words people read. */

export const deviceClasses = ['phone', 'tablet', 'laptop', 'handheld', 'console', 'ereader', 'other'] as const;
export type DeviceClass = (typeof deviceClasses)[number];

export const complaintKinds = [
  'no-start',
  'no-charge',
  'slow-charge',
  'drain',
  'no-picture',
  'restarts',
  'intermittent',
  'other',
] as const;
export type ComplaintKind = (typeof complaintKinds)[number];

export const circuitNames = {
  'input.port': 'Port, plug or cable contact',
  'input.protection': 'Input protection',
  'usbc.controller': 'USB-C controller',
  'charge.port-ic': 'Port switch IC',
  'charge.charger': 'Charger and power path',
  'battery.pack': 'Battery pack',
  'rail.main': 'Main system rail',
  'rail.boost': 'Boost rail',
  'rail.always-on': 'Always-on rail',
  'rail.standby': 'Standby rail',
  'rail.run': 'Run-state rail',
  'seq.power-good': 'Enable and power-good chain',
  pmic: 'Power-management IC',
  'core.supply': 'Core regulator',
  'core.soc': 'Processor',
  'core.chipset': 'Companion chip',
  'core.memory': 'Memory',
  'core.storage': 'Storage',
  firmware: 'Boot data (firmware)',
  mgmt: 'Management controller',
  radio: 'Radio',
  'joint.stack': 'Board joints',
  'periph.board': 'Peripheral board or flex',
  display: 'Display',
  button: 'Button and wake line',
  none: 'Power path and boot healthy',
  unmodelled: 'Something not in the model',
} as const;
export type CircuitId = keyof typeof circuitNames;
export const circuitIds = Object.keys(circuitNames) as CircuitId[];

export const markerNames = {
  'output-on': 'output on',
  'output-off': 'output off',
  plug: 'plugged in',
  unplug: 'unplugged',
  flip: 'plug turned over',
  prompt: 'pressed',
  release: 'released',
  'part-off': 'part off',
  'part-on': 'part on',
  note: 'note',
} as const;

export const actionKinds = [
  'remove',
  'replace',
  'clean',
  'reflow',
  'disconnect',
  'reconnect',
  'refit',
  'isolate',
  'reload-firmware',
  'burn',
  'other',
] as const;
export type ActionKind = (typeof actionKinds)[number];

export const outcomeGrades = ['measured', 'cleared', 'disappeared', 'not-found', 'declined', 'not-economical'] as const;
export type OutcomeGrade = (typeof outcomeGrades)[number];

export const railStates = ['always', 'standby', 'boot', 'run', 'G3', 'S5', 'S4', 'S3', 'S0'] as const;
export type RailState = (typeof railStates)[number];

export const readingModes = ['voltage', 'diode', 'resistance'] as const;
export type ReadingMode = (typeof readingModes)[number];

/** True for an id of the guide. */
export function isCircuit(id: string): id is CircuitId {
  return Object.hasOwn(circuitNames, id);
}
