/** Room that a list is given beyond what it has to hold, so that it is seldom moved; less would be moved more often. */
const spare = 1.1;

type Numbers = Float32Array | Float64Array | Uint32Array | Int32Array | Uint16Array | Uint8Array;

/**
 * The same list with room for so many.
 *
 * @param places numbers that it has to hold
 * @returns the list itself where it has the room
 */
export function withRoom<List extends Numbers>(list: List, places: number): List {
  if (list.length >= places) return list;
  const larger = new (list.constructor as new (length: number) => List)(Math.ceil(places * spare));
  larger.set(list);
  return larger;
}

/** Words that come again and again, each kept once and known by a number. */
export class Words {
  private readonly numbers = new Map<string, number>();
  private readonly list: string[] = [];

  numberOf(word: string): number {
    const known = this.numbers.get(word);
    if (known !== undefined) return known;
    this.numbers.set(word, this.list.length);
    return this.list.push(word) - 1;
  }

  /** The number of a word that was met before; -1 for another. */
  find(word: string): number {
    return this.numbers.get(word) ?? -1;
  }

  word(number: number): string {
    return this.list[number];
  }
}
