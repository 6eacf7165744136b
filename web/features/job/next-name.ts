import { checkTypes, type Suggestion } from '@umbral/core';

/** What to do next, as a heading. Calls that were stored before tests had names are named by their check. */
export function nextName(s: Suggestion): string {
  if (s.name) return s.name;
  return s.check ? checkTypes[s.check].name : s.kind === 'stop' ? 'Stop here' : '';
}
