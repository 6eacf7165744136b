import type { ComplaintKind } from '../case/index.ts';
import { isHealthy, sameSetup, type History } from '../observation/index.ts';
import { topPattern } from '../shape/index.ts';
import table from './proofs.json';

/** A proof that is still to be given: what to do, and what it shows. */
export interface Proof {
  protocol: string;
  minutes: number;
  says: string;
  proves: string;
}

interface Row extends Omit<Proof, 'protocol'> {
  id: string;
  when: { complaints?: string[]; battery?: boolean; feeds?: string[]; liquid?: boolean; needs?: string };
}

/** Probability of `works` from which the question is whether it is well, not what it is. */
export const worksFrom = table.worksFrom;

/** What is still to be shown after a repair, by complaint and by what was seen since the last change, the most telling first. */
export function openProofs(history: History): Proof[] {
  const rows = table.protocols as Row[];
  const open = rows
    .filter((row) => applies(history, row))
    .map(({ id, minutes, says, proves }) => ({ protocol: id, minutes, says, proves }));
  const kind = history.value.complaintKind;
  const byComplaint = rows.filter((r) => r.when.complaints?.includes(kind ?? '')).map((r) => r.id);
  // What was complained of comes first, once it has started at all.
  const rank = (p: Proof): number =>
    p.protocol === 'start-on-limited-supply' ? 0 : kind === 'drain' && byComplaint.includes(p.protocol) ? 1 : 2;
  return [...open].sort((a, b) => rank(a) - rank(b));
}

function applies(history: History, { when }: Row): boolean {
  const { value, figures } = history;
  const complaint: ComplaintKind | null = value.complaintKind;
  if (when.complaints && !when.complaints.includes(complaint ?? '')) return false;
  if (when.battery && !figures.battery) return false;
  if (when.feeds && !when.feeds.some((f) => value.runs.some((r) => r.feed === f))) return false;
  if (when.liquid && !value.intake.liquid) return false;
  return when.needs === undefined || isNeeded(history, when.needs);
}

function isNeeded({ value, seen, epochOf }: History, needs: string): boolean {
  const now = value.actions.length;
  const since = seen.filter((s) => now > 0 && epochOf(s.run.after) > 0);
  switch (needs) {
    case 'not-shown:normal-start':
      return !since.some((s) => topPattern(s.patterns) === 'normal-start');
    case 'first-setup-not-repeated':
      return seen.length > 0 && !since.some((s) => sameSetup(seen[0].run, s.run) && isHealthy(s));
    case 'unexplained':
      return value.actions.every((a) => a.kind === 'burn' || a.kind === 'other' || a.kind === 'reflow');
    case 'left-off':
      return value.actions.some(
        (a) => a.kind === 'remove' && !value.actions.some((b) => b.kind === 'replace' && b.circuit === a.circuit),
      );
    default:
      return true;
  }
}
