import { explainWrongUnit, findUnit } from '../../quantity/index.ts';
import names from './header-names.json';

/** What a column of a log is. */
export type Role = 'time' | 'date' | 'counter' | 'current' | 'voltage' | 'other';

interface RoleNames {
  role: string;
  begins?: string[];
  whole?: string[];
  anywhere?: string[];
}

const forms = (names.roles as RoleNames[]).map(({ role, begins = [], whole = [], anywhere = [] }) => {
  const parts = [
    begins.length > 0 ? `^${names.channel}(?:${begins.join('|')})(?![\\p{L}\\p{N}])` : '',
    whole.length > 0 ? `^(?:${whole.join('|')})$` : '',
    anywhere.length > 0 ? `(?<![\\p{L}\\p{N}])(?:${anywhere.join('|')})(?![\\p{L}\\p{N}])` : '',
  ];
  return { role: role as Role, form: new RegExp(parts.filter(Boolean).join('|'), 'u') };
});

/** What is longer names no column: it is cut, so that reading it never takes long. */
const longestCell = 160;

interface HeaderCell {
  name: string;
  unit: string | null;
  /** Why the unit is not one of time, voltage or current, where it is one that people mistake for them. */
  wrongUnit: string | null;
}

/** Splits a header such as `I [mA]`, `Current/mA`, `current_mA`, `U(V)` into name and unit. */
export function readHeaderCell(cell: string): HeaderCell {
  const bare = cell
    .slice(0, longestCell)
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/^["']|["']$/g, '');
  // eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longestCell`
  const bracket = /^(.*?)[\s_]*[[(]\s*([^\])]*?)\s*[\])]\s*\.?$/.exec(bare);
  // eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longestCell`
  const tail = /^(.+?)\s*(?:[/_,:]|\s|\sin\s)\s*([a-zA-Zµμ°Ω]+)$/.exec(bare);
  const said = bracket?.[2] ?? tail?.[2] ?? bare;
  const wrongUnit = explainWrongUnit(said);
  if (bracket && findUnit(bracket[2])) return { name: bracket[1], unit: bracket[2], wrongUnit };
  if (tail && findUnit(tail[2]) && tail[1].length > 0)
    return { name: tail[1].replace(/\s+in$/i, ''), unit: tail[2], wrongUnit };
  const unit = findUnit(bare);
  const named = /^(m|u|µ)?(a|v|s)$|^(milli|micro)?(amps?|amperes?|volts?|seconds?|sec)$/i.test(bare);
  if (unit && named) return { name: bare, unit: bare.length === 1 && !/[avs]/i.test(bare) ? null : bare, wrongUnit };
  return { name: bracket ? bracket[1] || bare : wrongUnit && tail ? tail[1] : bare, unit: null, wrongUnit };
}

/** The role that a column's name gives it, in any of the languages of header-names.json; null where the name says nothing. */
export function roleOf(name: string): Role | null {
  const plain = name
    .slice(0, longestCell)
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[[(].*?[\])]/g, '')
    .replace(/(?<!d)-|[_./:]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  return forms.find(({ form }) => form.test(plain))?.role ?? null;
}
