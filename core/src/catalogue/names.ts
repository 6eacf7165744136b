/**
 * The ids of a catalogue with their names, for lists to choose from and for sentences.
 *
 * @param catalogue definitions by id
 * @returns names by id, in the order of the catalogue
 * @example
 * namesOf({ cat: { name: 'Cat' } }).cat; // 'Cat'
 */
export function namesOf<Id extends string>(
  catalogue: Readonly<Record<Id, { name: string }>>,
): Readonly<Record<Id, string>> {
  const ids = Object.keys(catalogue) as Id[];
  return Object.fromEntries(ids.map((id) => [id, catalogue[id].name])) as Record<Id, string>;
}
