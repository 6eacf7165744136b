import type { Check, Proof } from '../case/index.ts';
import type { History } from '../observation/index.ts';
import { functionsOf } from './functions.ts';
import { judgeRun, needsOf } from './judge.ts';
import type { FunctionLists, ProtocolDefinition, Step, StepDefinition } from './protocol.ts';

/**
 * The steps of a protocol for a device: one for each of its ports and sides, for each function that its kind has. What
 * was said of a step counts first; a run since the last change that can prove it is held against it without being named.
 *
 * @param lists functions by kind of device where the shop has its own
 */
export function stepsOf(history: History, protocol: ProtocolDefinition, lists: FunctionLists = {}): Step[] {
  return protocol.steps
    .flatMap((step) => expand(history, protocol.id, step, lists))
    .map((s) => withResult(history, { ...s, needs: needsOf(history, s) }));
}

function expand(history: History, protocol: string, definition: StepDefinition, lists: FunctionLists): Step[] {
  const { id, by, says, each, run = null, waitMinutes = null } = definition;
  const open = { needs: '', result: null, because: '', shownBy: null, isSaid: false };
  const base = { protocol, id, by, says, run, at: null, waitMinutes, check: null, ...open };
  if (each === 'function')
    return functionsOf(history.value.device.class, lists).map((f) => ({
      ...base,
      id: f.id,
      says: f.says,
      check: f.check ?? null,
    }));
  if (each !== 'port') return [base];
  return portsOf(history).flatMap((port) =>
    [false, true].map((flipped) => ({
      ...base,
      id: `${id}-${port}${flipped ? '-flipped' : ''}`,
      says: `${says} at port ${port}${flipped ? ', plug flipped' : ''}`,
      at: { port, flipped },
    })),
  );
}

/** Numbers of the ports that the device has: as stated, as its kind usually has, or as many as were used. */
function portsOf({ value, figures }: History): number[] {
  const used = value.runs.filter((r) => r.feed === 'usb-c').map((r) => r.setup.port ?? 1);
  const most = Math.max(figures.ports, 1, ...used);
  return Array.from({ length: most }, (_, k) => k + 1);
}

function withResult(history: History, step: Step): Step {
  const said = newestProof(history, step);
  if (said) return { ...step, result: said.result, because: said.reason, shownBy: said.run, isSaid: true };
  const { check } = step;
  const looked = check && checkSince(history, check.id);
  if (check && looked?.outcome === check.pass) return { ...step, result: 'pass', because: 'seen in a check' };
  if (check && looked?.outcome === check.fail) return { ...step, result: 'fail', because: 'seen in a check' };
  if (step.run === null) return step;
  for (const seen of [...history.seen].reverse()) {
    const judged = judgeRun(history, step, seen);
    if (!judged.fits) continue;
    // A run may pass a step by itself; it never fails one: what was seen stands beside the open step.
    if (judged.result === 'pass') return { ...step, result: 'pass', because: judged.says, shownBy: seen.run.id };
    return { ...step, because: judged.says };
  }
  return step;
}

/** The last check of a kind since the last change: what was looked at is not asked for again. */
function checkSince({ value, epochOf }: History, id: string): Check | undefined {
  return value.checks.findLast((c) => c.id === id && epochOf(c.after) === value.actions.length);
}

/** The last that was said of a step in the present state of the device; what was shown before a change proves nothing after it. */
function newestProof({ value, epochOf }: History, { protocol, id }: Step): Proof | undefined {
  const now = value.actions.length;
  return value.proofs.findLast((p) => p.protocol === protocol && p.step === id && epochOf(p.after) === now);
}
