import type { DeviceClass } from '../catalogue/index.ts';
import table from './functions.json';
import type { DeviceFunction, FunctionLists } from './protocol.ts';

const idLength = 60;

const known = table.functions as DeviceFunction[];

/** The usual functions of a kind of device, in words. */
export function usualFunctions(deviceClass: DeviceClass): string[] {
  return table.byClass[deviceClass].map((id) => known.find((f) => f.id === id)?.says ?? id);
}

/**
 * What a user of the device would try, as the shop lists it for this kind, or the usual list. A line that says what a
 * known function says is that function, with its check.
 *
 * @returns each with an id that stays the same while its words do
 */
export function functionsOf(deviceClass: DeviceClass, lists: FunctionLists = {}): DeviceFunction[] {
  const own = lists[deviceClass];
  const lines = own && own.length > 0 ? own : usualFunctions(deviceClass);
  return lines.map(
    (says) => known.find((f) => f.says.toLowerCase() === says.toLowerCase()) ?? { id: idOf(says), says },
  );
}

function idOf(words: string): string {
  return (
    words
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '')
      .slice(0, idLength) || 'function'
  );
}
