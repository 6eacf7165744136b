/** JSON for a jsonb column. PostgreSQL holds no zero character in text, so it is taken out. */
export function json(value: unknown): string {
  return JSON.stringify(value).replaceAll('\\u0000', '');
}

/** Text for a text column, without the zero character that PostgreSQL refuses. */
export function plainText(text: string): string {
  return text.replaceAll('\0', '');
}
