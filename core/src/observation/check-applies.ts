import type { CheckId } from '../case/index.ts';
import { topPattern, type PatternId } from '../shape/index.ts';
import type { History } from './kind.ts';

/** Patterns in which the device did answer a press: its button and wake line work. */
const answersThePress: PatternId[] = [
  'surge-on-prompt',
  'stall-low',
  'stall-mid',
  'restart-loop',
  'start-then-off',
  'normal-start',
];

/** Patterns with a level that stands, so that raising the voltage moves it. */
const steady: PatternId[] = ['draw-before-prompt', 'idle-drain', 'standby-hold', 'dark-hold', 'partial-hold'];

/** Whether a check fits the device, its feeds and its setups, and nobody has answered it in this state of the device. */
export function checkApplies(history: History, check: CheckId): boolean {
  const { value, figures, seen, epochOf } = history;
  const now = value.actions.length;
  const usb = value.runs.filter((r) => r.feed === 'usb-c');
  const current = value.runs.filter((r) => epochOf(r.after) === now || now === 0);
  const patterns = seen.filter((s) => epochOf(s.run.after) === now).map((s) => topPattern(s.patterns));
  const answered = value.checks.some((c) => c.id === check && c.outcome !== null && isStill(history, c.after));
  if (answered) return false;
  const hasPort = hasUsbPort(history);
  // The port is asked about where it was used, or where charging is what is complained of.
  const asksPort =
    hasPort &&
    (usb.length > 0 || value.runs.length === 0 || ['no-charge', 'slow-charge'].includes(value.complaintKind ?? ''));
  switch (check) {
    case 'other-port':
      return asksPort && figures.ports !== 1 && new Set(usb.map((r) => r.setup.port ?? 1)).size < 2;
    case 'flipped-plug':
      return asksPort && !usb.some((r) => r.setup.flipped);
    case 'known-good-charger':
      return asksPort && !value.runs.some((r) => r.setup.charger === 'known-good') && !value.intake.batterySwollen;
    case 'firmware-reload':
      return !value.intake.dataWanted;
    case 'fan':
      return figures.fan;
    case 'battery-disconnected':
      return (
        figures.battery &&
        figures.startsWithoutBattery &&
        value.runs.length > 0 &&
        !value.runs.some(
          (r) => r.feed !== 'battery' && (r.setup.battery === 'disconnected' || r.setup.battery === 'absent'),
        ) &&
        !value.runs.some((r) => r.feed === 'battery')
      );
    case 'usb-wakes':
      return hasPort && figures.battery && !patterns.some((p) => answersThePress.includes(p));
    case 'charges':
      return figures.battery && !patterns.some((p) => p.startsWith('charge-'));
    case 'press-response':
      return !current.some((r) => pressed(history, r.id));
    case 'screen':
      return !seen.some(
        (s) => s.run.after === null && ['limit-at-once', 'no-draw', 'no-attach'].includes(topPattern(s.patterns)),
      );
    case 'known-good-display':
      return !value.runs.some((r) => r.setup.display === 'known-good');
    case 'halves-apart':
      return value.device.class === 'phone' && !value.runs.some((r) => r.setup.assembly === 'half');
    case 'charge-indicator':
      return asksPort || value.runs.some((r) => r.feed === 'dc-in');
    case 'host-detects':
      return hasPort || value.runs.every((r) => r.feed === 'battery');
    case 'voltage-sweep':
      return value.runs.some((r) => r.feed !== 'usb-c') && patterns.some((p) => steady.includes(p));
    default:
      return true;
  }
}

/** A device with a barrel input has no plug to turn over, unless somebody said that it has a port as well. */
function hasUsbPort({ value, space }: History): boolean {
  if (space.closeness === 'own') return space.twin.board.profile.ports.length > 0;
  const { runs, device } = value;
  if (runs.some((r) => r.feed === 'usb-c')) return true;
  if (runs.some((r) => r.feed === 'dc-in') || device.expect.dcV !== undefined)
    return (device.expect.contractV ?? 0) > 5.6;
  return true;
}

function pressed({ seen }: History, run: string): boolean {
  const found = seen.find((s) => s.run.id === run);
  return found?.shape.features.prompted ?? false;
}

/** What was answered before the last change need not be asked again until the device has changed. */
function isStill({ epochOf, value }: History, after: string | null): boolean {
  return epochOf(after) === value.actions.length || value.actions.length === 0 || epochOf(after) === 0;
}
