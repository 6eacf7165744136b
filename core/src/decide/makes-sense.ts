import type { CircuitId } from '../catalogue/index.ts';
import { isSamePart } from '../hypotheses/index.ts';
import { partStates, shortsOf, type Candidate, type History } from '../observation/index.ts';
import policy from './policy.json';

/**
 * Whether something can be done at all with this device as it is: it has such a part, the part is where it is looked for, and the
 * answer is not in the history. When a check fits is said beside the checks (`observation/check-applies.ts`).
 */
export function makesSense(history: History, candidate: Candidate): boolean {
  const { value } = history;
  const parts = partStates(value.actions);
  const { action, circuit } = candidate;
  if (circuit !== null && !hasCircuit(history, circuit)) return false;
  const named = candidate.where ?? action?.target ?? '';
  const known = parts.find((p) =>
    named === ''
      ? p.circuit !== null && p.circuit === circuit
      : isSamePart(p.name, named) || (action !== null && isSamePart(p.name, action.target)),
  );
  if (action && known) {
    const { kind } = action;
    if (known.is === 'off' && ['remove', 'isolate', 'disconnect', 'clean', 'reflow', 'burn'].includes(kind))
      return false;
    if (known.is === 'unplugged' && kind === 'disconnect') return false;
    if (known.is === 'lifted' && kind === 'isolate') return false;
    if (
      known.is === 'on' &&
      known.action.kind === 'replace' &&
      kind === 'replace' &&
      (known.circuit ?? circuit) === circuit
    )
      return false;
  }
  if (candidate.kind === 'reading' && candidate.mode === 'voltage') {
    // A rail that is shorted is not probed for volts.
    const shorts = shortsOf(history).filter((s) => !s.isGone);
    if (shorts.some((s) => s.circuit === circuit && circuit !== null)) return false;
  }
  return true;
}

/** Whether such a device has the circuit at all: a mains console has no battery, no charger and no contract. */
function hasCircuit({ value, figures, space }: History, circuit: CircuitId): boolean {
  if (space.closeness === 'own') return true;
  const usb = value.runs.some((r) => r.feed === 'usb-c') || (value.device.expect.contractV ?? 0) > 0;
  const dc = value.runs.some((r) => r.feed === 'dc-in') || value.device.expect.dcV !== undefined;
  if (!figures.battery && policy.onlyWithBattery.includes(circuit)) return false;
  return !(dc && !usb && policy.onlyWithPort.includes(circuit));
}
