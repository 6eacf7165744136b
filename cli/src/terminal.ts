/** What a terminal would act on instead of showing it: controls but for the end of a line, and what turns writing around. */
const acting = /[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u200e\u200f\u2028-\u202e\u2066-\u2069]/g;

/** Text as a terminal may be given it: names and notes from files cannot move its cursor, colour it, or reorder it. */
export function forTerminal(text: string): string {
  return text.replace(acting, (c) => (c === '\t' ? ' ' : '\ufffd'));
}

/** JSON whose text shows what `forTerminal` hides, by its number. */
export function jsonForTerminal(value: unknown): string {
  return JSON.stringify(value).replace(acting, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`);
}

export const print = (text: string): void => void process.stdout.write(forTerminal(text));
export const complain = (text: string): void => void process.stderr.write(forTerminal(text));
