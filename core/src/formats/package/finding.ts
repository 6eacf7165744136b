import type { FormatError } from '../error.ts';

/** One thing that is wrong (`error`) or worth saying (`warning`) about a package. */
export interface Finding {
  severity: 'error' | 'warning';
  file: string;
  place: string;
  message: string;
}

/**
 * A finding on one line: severity, file, place and what is wrong.
 *
 */
export function sayFinding(f: Finding): string {
  return [f.file, f.place, f.message].filter(Boolean).join(': ');
}

/**
 * An error of a format as a finding.
 *
 */
export function asFinding(error: FormatError): Finding {
  return { severity: 'error', file: error.file, place: error.place, message: error.problem };
}
