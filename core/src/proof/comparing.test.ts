import { compareRuns, hypothesesOf, seenRun, shippedProfile, shippedProfiles, type SeenRun } from '../index.ts';
import { recorded } from '../testing/recorded.ts';

const phone = shippedProfile('tallgate-moorcall-2') ?? shippedProfiles[0];
const of = (spec: string, change: Parameters<typeof recorded>[2] = {}, seed = 1): SeenRun => {
  const { value, run, shape } = recorded(phone, spec, { seconds: 30, ...change }, seed);
  return seenRun(value, { ...run, id: `${spec}-${seed}` }, shape);
};
const stall = of('mute:storage-chip');
const healthy = of('none');
const find = (c: ReturnType<typeof compareRuns>, what: string) => c.differences.find((d) => d.what === what);

describe('two runs held against each other', () => {
  test('a run against itself, and against a repeat, reads the same', () => {
    for (const one of [stall, healthy]) {
      const same = compareRuns(one, one);
      expect(same.changed).toBe(false);
      expect(same.differences.every((d) => d.times === 0)).toBe(true);
      expect(same.says).toMatch(/read the same: no difference/);
    }
    expect(compareRuns(stall, of('mute:storage-chip', {}, 7)).changed).toBe(false);
  });

  test('before and after a repair: what changed most comes first, and it is normal now', () => {
    const c = compareRuns(stall, healthy);
    expect(c.changed).toBe(true);
    expect(c.normal.is).toBe(true);
    expect(c.normal.says).toMatch(/^It is normal: “Boots normally”, \d+ %\.$/);
    expect(c.says).toMatch(/became “Boots normally”: /);
    expect(c.says).toMatch(/changed from .* to .*, .* times the bench’s repeatability/);
    const hold = find(c, 'hold')!;
    expect(hold.to!).toBeGreaterThan(hold.from!);
    expect(find(c, 'before')!.changed).toBe(false);
    expect(compareRuns(healthy, stall).normal).toMatchObject({ is: false });
  });

  test('the same both ways round, but for the direction', () => {
    const [there, back] = [compareRuns(stall, healthy), compareRuns(healthy, stall)];
    for (const d of there.differences) {
      const other = find(back, d.what)!;
      expect([other.from, other.to]).toEqual([d.to, d.from]);
      expect(other.times).toBeCloseTo(d.times, 9);
      expect(other.changed).toBe(d.changed);
    }
  });

  test('a level within what the bench repeats is no change; one beyond it is', () => {
    const f = healthy.shape.features;
    const scaled = (by: number): SeenRun => ({
      ...healthy,
      shape: { ...healthy.shape, features: { ...f, after: { ...f.after!, tailA: f.after!.tailA! * by } } },
    });
    expect(find(compareRuns(healthy, scaled(1.1)), 'hold')?.changed).toBe(false);
    expect(find(compareRuns(healthy, scaled(1.2)), 'hold')?.changed).toBe(true);
    expect(find(compareRuns(healthy, scaled(3)), 'hold')?.says).toContain('(3 times as much)');
    expect(find(compareRuns(healthy, scaled(0.25)), 'hold')?.says).toContain('(to 25 %)');
  });

  test('draws at other voltages are compared in watts, and what differs in the setup is said', () => {
    const usb = of('none', { feed: 'usb-c', battery: false });
    const c = compareRuns(healthy, usb);
    expect(c.setup.join('; ')).toContain('feed: battery, then usb-c');
    expect(find(c, 'hold')!.says).toMatch(/ m?W/);
    const higher = of('none', { setV: 4.1 });
    expect(compareRuns(healthy, higher).setup).toEqual(['set voltage: 3.85 V, then 4.10 V']);
    const flipped = of('none', { feed: 'usb-c', battery: false, flipped: true });
    expect(compareRuns(usb, flipped).setup).toEqual(['plug: not flipped, then flipped']);
  });

  test('what only one of them has is said', () => {
    const loops = hypothesesOf(phone).flatMap((h) => (h.fault?.kind === 'cycling' ? [h.fault] : []));
    const compared = loops.map((f) => compareRuns(healthy, of(`cycling:${f.kind === 'cycling' ? f.at : ''}`)));
    const lone = compared.flatMap((c) => c.differences).filter((d) => d.from === null || d.to === null);
    expect(lone.length).toBeGreaterThan(0);
    for (const d of lone) {
      expect(d.changed).toBe(true);
      expect(d.says).toMatch(d.from === null ? /is new at / : /is gone$/);
    }
  });

  test('a run that was not pressed is not held to what the press divides', () => {
    const c = compareRuns(of('none', { promptS: null }), healthy);
    expect(c.differences.map((d) => d.what)).not.toContain('before');
    expect(c.setup).toContain('power was pressed in only one of them');
  });
});
