/** An object of a document as it was read: nothing is known of its fields. */
export type Raw = Record<string, unknown>;

/** Takes a finding: its path in the document, and what is wrong with what was expected. */
export type Report = (place: string, message: string) => void;

/** The objects of a list; nothing where there is no list. */
export const items = (raw: unknown): Raw[] => (Array.isArray(raw) ? (raw as Raw[]) : []);
