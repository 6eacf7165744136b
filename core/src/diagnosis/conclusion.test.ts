import type { Case } from '../case/index.ts';
import { actionOf, readingOf, typedCase } from '../testing/cases.ts';
import { assess, type OutcomeProposal } from './index.ts';

const dead = 'dc-in 12V limit 4A: 30mA | prompt 210mA hold';
const healthy = 'dc-in 12V limit 4A: 30mA | prompt 0.4 1.1 2.4 1.6 2.9 1.5 2.8 1.3 1.7 hold';
const short = readingOf({ mode: 'resistance', value: 0.3, circuit: 'rail.run', where: 'coil at the run rail' });
const off = actionOf('a1', 'remove', { circuit: 'rail.run', target: 'capacitor at the run rail', runBefore: 'r1' });

function proposal(after: string[], over: Partial<Case>): OutcomeProposal | null {
  const { value, shapes } = typedCase('console', [dead, ...after], { complaintKind: 'no-start', ...over });
  value.runs.slice(1).forEach((r) => (r.after = 'a1'));
  return assess(value, shapes).conclusion?.outcome ?? null;
}

test('cured by what was taken off where it was measured: measured, with the part and what was done', () => {
  expect(proposal([healthy], { readings: [short], actions: [off] })).toMatchObject({
    grade: 'measured',
    circuit: 'rail.run',
    target: 'capacitor at the run rail',
    because: expect.arrayContaining([expect.stringMatching(/Short measured at coil at the run rail/)]) as string[],
  });
});

test('cured without a measurement: cleared', () => {
  const swap = actionOf('a1', 'replace', { circuit: 'rail.run', target: 'run converter', runBefore: 'r1' });
  expect(proposal([healthy], { actions: [swap] })).toMatchObject({
    grade: 'cleared',
    circuit: 'rail.run',
    target: 'run converter',
  });
});

test('cured by cleaning all of it: cleared, and nobody knows which circuit it was', () => {
  const clean = actionOf('a1', 'clean', { target: 'board', runBefore: 'r1' });
  expect(proposal([healthy], { actions: [clean] })).toMatchObject({ grade: 'cleared', circuit: null });
});

test('a fault that went with no change to its circuit has disappeared', () => {
  const moved = actionOf('a1', 'other', { circuit: null, target: 'board turned over', runBefore: 'r1' });
  const proposed = proposal([healthy], { actions: [moved], readings: [short] });
  expect(proposed).toMatchObject({ grade: 'disappeared', circuit: null });
});

test('found and not repaired keeps its circuit and leaves the grade to the shop', () => {
  expect(proposal([], { readings: [short] })).toMatchObject({ grade: null, circuit: 'rail.run' });
});

test('nothing is proposed from a pattern alone', () => {
  expect(proposal([], {})).toBeNull();
  expect(proposal([dead], { actions: [off] })).toBeNull();
});

test('where the advice is to stop at a circuit that is not repaired here, the job is closed with that circuit', () => {
  const at = readingOf({
    mode: 'resistance',
    value: 0.2,
    circuit: 'core.chipset',
    where: '1.2 V at the companion chip',
  });
  const { value, shapes } = typedCase('laptop', ['usb-c port 1: 5V 8mA hold | prompt 8mA hold'], {
    complaintKind: 'no-start',
    readings: [at],
  });
  // A shop whose calls were surer than they were right.
  const recalibration = { slope: 0.6, shift: 0, cases: 60, gain: 0.1, gainError: 0.02 };
  const judged = assess(value, shapes, { recalibration });
  const [first] = judged.circuits;
  // Less sure than what is proposed of circuits that are repaired here.
  expect(first.id).toBe('core.chipset');
  expect(first.p).toBeLessThan(0.8);
  expect(judged.conclusion?.stop?.circuit).toBe('core.chipset');
  expect(judged.conclusion?.outcome).toMatchObject({ grade: null, circuit: 'core.chipset' });
});
