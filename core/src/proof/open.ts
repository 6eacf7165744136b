import { type ComplaintKind, actionTypes, patternTypes } from '../catalogue/index.ts';
import { hasPackIn, isHealthy, sameSetup, type History } from '../observation/index.ts';
import { topPattern } from '../shape/index.ts';
import { deviceState, isUntried, isWorking } from './device-state.ts';
import { protocols, type FunctionLists, type ProtocolDefinition } from './protocol.ts';
import { stepsOf } from './steps.ts';

/** What is still to be shown after a repair, by complaint and by what was seen since the last change, the most telling first. */
export function openProofs(history: History, lists: FunctionLists = {}): ProtocolDefinition[] {
  return inOrder(
    history,
    neededProofs(history).filter(
      (p) => !stepsOf(history, p, lists).every((s) => s.result === 'pass' || s.result === 'not-done'),
    ),
  );
}

/**
 * The protocols of a job: what its complaint, its feeds and what was done ask for, whether it was shown already or not.
 * One that was begun stays, also where what asked for it has been shown since.
 */
export function protocolsOf(history: History): ProtocolDefinition[] {
  const begun = new Set(history.value.proofs.map((p) => p.protocol));
  const needed = new Set(neededProofs(history).map((p) => p.id));
  return inOrder(
    history,
    protocols.filter((p) => needed.has(p.id) || begun.has(p.id)),
  );
}

/** What is to be shown of a device that works, or was mended and is to be tried; nobody proves one that is dead. */
function neededProofs(history: History): ProtocolDefinition[] {
  const state = deviceState(history, { works: 0, 'same-fault': 1, 'other-fault': 0 });
  if (!isWorking(state) && !isUntried(state)) return [];
  return protocols.filter((p) => applies(history, p));
}

function inOrder(history: History, list: readonly ProtocolDefinition[]): ProtocolDefinition[] {
  const kind = history.value.complaintKind;
  // What was complained of comes first, once it has started at all; what was fitted is looked over before power.
  const rank = (p: ProtocolDefinition): number =>
    p.id === 'start-on-limited-supply' ? 0 : kind === 'drain' && p.when.complaints?.includes(kind) ? 1 : 2;
  return [...list].sort((a, b) => rank(a) - rank(b));
}

function applies(history: History, { when }: ProtocolDefinition): boolean {
  const { value, figures } = history;
  const complaint: ComplaintKind | null = value.complaintKind;
  const isFedAt = (feeds: readonly string[]): boolean => value.runs.some((r) => feeds.includes(r.feed));
  if (when.complaints && (complaint === null || !when.complaints.includes(complaint))) return false;
  if (when.battery && !figures.battery) return false;
  if (when.pack && !hasPackIn(value)) return false;
  if (when.assembled && isBare(value.runs.at(-1)?.setup.assembly ?? null)) return false;
  if (when.feeds && !isFedAt(when.feeds)) return false;
  if (when.notFeeds && isFedAt(when.notFeeds)) return false;
  if (when.liquid && !value.intake.liquid) return false;
  return when.needs === undefined || isNeeded(history, when.needs);
}

const isBare = (assembly: string | null): boolean => assembly === 'board-alone' || assembly === 'half';

function isNeeded(history: History, needs: NonNullable<ProtocolDefinition['when']['needs']>): boolean {
  const { value, seen, epochOf } = history;
  const since = seen.filter((s) => value.actions.length > 0 && epochOf(s.run.after) > 0);
  switch (needs) {
    case 'not-shown:normal-start':
      return !since.some((s) => patternTypes[topPattern(s.patterns)].isFullStart);
    case 'first-setup-not-repeated':
      return seen.length > 0 && !since.some((s) => sameSetup(seen[0].run, s.run) && isHealthy(s));
    case 'unexplained':
      return value.actions.every((a) => actionTypes[a.kind].isProvisional);
    case 'left-off':
      return leftOff(history).length > 0;
    case 'fitted':
      return value.actions.some((a) => actionTypes[a.kind].fits && !isTakenBack(history, a.id));
  }
}

const isTakenBack = ({ value }: Pick<History, 'value'>, id: string): boolean =>
  value.actions.some((a) => a.undoes === id);

/** What was taken off the board and is not there now: removed, neither put back nor replaced. In the order of the work. */
export function leftOff(history: Pick<History, 'value'>): History['value']['actions'] {
  const { actions } = history.value;
  return actions.filter(
    (a, k) =>
      a.kind === 'remove' &&
      !isTakenBack(history, a.id) &&
      !actions.slice(k + 1).some((b) => (b.kind === 'replace' || b.kind === 'refit') && b.circuit === a.circuit),
  );
}
