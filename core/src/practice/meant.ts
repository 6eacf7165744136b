import type { CircuitId } from '../catalogue/index.ts';
import type { Action } from '../case/index.ts';
import { circuitsNamed } from '../hypotheses/index.ts';
import { elementIds, elementsNamed, targetOf, type Profile } from '../twin/index.ts';

type Changed = Pick<Action, 'target'> & Partial<Pick<Action, 'circuit'>>;

/** Names that a part bears beside its own: "power button" is "power button and its line". */
const wordsOf = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}]+/gu) ?? [];

/** As a bath cleans it, and a reflow warms it. */
const wholeBoard = /^(?:the )?(?:whole |main |logic )?board$/i;

/**
 * Parts of a unit that somebody means who works on it: by its name, by the first words of it, by the words technicians have for
 * a circuit, or by the circuit that was chosen. A flex is what it is called after as well: with the side key flex goes the key.
 *
 * @returns ids, of all parts of a circuit where no part of it was named; none where nobody could tell what is meant
 */
export function partsMeant(device: Profile, { target, circuit = null }: Changed): string[] {
  const named = elementsNamed(device, target);
  const ofCircuits = (circuits: readonly CircuitId[]): string[] =>
    elementIds(device).filter((id) => circuits.includes(targetOf(device, id)?.circuit as CircuitId));
  if (named.length > 0) {
    const carried = named.some((e) => e.element === 'peripheral')
      ? circuitsNamed(target).filter((c) => !named.some((e) => e.circuit === c))
      : [];
    return [...named.map((e) => e.id), ...ofCircuits(carried)];
  }
  if (wholeBoard.test(target.trim())) return elementIds(device);
  const words = wordsOf(target);
  const begun = elementIds(device).filter((id) => {
    const name = wordsOf(targetOf(device, id)?.name ?? '');
    return words.length > 1 && words.every((word, k) => name[k] === word);
  });
  if (begun.length > 0) return begun;
  const said = circuitsNamed(target);
  return ofCircuits(said.length > 0 ? said : circuit === null ? [] : [circuit]);
}
