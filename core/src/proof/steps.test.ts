import type { ComplaintKind } from '../catalogue/index.ts';
import type { Case, Proof, Setup } from '../case/index.ts';
import { historyOf } from '../diagnosis/index.ts';
import { actionOf, checkOf, typedCase } from '../testing/cases.ts';
import { judgeRise, judgeRun, passLimit, proofState, protocols, stepsOf, type Step } from './index.ts';

const dead = 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold';
const healthy = 'battery 4V limit 3A: 0 | prompt 0.1 0.5 1.2 0.6 1.1 0.4 0.9 hold';
const charging = 'usb-c port 1 with-battery: 5V 0.4 9V 1.1 1.6 hold';

/** A phone with one part replaced, and what was recorded since. */
function repaired(
  after: string[],
  over: Partial<Case> = {},
  setups: Partial<Setup>[] = [],
  complaintKind: ComplaintKind = 'no-start',
) {
  const { value, shapes } = typedCase('phone', [dead, ...after], {
    complaintKind,
    actions: [actionOf('a1', 'replace', { circuit: 'rail.run', runBefore: 'r1' })],
    ...over,
  });
  value.runs.slice(1).forEach((r, k) => {
    r.after = 'a1';
    Object.assign(r.setup, setups[k] ?? {});
  });
  return historyOf(value, shapes).history;
}

const proofOf = (over: Partial<Proof>): Proof => ({
  id: 'p1',
  protocol: 'three-cold-starts',
  step: 'first',
  result: 'pass',
  reason: '',
  run: null,
  check: null,
  after: 'a1',
  ...over,
});

const stepsFor = (history: ReturnType<typeof repaired>, id: string): Step[] =>
  stepsOf(
    history,
    protocols.find((p) => p.id === id)!,
  );

test('a run since the change proves its step without being named; one before it does not, and none fails a step by itself', () => {
  const start = (after: string[]): Step => stepsFor(repaired(after), 'start-on-limited-supply')[0];
  expect(start([healthy])).toMatchObject({ result: 'pass', shownBy: 'r2' });
  expect(start([])).toMatchObject({ result: null, shownBy: null });
  expect(start([dead])).toMatchObject({ result: null, shownBy: null });
});

test('every port and side is a step; a run counts for the port and side it was made at', () => {
  const history = repaired([charging], { device: { ...repaired([]).value.device, expect: { ports: 2 } } });
  const steps = stepsFor(history, 'charge-every-port').filter((s) => s.at !== null);
  expect(steps.map((s) => s.id)).toEqual(['port-1', 'port-1-flipped', 'port-2', 'port-2-flipped']);
  expect(steps.map((s) => s.result)).toEqual(['pass', null, null, null]);
  expect(judgeRun(history, steps[2], history.seen[1])).toEqual({
    fits: false,
    says: 'Run r2 was made at port 1; this step needs port 2.',
  });
});

test('what was said counts before what runs show, and a change makes every step open again', () => {
  const said = repaired([healthy], { proofs: [proofOf({}), proofOf({ id: 'p2', result: 'fail', reason: 'froze' })] });
  expect(stepsFor(said, 'three-cold-starts')[0]).toMatchObject({ result: 'fail', because: 'froze' });
  const later = repaired([healthy], {
    proofs: [proofOf({})],
    actions: [actionOf('a1', 'replace', { circuit: 'rail.run' }), actionOf('a2', 'refit', { undoes: 'a1' })],
  });
  expect(stepsFor(later, 'three-cold-starts')[0].result).toBeNull();
});

test.each<[string, Partial<Setup>, RegExp]>([
  [healthy, { unplugged: ['camera flex'] }, /needs everything connected/],
  [charging, {}, /needs battery or dc-in/],
])('a run that cannot prove a start says why: %s', (line, setup, says) => {
  const history = repaired([line], {}, [setup]);
  const [step] = stepsFor(history, 'start-on-limited-supply');
  const judged = judgeRun(history, step, history.seen[1]);
  expect(judged).toMatchObject({ fits: false, says: expect.stringMatching(says) as string });
});

test('a run of another setup than the first cannot stand for it', () => {
  const history = repaired([charging]);
  const [step] = stepsFor(history, 'same-setup-as-first');
  expect(judgeRun(history, step, history.seen[1])).toMatchObject({ fits: false });
});

test('little current of a healthy charge proves nothing yet; enough of it does', () => {
  const little = repaired([charging]);
  const [step] = stepsFor(little, 'charge-every-port');
  expect(judgeRun(little, step, little.seen[1])).toMatchObject({ fits: true, result: 'pass' });
  // A healthy unit of the model took 5 A in this setup.
  expect(judgeRun(little, step, little.seen[1], 5)).toMatchObject({
    fits: false,
    says: expect.stringMatching(/A full battery draws little/) as string,
  });
  // Half of the 1.7 A that a phone takes, from its kind; from the stated figure where there is one.
  expect(passLimit(little, step)).toMatchObject({ minA: 0.85, from: '50 % of what a phone draws' });
  expect(passLimit(little, step, 1)).toMatchObject({ minA: 0.5, from: '50 % of what a healthy unit drew' });
});

