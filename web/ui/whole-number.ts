/**
 * A whole number as it is being typed; what is no digit is left out.
 *
 * @returns null for an empty field and for nought
 */
export const wholeNumberOf = (typed: string): number | null => Number(typed.replace(/\D/g, '')) || null;
