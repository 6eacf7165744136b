import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';
import { assess, believe, byCircuit } from '../diagnosis/index.ts';
import { actionOf, checkOf, readingOf, typedCase } from '../testing/cases.ts';

const dead = 'battery 4V limit 2A: 0 | prompt 0.1 0.3 0.32 hold';
const starts = '0 | prompt 0.1 0.6 1.3 0.7 1.2 0.4 0.9 0.3 hold';

/** Probability of a circuit of a device with these runs, and of what else was entered. */
function believed(lines: string[], over: Partial<Case> = {}, set: (value: Case) => void = () => undefined) {
  const { value, shapes } = typedCase('phone', lines, { complaintKind: 'no-start', ...over });
  set(value);
  const belief = believe(value, shapes);
  return {
    p: (id: CircuitId): number => byCircuit(belief)[circuitIds.indexOf(id)],
    first: (): CircuitId => {
      const all = byCircuit(belief);
      return circuitIds[all.indexOf(Math.max(...all))];
    },
    works: belief.now.works,
    assess: () => assess(value, shapes),
  };
}
const before = believed([dead]);
const odds = (p: number): number => p / (1 - p);

describe('halves', () => {
  const split = actionOf('a1', 'isolate', { circuit: 'joint.stack', target: 'boards split' });
  const half = believed([dead, `battery 4V limit 2A half "upper": ${starts}`], { actions: [split] }, (value) => {
    value.runs[1].after = 'a1';
  });
  test('one that starts alone clears what sits on it, and accuses what joins them and what sits on the other', () => {
    const against = (id: CircuitId): number => half.p(id) / half.p('core.soc') / (before.p(id) / before.p('core.soc'));
    expect(against('joint.stack')).toBeGreaterThan(10);
    expect(against('radio')).toBeGreaterThan(10);
  });
  test('one that starts alone is no cure, and neither is a picture of it', () => {
    expect(half.works).toBeLessThanOrEqual(0.5);
    const picture = checkOf('screen', 'image', { half: 'upper', after: 'a1' });
    expect(believed([dead], { actions: [split], checks: [picture] }).works).toBeLessThanOrEqual(0.5);
  });
  test('both fine apart: what joins them', () => {
    const fine = believed([dead], { checks: [checkOf('halves-apart', 'both-fine')] });
    expect(fine.p('joint.stack') / fine.p('core.soc')).toBeGreaterThan(
      10 * (before.p('joint.stack') / before.p('core.soc')),
    );
  });
});

describe('what was unplugged', () => {
  test('a start with a part unplugged accuses that part', () => {
    const freed = believed([dead, `battery 4V limit 2A unplugged "display": ${starts}`]);
    expect(freed.first()).toBe('display');
    expect(odds(freed.p('display')) / odds(before.p('display'))).toBeGreaterThan(100);
  });
  test('nothing changed by it clears the part', () => {
    const same = believed([dead, 'battery 4V limit 2A unplugged "display": 0 | prompt 0.1 0.3 0.32 hold']);
    expect(same.p('display')).toBeLessThan(before.p('display'));
  });
  test('it is not proposed to unplug it again', () => {
    const { next } = believed([dead], { checks: [checkOf('peripherals-unplugged', 'same')] }).assess();
    expect(next.map((t) => t.check)).not.toContain('peripherals-unplugged');
  });
});

describe('whole units', () => {
  const swapped = (unit: 'board' | 'display') =>
    believed(
      [dead, `battery 4V limit 2A: ${starts}`],
      { actions: [actionOf('a1', 'replace', { unit, target: `another ${unit}`, runBefore: 'r1' })] },
      (value) => {
        value.runs[1].after = 'a1';
      },
    );
  test('a board that cures takes the blame with every circuit on it', () => {
    const board = swapped('board');
    expect(board.works).toBeGreaterThan(0.8);
    expect(board.p('battery.pack')).toBeLessThan(before.p('battery.pack'));
  });
  test('a display that cures accuses the display alone', () => {
    expect(swapped('display').first()).toBe('display');
    expect(odds(swapped('display').p('display')) / odds(before.p('display'))).toBeGreaterThan(100);
  });
});

describe('parts', () => {
  const short = readingOf({ mode: 'diode', value: 0, where: 'chip by the hinge' });
  const off = actionOf('a1', 'remove', { target: 'chip by the hinge' });
  const free = readingOf({ mode: 'diode', value: 0.372, where: 'chip by the hinge', after: 'a1' });
  test('what was short and is free with the part off accuses the part; it does not work yet', () => {
    const found = believed([dead], { readings: [short, free], actions: [off] });
    expect(found.works).toBeLessThanOrEqual(0.5);
    const { next, state } = found.assess();
    expect(next.some((t) => t.action?.kind === 'remove' && t.where === 'chip by the hinge')).toBe(false);
    expect(state?.id).toBe('short-gone');
  });
  test('open line where it was short is as good', () => {
    const open = readingOf({ mode: 'diode', value: null, ol: true, where: 'chip by the hinge', after: 'a1' });
    const { warnings } = believed([dead], { readings: [short, open], actions: [off] }).assess();
    expect(warnings.join()).not.toMatch(/Not used/);
  });
  test('a part replaced in vain clears the part more than its circuit', () => {
    const vain = believed(
      [dead, dead],
      { actions: [actionOf('a1', 'replace', { circuit: 'input.protection', target: 'clamp diode', runBefore: 'r1' })] },
      (value) => {
        value.runs[1].after = 'a1';
      },
    );
    expect(vain.p('input.protection')).toBeLessThanOrEqual(before.p('input.protection') + 1e-9);
    expect(vain.p('charge.charger') / before.p('charge.charger')).toBeGreaterThan(0.8);
  });
});

describe('by itself', () => {
  test('a leak that went with nothing changed is a new state, and no part is taken off for it', () => {
    const readings = [
      readingOf({ mode: 'resistance', value: 2, where: 'main', circuit: 'rail.main' }),
      readingOf({ mode: 'resistance', value: 9000, where: 'main', circuit: 'rail.main' }),
    ];
    const { next, warnings } = believed([dead, `battery 4V limit 2A: ${starts}`], { readings }).assess();
    expect(warnings.join()).toMatch(/Two readings of main disagree/);
    expect(next.some((t) => t.action?.kind === 'remove')).toBe(false);
  });
  test('a refit on a device that is well says nothing', () => {
    const refit = actionOf('a1', 'refit', { circuit: 'display', target: 'display flex' });
    const well = `battery 4V limit 2A: ${starts}`;
    const [plain, after] = [
      believed([well]),
      believed([well, well], { actions: [refit] }, (value) => {
        value.runs[1].after = 'a1';
      }),
    ];
    expect(Math.abs(after.p('display') - plain.p('display'))).toBeLessThan(0.1);
  });
});
