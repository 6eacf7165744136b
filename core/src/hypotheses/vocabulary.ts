import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import circuits from './circuits.json';
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
 * @param without phrases that do not count here
 * @example circuitsNamed('green beside the power-management chip') // ['pmic']
 */
export function circuitsNamed(note: string, without: ReadonlySet<string> = new Set()): CircuitId[] {
  const text = plain(note);
  const hits = circuitIds.flatMap((circuit) =>
    ((vocabulary.places as Partial<Record<CircuitId, string[]>>)[circuit] ?? []).flatMap((phrase) => {
      if (without.has(phrase)) return [];
      const from = find(text, phrase);
      return from < 0 ? [] : [{ circuit, from, to: from + phrase.length }];
    }),
  );
  const free = hits.filter(
    (a) => !hits.some((b) => b !== a && b.from <= a.from && a.to <= b.to && b.to - b.from > a.to - a.from),
  );
  return circuitIds.filter((circuit) => free.some((hit) => hit.circuit === circuit));
}

const besides =
  /(?<![\w-])(?:beside|by|near|next to|behind|under|above|below|between|at|on|in|inside|around|round|for|along|towards|opposite)(?![\w-])/i;
/** Words that name a circuit only where they are the thing itself, not where something stands beside it. */
const ambiguous = new Set(['plug', 'pin', 'pins', 'port', 'connector shell', 'phase']);
/** Words of parts that several circuits have: they make one likelier, and name none. */
const common = new Set([
  'plug',
  'pin',
  'pins',
  'port',
  'connector shell',
  'amplifier',
  'driver',
  'joint',
  'joints',
  'balls',
  'solder ball*',
  'enable',
  'reset',
]);

/**
 * How much likelier the words of a place make each circuit: the thing that they name much, what stands beside it a little.
 *
 * @param where a place as somebody typed it
 * @returns factors by circuit, above 1; circuits that the words do not name are left out
 * @example suggestedCircuits('flex of the display').get('display') > 1 // true
 */
export function suggestedCircuits(where: string): Map<CircuitId, number> {
  const [head] = where.split(besides, 1);
  const out = new Map<CircuitId, number>();
  const tail = where.slice(head.length);
  for (const id of circuitsNamed(tail, ambiguous)) out.set(id, circuits.said.near);
  const named = circuitsNamed(head);
  for (const id of named) out.set(id, circuits.said.itself);
  if (named.length === 0 && separableBoard.test(head)) out.set('periph.board', circuits.said.itself);
  return out;
}

/**
 * The circuit that the words of a part name and nothing else: "companion chip beside the processor" is the companion chip.
 *
 * @param part a part as somebody typed it
 * @returns null where they name none, or more than one
 * @example circuitOfPart('one corner of the processor') // 'core.soc'
 */
export function circuitOfPart(part: string): CircuitId | null {
  const [head] = part.split(besides, 1);
  if (/^main(?: \d|$)/i.test(head.trim())) return 'rail.main';
  const named = circuitsNamed(head, common);
  if (named.length === 0 && /\p{L}[ -]board\b/iu.test(head) && separableBoard.test(head)) return 'periph.board';
  return named.length === 1 ? named[0] : null;
}

const beforeIt = /^(?:(?:right )?(?:before|ahead of|in front of)|(?:at )?(?:the )?input of)(?: the)? (.+)$/i;
const behindIt = /^(?:(?:right )?(?:behind|after|past)|(?:at )?(?:the )?output of)(?: the)? (.+)$/i;

/**
 * The circuit of a point before or behind an element: behind it is the element's own, before it what feeds the element.
 *
 * @param where a place as somebody typed it
 * @returns null where it is neither, or names no element
 * @example circuitOfEnd('behind the fuse') // 'input.protection'
 * @example circuitOfEnd('before the fuse') // 'input.port'
 */
export function circuitOfEnd(where: string): CircuitId | null {
  const behind = behindIt.exec(where.trim());
  const before = beforeIt.exec(where.trim());
  const [named, ...others] = circuitsNamed((behind ?? before)?.[1] ?? '');
  if (named === undefined || others.length > 0) return null;
  return behind ? named : ((circuits.feeds as Partial<Record<CircuitId, CircuitId>>)[named] ?? null);
}

/** A board with a word before it that is not the main one. */
const separableBoard = /(?<!\b(?:main|logic|mother|whole|new|sound|donor|the|a|of)[ -])\bboard\b/i;

/** Something telling in what the customer said. */
interface Remark {
  id: string;
  /** Factor by circuit; 1 where it says nothing. */
  factors: Partial<Record<CircuitId, number>>;
}

interface RemarkRule extends Remark {
  any: string[];
  not?: string[];
  unless?: 'liquid' | 'dropped';
}

/**
 * What the customer's words say beyond the kind of the complaint and the ticks of the intake: that an update was running, that it
 * changes when it is squeezed. What was ticked already is not counted again; notes of the shop are no evidence.
 */
export function remarksIn({
  complaint,
  intake,
}: {
  complaint: string;
  intake: Pick<Case['intake'], 'liquid' | 'dropped'>;
}): Remark[] {
  const text = plain(complaint);
  const has = (phrase: string): boolean => find(text, phrase) >= 0;
  return remarks.filter((r) => !isTicked(r, intake) && r.any.some(has) && !r.not?.some(has));
}

/** The remarks that count: those that somebody let stand, or those in the words where nobody has looked at them. */
export function remarksOf({ complaint, intake }: Pick<Case, 'complaint' | 'intake'>): Remark[] {
  const { heard } = intake;
  // A package may say null for what it leaves out.
  if (heard == null) return remarksIn({ complaint, intake });
  return remarks.filter((r) => heard.includes(r.id) && !isTicked(r, intake));
}

const remarks = vocabulary.remarks as readonly RemarkRule[];
export const remarkIds: readonly string[] = remarks.map((r) => r.id);

const isTicked = ({ unless }: RemarkRule, intake: Pick<Case['intake'], 'liquid' | 'dropped'>): boolean =>
  unless !== undefined && intake[unless];
