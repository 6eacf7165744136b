import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import { deviceTwinOf, hasSymptom, Trial } from '../prediction/index.ts';
import {
  compileProfile,
  genericProfile,
  makeWorkspace,
  shippedProfile,
  shippedProfiles,
  startUp,
  targetOf,
  usualSetup,
  type Profile,
} from '../twin/index.ts';
import { classHypotheses, hypothesesOf } from './index.ts';

const profileOf = (id: string): Profile => shippedProfile(id) ?? genericProfile('phone', false);
const phone = profileOf('tallgate-moorcall-2');

describe('hypotheses', () => {
  test.each(shippedProfiles.map((p) => [p.id, p] as const))(
    'of %s: every circuit is there, shares sum to one, every fault can start',
    (_, profile) => {
      const list = hypothesesOf(profile);
      const sums = new Map<CircuitId, number>();
      for (const h of list) sums.set(h.circuit, (sums.get(h.circuit) ?? 0) + h.share);
      expect([...sums.keys()].sort()).toEqual([...circuitIds].sort());
      for (const sum of sums.values()) expect(sum).toBeCloseTo(1, 9);
      const board = compileProfile(profile);
      const workspace = makeWorkspace(board);
      const feed = profile.battery ? 'battery' : 'dc-in';
      for (const h of list) {
        if (h.fault === null) continue;
        const at = h.fault.kind === 'none' ? 'none' : targetOf(profile, h.fault.at)?.circuit;
        expect(at).toBe(h.circuit);
        expect(startUp(board, [h.fault], { ...usualSetup, feed }, workspace).cutOff).toBe(false);
      }
    },
  );

  test('without a profile every circuit stands for itself, and what was named in words beside it', () => {
    const named = [{ key: 'p1', circuit: 'rail.run' as const, name: 'coil by the hinge' }];
    for (const places of [[], named]) {
      const list = classHypotheses(places);
      expect(new Set(list.map((h) => h.circuit))).toEqual(new Set(circuitIds));
      for (const id of circuitIds)
        expect(list.filter((h) => h.circuit === id).reduce((sum, h) => sum + h.share, 0)).toBeCloseTo(1, 9);
    }
    expect(classHypotheses(named).filter((h) => h.net === h.index)).toHaveLength(circuitIds.length + 1);
  });

  test('severities are spread, so that a level between two of them is near one of them', () => {
    const ohms = hypothesesOf(phone).flatMap((h) =>
      h.fault?.kind === 'short' && h.fault.at === 'main' ? [h.fault.value ?? 0] : [],
    );
    expect(ohms.length).toBeGreaterThanOrEqual(4);
    const sorted = [...ohms].sort((a, b) => a - b);
    sorted.slice(1).forEach((ohm, k) => expect(ohm / sorted[k]).toBeLessThan(6));
  });

  test('a fault that nobody would notice keeps only a small share', () => {
    const twin = deviceTwinOf({ class: 'phone', model: '', serial: '', profile: phone.id, expect: {} }, []);
    const before = hypothesesOf(phone);
    twin.hypotheses.forEach((h, k) => {
      if (h.fault === null || h.fault.kind === 'none') return;
      const noticed = hasSymptom(new Trial(twin.board, [h.fault], twin.workspace));
      const alone = twin.hypotheses.filter((x) => x.circuit === h.circuit).length === 1;
      if (!noticed && !alone) expect(h.share).toBeLessThanOrEqual(before[k].share + 1e-9);
    });
  });
});
