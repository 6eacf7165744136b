import { historyOf } from '../diagnosis/index.ts';
import { actionOf, readingOf } from '../testing/cases.ts';
import { deadUnits, ownProfileUnit } from '../testing/scenes.ts';
import rules from './changes.json';
import { faultStates, isConfounded, reachOf, stateIndex, transitionOf, type History } from './index.ts';

const own: History = (() => {
  const scene = ownProfileUnit();
  return historyOf(scene.value, scene.shapes).history;
})();
const { profile } = own.space.twin.board;

/** Rails that no feed reaches once a converter is out, by going along the tree from the feeds. */
function unreachedWithout(id: string): Set<string> {
  const feeds = [profile.battery?.rail, profile.dcIn?.rail, ...profile.ports.map((p) => p.rail)];
  const reached = new Set(feeds.filter((rail) => rail !== undefined && rail !== null));
  for (let k = 0; k < profile.converters.length; k++)
    for (const c of profile.converters)
      if (c.id !== id && reached.has(c.from)) for (const rail of c.to) reached.add(rail);
  return new Set(profile.rails.map((r) => r.id).filter((rail) => !reached.has(rail)));
}

/** A converter is told by this only where nothing else feeds what it makes. */
const alone = profile.converters.filter((c) =>
  c.to.every((rail) => profile.converters.filter((x) => x.to.includes(rail)).length === 1),
);

test('there are converters to take off', () => expect(alone.length).toBeGreaterThan(3));

test.each(alone.map((c) => [c.name, c] as const))('%s taken off takes what lives only through it', (_, converter) => {
  const { direct, fed } = reachOf(own, actionOf('a1', 'remove', { circuit: converter.circuit, target: converter.id }));
  const dark = unreachedWithout(converter.id);
  own.space.hypotheses.forEach(({ fault }, h) => {
    const at = fault?.at ?? '';
    expect([at, direct[h]]).toEqual([at, fault && at === converter.id ? rules.located : 0]);
    const lives =
      dark.has(at) ||
      profile.converters.some((c) => c.id === at && dark.has(c.from)) ||
      [...profile.loads, ...profile.peripherals].some((x) => x.id === at && dark.has(x.rail ?? ''));
    expect([at, fed[h]]).toEqual([at, lives && at !== converter.id ? rules.reach.remove : 0]);
  });
});

test('a flex that is unplugged takes what sits on it', () => {
  const flex = profile.peripherals.find((p) => [...profile.parts, ...profile.loads].some((x) => x.peripheral === p.id));
  expect(flex).toBeDefined();
  const { fed } = reachOf(own, actionOf('a1', 'disconnect', { circuit: flex!.circuit, target: flex!.id }));
  const carried = new Set(
    [...profile.parts, ...profile.loads].filter((x) => x.peripheral === flex!.id).map((x) => x.id),
  );
  own.space.hypotheses.forEach(({ fault }, h) => {
    if (fault && carried.has(fault.at)) expect(fed[h]).toBe(rules.reach.disconnect);
  });
});

test('only what is taken away takes something with it', () => {
  const [{ id: target, circuit }] = alone;
  for (const kind of ['replace', 'clean', 'refit', 'reload-firmware'] as const)
    expect(Math.max(...reachOf(own, actionOf('a1', kind, { circuit, target })).fed)).toBe(0);
});

describe('without a profile, by the places that somebody named', () => {
  const scene = deadUnits[4];
  const readings = [
    readingOf({ mode: 'resistance', value: 90, where: 'camera coil', circuit: 'radio' }),
    readingOf({ mode: 'resistance', value: 80, where: 'antenna switch', circuit: 'radio' }),
  ];
  const { history } = historyOf({ ...scene.value, readings }, scene.shapes);
  const reachAt = (target: string, place: string | null): number => {
    const { direct } = reachOf(history, actionOf('a1', 'replace', { circuit: 'radio', target }));
    return direct[history.space.hypotheses.findIndex((h) => h.circuit === 'radio' && h.target === place)];
  };
  const base = rules.reach.replace;
  test('the named place is reached, another named one hardly, what nobody named as usual', () => {
    expect(reachAt('camera coil', 'camera coil')).toBeGreaterThanOrEqual(base);
    expect(reachAt('camera coil', 'antenna switch')).toBeCloseTo(rules.namedElsewhere * base, 12);
    expect(reachAt('', 'camera coil')).toBe(reachAt('something else', 'antenna switch'));
    expect(reachAt('', 'camera coil')).toBeLessThanOrEqual(base);
  });
  test('another circuit is not reached, whatever the place is called', () => {
    const { direct } = reachOf(history, actionOf('a1', 'replace', { circuit: 'radio', target: 'camera coil' }));
    history.space.hypotheses.forEach((h, k) => {
      if (h.circuit !== 'radio') expect(direct[k]).toBe(0);
    });
  });
});

test('what was said of a part makes the result weaker; the words of a note do not', () => {
  for (const confounder of ['donor', 'reworked', 'variant'])
    expect(isConfounded(actionOf('a1', 'replace', { confounders: [confounder] }))).toBe(true);
  expect(isConfounded(actionOf('a1', 'replace', { with: 'good', target: 'charger chip' }))).toBe(true);
  expect(isConfounded(actionOf('a1', 'replace', { with: 'good', unit: 'pack' }))).toBe(false);
  for (const note of ['used hot air', 'new part, not salvaged', 'donor looked fine', 'rework next week'])
    expect(isConfounded(actionOf('a1', 'replace', { note, target: 'used connector' }))).toBe(false);
});

test('worked example: a replaced part that is the fault for certain, and one that is a donor', () => {
  const target = alone[0];
  const transition = (confounders: string[]) =>
    transitionOf(own, actionOf('a1', 'replace', { circuit: target.circuit, target: target.id, confounders }));
  const h = own.space.hypotheses.findIndex(({ fault }) => fault?.at === target.id);
  const { hit, miss } = rules.kinds.replace;
  const mixed = (d: number, state: 'works' | 'same'): number => d * hit[state] + (1 - d) * miss[state];
  const row = transition([])(h, 0)[stateIndex.same];
  expect(row[stateIndex.works]).toBeCloseTo(mixed(rules.located, 'works'), 12);
  expect(row[stateIndex.same]).toBeCloseTo(mixed(rules.located, 'same'), 12);
  const weaker = transition(['donor'])(h, 0)[stateIndex.same];
  expect(weaker[stateIndex.works]).toBeCloseTo(mixed(rules.confounded * rules.located, 'works'), 12);
  // Where the fault is another one, it stays, whatever was replaced.
  const elsewhere = own.space.hypotheses.findIndex(({ circuit }) => circuit === 'display');
  expect(transition([])(elsewhere, 0)[stateIndex.same][stateIndex.same]).toBeCloseTo(miss.same, 12);
  expect(faultStates.indexOf('works')).toBe(stateIndex.works);
});

test('a chip that is worked on by its name is reached in all that bears it: what answers and what draws', () => {
  const { direct } = reachOf(own, actionOf('a1', 'replace', { target: 'Storage' }));
  const reached = new Set(own.space.hypotheses.flatMap(({ fault }, h) => (direct[h] > 0 ? [fault?.at] : [])));
  expect([...reached].sort()).toEqual(['storage', 'storage-chip', 'storage-load']);
});
