/** The ids that are stable outside Umbral, with the words people read. */

export const markerNames = {
  'output-on': 'output on',
  'output-off': 'output off',
  plug: 'plugged in',
  unplug: 'unplugged',
  flip: 'plug flipped',
  prompt: 'pressed',
  release: 'released',
  'part-off': 'part off',
  'part-on': 'part on',
  note: 'note',
} as const;

export const railStates = ['always', 'standby', 'boot', 'run', 'G3', 'S5', 'S4', 'S3', 'S0'] as const;
export type RailState = (typeof railStates)[number];

export const readingModes = ['voltage', 'diode', 'resistance'] as const;
export type ReadingMode = (typeof readingModes)[number];
