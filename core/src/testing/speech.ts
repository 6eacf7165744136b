/** Strings in a value that a person may read: all that have a space, with the way to each. */
export function sentencesIn(value: unknown, way = ''): { way: string; text: string }[] {
  if (typeof value === 'string') return /\s/.test(value) ? [{ way, text: value }] : [];
  if (typeof value !== 'object' || value === null || ArrayBuffer.isView(value)) return [];
  return Object.entries(value).flatMap(([key, inside]) => sentencesIn(inside, `${way}.${key}`));
}

const faults: readonly [RegExp, string][] = [
  [/\S {2,}\S|^\s|\s$/, 'a space too many'],
  [/\s[,;.](?:\s|$)/, 'a space before a comma, a semicolon or a full stop'],
  [/\b(?:undefined|null|NaN|Infinity|\[object)\b/, 'a missing value'],
  [/[.,;:]\s*[,;:]|\.\.(?!\.)/, 'two signs in a row'],
  [/\(\s*\)|“\s*”|""/, 'empty brackets or quotes'],
  [
    /\b1 (?:minutes|cases|jobs|runs|days|hours|repairs|units|probes|risks|steps|boards|volts|readings)\b/,
    'a plural after 1',
  ],
  [
    /\b(?:[02-9]|\d\d+) (?:minute|case|job|run|day|hour|repair|unit|probe|risk|step|board|reading)\b(?!-)/,
    'a singular after a number',
  ],
  [/\b(\w[\w -]{3,}), \1\b/i, 'a name that is said twice'],
  [/\b(\w{3,}) \1\b/i, 'a word that is said twice'],
  [/(?:^|[\s(])(?:mA|mV|mW|ohm|kohm)(?=[\s,.)]|$)(?<!\d (?:mA|mV|mW|ohm|kohm))/, 'a unit without a number'],
];

/** What is wrong with a sentence that code put together; empty where a person would say it so. */
export const faultsOf = (text: string): string[] =>
  faults.filter(([found]) => found.test(text)).map(([, what]) => what);
