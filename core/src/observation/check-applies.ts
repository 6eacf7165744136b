import { patternTypes, type CheckId, type PatternId, feedVolts } from '../catalogue/index.ts';
import type { Run } from '../case/index.ts';
import { topPattern } from '../shape/index.ts';
import rules from './checks.json';
import { impliedBy, shownByRun } from './shown-by-run.ts';
import type { History } from './kind.ts';
import { movedBetweenRuns } from './moved.ts';
import { isHealthy } from './observed-run.ts';
import { hasPackIn, partsAway, swollenPack } from './part-states.ts';
import { earlierRun } from './run-before.ts';
import { runShowsLife, showsItWorks } from './works.ts';

/** What decides whether a check fits: the case, and what its runs showed in the present state of the device. */
interface Standing {
  history: History;
  value: History['value'];
  figures: History['figures'];
  /** Most likely pattern of each run of this state. */
  patterns: PatternId[];
  usb: Run[];
  hasPort: boolean;
  /** The port is asked about where it was used, or where charging is what is complained of. */
  asksPort: boolean;
  /** How the device stood in the newest run; null before any. */
  setup: Run['setup'] | null;
  /** A pack is in, as far as anybody said. */
  hasPack: boolean;
  /** No swollen pack is in: nothing is plugged in that would charge it. */
  isChargeable: boolean;
}

const always = (): boolean => true;

/** When each check fits the device, its feeds and its setups. */
const fits: Readonly<Record<CheckId, (s: Standing) => boolean>> = {
  'other-port': ({ asksPort, figures, usb }) =>
    asksPort && figures.ports !== 1 && new Set(usb.map((r) => r.setup.port ?? 1)).size < 2,
  'flipped-plug': ({ asksPort, usb }) => asksPort && !usb.some((r) => r.setup.flipped),
  'known-good-charger': ({ asksPort, value, isChargeable }) =>
    asksPort && !value.runs.some((r) => r.setup.charger === 'known-good') && isChargeable,
  'charge-indicator': ({ asksPort, value }) => asksPort || value.runs.some((r) => r.feed === 'dc-in'),
  'press-response': ({ history, value }) => {
    const since = sameSince(history);
    const current = value.runs.filter((r) => history.epochOf(r.after) >= since);
    return !current.some((r) => pressed(history, r.id));
  },
  screen: ({ history, setup }) =>
    setup?.display !== 'disconnected' &&
    !partsAway(history).some((p) => p.circuit === 'display' || p.action.unit === 'display') &&
    !history.seen.some((s) => s.run.after === null && patternTypes[topPattern(s.patterns)].isDead),
  fan: ({ figures }) => figures.fan,
  'host-detects': ({ hasPort, value, isChargeable }) =>
    isChargeable && (hasPort || value.runs.every((r) => r.feed === 'battery')),
  charges: ({ figures, patterns, hasPack, isChargeable }) =>
    figures.battery && hasPack && isChargeable && !patterns.some((p) => patternTypes[p].isCharging),
  'usb-wakes': ({ hasPort, figures, patterns, isChargeable }) =>
    hasPort && figures.battery && isChargeable && !patterns.some((p) => patternTypes[p].answersPress),
  'battery-disconnected': ({ figures, value }) =>
    figures.battery &&
    figures.startsWithoutBattery &&
    value.runs.length > 0 &&
    !value.runs.some(
      (r) => r.feed !== 'battery' && (r.setup.battery === 'disconnected' || r.setup.battery === 'absent'),
    ) &&
    !value.runs.some((r) => r.feed === 'battery'),
  'known-good-display': ({ value, setup }) =>
    setup?.assembly !== 'board-alone' && !value.runs.some((r) => r.setup.display === 'known-good'),
  'voltage-sweep': ({ value, patterns }) =>
    value.runs.some((r) => r.feed !== 'usb-c') && patterns.some((p) => patternTypes[p].followsVoltage),
  'peripherals-unplugged': ({ history }) => !foundByUnplugging(history),
  visual: always,
  'main-rail-resistance': always,
  'rail-voltages': always,
  'diode-readings': always,
  'heat-view': always,
  inject: always,
  'halves-apart': ({ value }) => value.device.class === 'phone' && !value.runs.some((r) => r.setup.assembly === 'half'),
  'firmware-reload': ({ value }) => !value.intake.dataWanted,
};

