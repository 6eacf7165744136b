import { makeCase } from '../made-up/index.ts';
import { shippedProfiles } from '../twin/index.ts';
import { seededRandom } from '../trace/index.ts';
import { assess, describe as describeShape } from './assess.ts';
import { historyOf } from './history.ts';
import type { Case } from '../case/index.ts';
import type { Shape } from '../shape/index.ts';

const profiles = new Map(shippedProfiles.map((p) => [p.id, p]));
const own = shippedProfiles.filter((p) => !p.generic);

/** A made-up unit of a model, entered as one of that or of another model. */
function unit(of: string, as: string | null, seed: number): { value: Case; shapes: Map<string, Shape> } {
  const one = makeCase(profiles.get(of)!, seededRandom(seed * 7919 + 13), {});
  const value = { ...one.value, device: { ...one.value.device, profile: as } };
  const shapes = new Map(
    value.runs.map((run) => [run.id, describeShape(value, run, one.traces.get(run.id)!, null)] as const),
  );
  return { value, shapes };
}

const trustIn = ({ value, shapes }: ReturnType<typeof unit>): number => historyOf(value, shapes).history.space.trust;
const median = (xs: number[]): number => [...xs].sort((a, b) => a - b)[Math.floor(xs.length / 2)];

describe('how surely a profile is that of the device', () => {
  test('without a profile it is 0, and before any run what it usually is', () => {
    const { value } = unit(own[0].id, own[0].id, 1);
    expect(trustIn({ value: { ...value, device: { ...value.device, profile: null } }, shapes: new Map() })).toBe(0);
    expect(trustIn({ value: { ...value, runs: [] }, shapes: new Map() })).toBe(0.88);
  });

  test('units of the model are hardly ever doubted, and those of another model oftener', () => {
    const pairs = own.flatMap((p) => {
      const other = own.find((q) => q.class === p.class && q !== p) ?? own.find((q) => q !== p)!;
      return [40, 41, 42].map((seed) => ({
        right: trustIn(unit(p.id, p.id, seed)),
        wrong: trustIn(unit(p.id, other.id, seed)),
      }));
    });
    for (const { right, wrong } of pairs) {
      for (const p of [right, wrong]) expect(p >= 0 && p <= 1).toBe(true);
      expect(right).toBeGreaterThan(0.5);
    }
    expect(median(pairs.map((p) => p.right))).toBeGreaterThan(median(pairs.map((p) => p.wrong)));
  });

  test('a device that draws as no unit of its model does is said to be perhaps another, and nothing is said of others', () => {
    const [phone] = own.filter((p) => p.class === 'phone');
    const { value, shapes } = unit(phone.id, phone.id, 40);
    const doubts = (a: ReturnType<typeof assess>): string[] => a.warnings.filter((w) => w.includes('Check the model'));
    expect(doubts(assess(value, shapes, { plan: false }))).toEqual([]);
    const [laptop] = own.filter((p) => p.class === 'laptop');
    const said = [40, 41, 42, 43, 44, 45].flatMap((seed) => {
      const other = unit(laptop.id, phone.id, seed);
      return doubts(assess(other.value, other.shapes, { plan: false }));
    });
    expect(said.length).toBeGreaterThan(0);
    expect(said[0]).toContain(phone.name);
  });
});
