import { checkTypes, circuitNames, type Suggestion } from '@umbral/core';

const actionWords = {
  remove: 'Take off',
  replace: 'Swap for a known-good one:',
  clean: 'Clean:',
  reflow: 'Reflow:',
  disconnect: 'Unplug:',
  'reload-firmware': 'Reload:',
  burn: 'Burn open:',
  other: 'Work on:',
} as const;

/** What to do next, as a heading. */
export function nextName(s: Suggestion): string {
  if (s.kind === 'stop') return 'Stop here';
  if (s.check) return checkTypes[s.check].name;
  return s.action ? `${actionWords[s.action.kind]} ${circuitNames[s.action.circuit].toLowerCase()}` : '';
}