test('a charge over minutes needs minutes: a line that was typed without times shows none', () => {
  const history = repaired([charging], {}, [{ deviceState: 'off' }]);
  const step = stepsFor(history, 'charge-every-port').find((s) => s.id === 'screen-off');
  expect(step).toMatchObject({ result: null, needs: 'Needs a recording of at least 3 minutes, with at least 850 mA.' });
  expect(step && judgeRun(history, step, history.seen[1])).toMatchObject({
    fits: false,
    says: expect.stringMatching(/typed without times/) as string,
  });
  const timed = 'usb-c port 1 with-battery: 5V 0.4 9V @10s 1.1 @100s 1.6 @200s 1.6 @300s 1.6';
  const long = repaired([timed], {}, [{ deviceState: 'off' }]);
  const shown = stepsFor(long, 'charge-every-port').find((s) => s.id === 'screen-off');
  expect(shown).toMatchObject({ result: 'pass', shownBy: 'r2' });
  const brief = repaired(['usb-c port 1 with-battery: 5V 0.4 9V @10s 1.1 @20s 1.6 @40s 1.6'], {}, [
    { deviceState: 'off' },
  ]);
  expect(step && judgeRun(brief, step, brief.seen[1])).toMatchObject({
    fits: false,
    says: expect.stringMatching(/This step needs at least 3 minutes/) as string,
  });
});

test('an hour of running is judged by its recording: a restart and a drift fail it, a steady hour passes', () => {
  const hour = (levels: string): Step => {
    const line = `battery 4V limit 3A with-battery: 0 | prompt 0.1 0.5 1.2 0.6 ${levels}`;
    return stepsFor(repaired([line], {}, [], 'restarts'), 'soak')[0];
  };
  expect(hour('@60s 0.7 @1000s 0.75 @2000s 0.7 @3000s 0.72 @3700s 0.71')).toMatchObject({
    result: 'pass',
    shownBy: 'r2',
  });
  expect(hour('@60s 0.7 @1000s 0.7 @2000s 1.0 @3000s 1.4 @3700s 1.5')).toMatchObject({
    result: null,
    because: expect.stringMatching(/drifts from/) as string,
  });
  expect(hour('@60s 0.7 @500s 0.7')).toMatchObject({ result: null });
});

test('a drain closes with its figures: off at most four times what is usual, asleep by its own limit', () => {
  const history = repaired(['battery 4V limit 3A: 0.05 hold', 'battery 4V limit 3A: 0.001 hold'], {}, [], 'drain');
  const [off, asleep] = stepsFor(history, 'drain-asleep-overnight');
  expect(judgeRun(history, off, history.seen[1])).toMatchObject({ fits: true, result: 'fail' });
  expect(off).toMatchObject({ result: 'pass', shownBy: 'r3' });
  expect(judgeRun(history, asleep, history.seen[2])).toMatchObject({
    fits: false,
    says: expect.stringMatching(/does not say that the device was asleep/) as string,
  });
});

test('a battery that takes charge rises; two readings too soon after each other say nothing', () => {
  expect(judgeRise(3.7, 3.82, 20)).toEqual({ result: 'pass', says: '3.70 V to 3.82 V in 20 minutes' });
  expect(judgeRise(3.7, 3.7, 20)?.result).toBe('fail');
  expect(judgeRise(3.7, 3.9, 1)).toBeNull();
});

test('what a check has shown since the change is not asked for again', () => {
  const seen = (outcome: string): Step =>
    stepsFor(repaired([healthy], { checks: [checkOf('screen', outcome, { after: 'a1' })] }), 'picture-touch-sound')[0];
  expect(seen('image').result).toBe('pass');
  expect(seen('dark').result).toBe('fail');
  expect(seen('logo').result).toBeNull();
});

test('functions are those of the kind of device, or the list of the shop', () => {
  const history = repaired([healthy]);
  const protocol = protocols.find((p) => p.id === 'picture-touch-sound')!;
  expect(stepsOf(history, protocol).map((s) => s.id)).toContain('touch');
  const own = stepsOf(history, protocol, { phone: ['Lending label reads', 'Display: complete and bright'] });
  expect(own.map((s) => s.id)).toEqual(['lending-label-reads', 'picture']);
  expect(own[1].check).toEqual({ id: 'screen', pass: 'image', fail: 'dark' });
});

test('the state of the proof says what the change did and what is off the board', () => {
  const off = repaired([healthy], {
    actions: [actionOf('a1', 'remove', { circuit: 'rail.run', target: 'capacitor at the edge', runBefore: 'r1' })],
  });
  const state = proofState(off);
  expect(state.since).toMatchObject({ before: 'r1', now: 'r2', isNormal: true });
  expect(state.leftOff.map((x) => x.says)).toEqual([expect.stringContaining('capacitor at the edge')]);
  expect(state.protocols.map((p) => p.id)).toContain('left-off');
});
