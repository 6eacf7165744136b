import { kindsAt, parseFault, shippedProfiles } from '@umbral/core';
import { railDetails } from './rail-details';
import { layOutTree } from './tree';
import { faultChoices, feedsOf, readQuestion, startVirtually } from './virtual-start';

process.env.UMBRAL_ENGINE = 'here';

const laptop = shippedProfiles.find((p) => p.id === 'oxbarrow-hearthfold-13') ?? shippedProfiles[0];

describe.each(shippedProfiles.map((p) => [p.id, p] as const))('%s', (_, profile) => {
  test('every rail and feed has a place of its own in the tree, inputs left of outputs', () => {
    const tree = layOutTree(profile);
    expect(
      tree.nodes
        .filter((n) => n.kind === 'rail')
        .map((n) => n.id)
        .sort(),
    ).toEqual(profile.rails.map((r) => r.id).sort());
    const at = new Map(tree.nodes.map((n) => [n.id, n]));
    for (const c of profile.converters)
      for (const to of c.to) expect(at.get(to)?.x).toBeGreaterThan(at.get(c.from)?.x ?? Infinity);
    for (const a of tree.nodes)
      for (const b of tree.nodes)
        if (a !== b)
          expect(a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y).toBe(
            true,
          );
    expect(Math.max(...tree.nodes.map((n) => n.x + n.width))).toBeLessThanOrEqual(tree.width);
  });

  test('every converter and load is told at the rails that it touches, with faults that can be started', () => {
    const details = railDetails(profile);
    const at = (rail: string): string[] => details[rail].groups.flatMap((g) => g.lines.map((l) => l.id));
    for (const c of profile.converters) for (const rail of [c.from, ...c.to]) expect(at(rail)).toContain(c.id);
    for (const l of profile.loads) expect(at(l.rail)).toContain(l.id);
    for (const rail of Object.values(details))
      for (const group of rail.groups)
        for (const { faults } of group.lines)
          for (const f of faults) expect(() => parseFault(profile, f.value)).not.toThrow();
  });

  test('every fault in the list is one that the profile can have', () => {
    const all = faultChoices(profile).flatMap((g) => g.choices);
    expect(new Set(all.map((c) => c.value)).size).toBe(all.length);
    for (const choice of all) {
      const fault = parseFault(profile, choice.value);
      expect(kindsAt(profile, fault.at)).toContain(fault.kind);
    }
  });

  test('a healthy start runs on every feed and every rail has its lane', async () => {
    for (const feed of feedsOf(profile)) {
      const start = await startVirtually({ profile, version: 0 }, readQuestion(profile, { feed }));
      expect(start.lanes.map((l) => l.id)).toEqual(profile.rails.map((r) => r.id));
      for (const lane of start.lanes)
        for (const span of lane.spans) {
          expect(span.from).toBeGreaterThanOrEqual(0);
          expect(span.to).toBeLessThanOrEqual(1 + 1e-9);
          expect(span.to).toBeGreaterThan(span.from);
        }
      expect(start.heat.every((h) => Number.isFinite(h.watts) && h.watts > 0)).toBe(true);
      expect(start.facts.join()).not.toMatch(/NaN|Infinity|undefined/);
    }
  });
});

test('an address that says nonsense asks for a healthy start on a feed that exists', () => {
  const question = readQuestion(laptop, {
    feed: 'steam',
    port: '-3',
    instrument: 'ear',
    seed: 'x',
    battery: ['no', 'yes'],
  });
  expect(question).toMatchObject({
    fault: 'none',
    feed: 'battery',
    port: 1,
    instrument: 'bench-logger',
    seed: 1,
    battery: false,
  });
});

test('a short is where the power goes', async () => {
  const start = await startVirtually(
    { profile: laptop, version: 0 },
    readQuestion(laptop, { fault: 'short:s0-3v=1', feed: 'battery' }),
  );
  expect(start.heat[0].name).toBe('short on run 3.3 V');
  // 3.3 V over 1 ohm.
  expect(start.heat[0].watts).toBeCloseTo(10.9, 0);
});

test('what a port that is open one way shows depends on the way the plug is in', async () => {
  const ask = (flipped: string) =>
    startVirtually(
      { profile: laptop, version: 0 },
      readQuestion(laptop, { fault: 'open:port1/flipped', feed: 'usb-c', flipped }),
    );
  expect((await ask('yes')).facts).toContain('the contract stays at 5 V');
  expect((await ask('no')).facts.some((f) => f.startsWith('contract 20'))).toBe(true);
});
