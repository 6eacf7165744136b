export { railStates, type RailState } from '../catalogue/index.ts';

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

export const readingModes = ['voltage', 'diode', 'resistance'] as const;
export type ReadingMode = (typeof readingModes)[number];