/** Whether a check fits the device, its feeds and its setups, and nobody has answered it in this state of the device. */
export function checkApplies(history: History, check: CheckId): boolean {
  const { value, figures, seen, epochOf } = history;
  if (value.checks.some((c) => c.id === check && c.outcome !== null && isStill(history, c.after))) return false;
  // What the runs have shown already is not asked.
  const since = sameSince(history);
  const shown = shownByRun(
    history,
    seen.filter((s) => epochOf(s.run.after) >= since),
  );
  const implied = shown && impliedBy(shown, check);
  if (implied && Math.max(...shown.share) * implied[1] >= rules.shown.notAskedFrom) return false;
  const usb = value.runs.filter((r) => r.feed === 'usb-c');
  const hasPort = hasUsbPort(history);
  const asksPort =
    hasPort &&
    (usb.length > 0 || value.runs.length === 0 || ['no-charge', 'slow-charge'].includes(value.complaintKind ?? ''));
  const patterns = seen.filter((s) => epochOf(s.run.after) >= since).map((s) => topPattern(s.patterns));
  const setup = value.runs.at(-1)?.setup ?? null;
  const hasPack = hasPackIn(value);
  const isChargeable = swollenPack(value) !== 'in';
  return fits[check]({ history, value, figures, patterns, usb, hasPort, asksPort, setup, hasPack, isChargeable });
}

/** A device with a barrel input has no plug to turn over, unless somebody said that it has a port as well. */
function hasUsbPort({ value, space, figures }: History): boolean {
  if (space.closeness === 'own') return space.twin.board.profile.ports.length > 0;
  const { runs, device } = value;
  if (runs.some((r) => r.feed === 'usb-c')) return true;
  if (runs.some((r) => r.feed === 'dc-in') || device.expect.dcV !== undefined)
    return (device.expect.contractV ?? 0) > feedVolts.raisedFrom;
  // What runs on mains has a port only where somebody said so.
  return figures.battery || (device.expect.contractV ?? 0) > feedVolts.raisedFrom;
}

/** Unplugging something made the device work: which part it is needs no more unplugging. */
function foundByUnplugging(history: History): boolean {
  const { value, seen, epochOf } = history;
  const freed = value.actions.some(
    (a, k) => a.kind === 'disconnect' && seen.some((s) => epochOf(s.run.after) === k + 1 && isHealthy(s)),
  );
  return (
    freed ||
    seen.some((s) => s.run.setup.unplugged.length > 0 && runShowsLife(s)) ||
    value.checks.some((c) => c.id === 'peripherals-unplugged' && c.outcome === 'recovers')
  );
}

function pressed({ seen }: History, run: string): boolean {
  const found = seen.find((s) => s.run.id === run);
  return found?.shape.features.prompted ?? false;
}

/** What was answered before a change need not be asked again while the device is as it was: until something shows life, or moves. */
function isStill(history: History, after: string | null): boolean {
  const { epochOf, value } = history;
  return epochOf(after) >= sameSince(history) || value.actions.length === 0;
}

/** The first state of the device that is still the present one, as far as anything shows. */
function sameSince({ epochOf, value, seen }: History): number {
  for (let epoch = value.actions.length; epoch > 0; epoch--) {
    const action = value.actions[epoch - 1];
    const runs = seen.filter((s) => epochOf(s.run.after) === epoch);
    const moved = runs.some((s) => {
      const before = earlierRun({ seen, epochOf, value }, s);
      return runShowsLife(s) || (before !== null && movedBetweenRuns(before, s) !== 'same');
    });
    const lives = value.checks.some((c) => epochOf(c.after) === epoch && showsItWorks(c));
    if (moved || lives || action.byItself) return epoch;
  }
  return 0;
}
