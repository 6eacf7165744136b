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

/**
 * The name of a thing with its article, as it stands in a sentence: "the flex of the lid", "coil 2", "C12", "all four coils".
 *
 * @param name as somebody typed it
 * @example withArticle('coil beside the plug') // 'the coil beside the plug'
 */
export const withArticle = (name: string): string =>
  /^(?:the|a|an|its|all|both|one|two|three|four|every|my|our)\b|^\p{L}+\d|^\S+ (?:\d+|\p{Lu})$/iu.test(name)
    ? name
    : `the ${name}`;
