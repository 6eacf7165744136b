import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import vocabulary from './vocabulary.json';

/** A text in small letters with single blanks, framed by blanks, so that whole words can be looked for. */
function plain(text: string): string {
  return ` ${text
    .toLowerCase()
    .replace(/[^\p{L}\p{N}/-]+/gu, ' ')
    .trim()} `;
}

const denied = /(^| )(no|not|never|without|nor)( [^ ]+)? $/;

/**
 * Where a phrase stands in a text, or -1. A star at its end takes any ending; a phrase right after "no" or "not" is
 * not there.
 */
function find(text: string, phrase: string): number {
  const open = phrase.endsWith('*');
  const wanted = open ? ` ${phrase.slice(0, -1)}` : ` ${phrase} `;
  for (let at = text.indexOf(wanted); at >= 0; at = text.indexOf(wanted, at + 1))
    if (!denied.test(text.slice(0, at + 1))) return at;
  return -1;
}

/**
 * The circuits that a note about a place names, by the words in which technicians speak of them. Where a longer phrase
 * covers a shorter one, the longer counts: "core power stage" is no processor.
 *
 * @example circuitsNamed('green beside the power-management chip') // ['pmic']
 */
export function circuitsNamed(note: string): CircuitId[] {
  const text = plain(note);
  const hits = circuitIds.flatMap((circuit) =>
    ((vocabulary.places as Partial<Record<CircuitId, string[]>>)[circuit] ?? []).flatMap((phrase) => {
      const from = find(text, phrase);
      return from < 0 ? [] : [{ circuit, from, to: from + phrase.length }];
    }),
  );
  const free = hits.filter(
    (a) => !hits.some((b) => b !== a && b.from <= a.from && a.to <= b.to && b.to - b.from > a.to - a.from),
  );
  return circuitIds.filter((circuit) => free.some((hit) => hit.circuit === circuit));
}

/** Something telling in what the customer said. */
export interface Remark {
  id: string;
  says: string;
  /** Factor by circuit; 1 where it says nothing. */
  factors: Partial<Record<CircuitId, number>>;
}

interface RemarkRule extends Remark {
  any: string[];
  not?: string[];
  unless?: 'liquid' | 'dropped';
}

/**
 * What the words of the complaint and of the intake say beyond its kind and its ticks: that an update was running, that
 * it changes when it is squeezed. What was ticked already is not counted again.
 */
export function remarksIn({ complaint, intake }: Pick<Case, 'complaint' | 'intake'>): Remark[] {
  const said = [
    { text: plain(complaint), certainty: vocabulary.certainty.complaint },
    { text: plain(intake.notes), certainty: vocabulary.certainty.notes },
  ];
  return (vocabulary.remarks as RemarkRule[]).flatMap((rule): Remark[] => {
    if (rule.unless && intake[rule.unless]) return [];
    const where = said.find(
      ({ text }) => rule.any.some((p) => find(text, p) >= 0) && !rule.not?.some((p) => find(text, p) >= 0),
    );
    if (!where) return [];
    const factors = Object.fromEntries(
      Object.entries(rule.factors).map(([circuit, factor]) => [circuit, factor ** where.certainty]),
    );
    return [{ id: rule.id, says: rule.says, factors }];
  });
}
