import { believe, depthReached, type Believed } from '../diagnosis/index.ts';
import { recorded } from '../testing/recorded.ts';
import { genericProfile, shippedProfile, type Profile } from '../twin/index.ts';
import { byElement, elementsOf } from './elements.ts';
import { afterOutcome, leadingElement, minutesOf, nextTests, type BenchNow } from './next-probe.ts';
import { boardTests } from './tests.ts';

const phone = shippedProfile('tallgate-moorcall-2') ?? genericProfile('phone', false);
const laptop = shippedProfile('oxbarrow-hearthfold-13') as Profile;
const fresh: BenchNow = { reached: 1, last: null, found: new Map() };

function believed(profile: Profile, fault: string): Believed {
  const { value, run, shape } = recorded(profile, fault);
  return believe({ ...value, runs: [run] }, new Map([[run.id, shape]]), {
    profiles: new Map([[profile.id, profile]]),
  });
}

const sum = (list: readonly number[]): number => list.reduce((a, b) => a + b, 0);

describe('tests at the opened device', () => {
  const { twin, posterior, outcomes } = believed(phone, 'mute:storage-chip');
  const from = { twin, elements: elementsOf(twin), posterior, done: new Set<string>(), checks: outcomes };
  const tests = boardTests(from);

  test('every kind is there, and what every hypothesis expects sums to one', () => {
    expect([...new Set(tests.map((t) => t.kind))].sort()).toEqual(
      expect.arrayContaining(['check', 'replace', 'resistance', 'unplug', 'voltage']),
    );
    for (const test of tests)
      for (let h = 0; h < twin.hypotheses.length; h += 17)
        expect([test.id, sum(Object.values(test.outcomes).map((list) => list[h]))]).toEqual([
          test.id,
          expect.closeTo(1, 6) as number,
        ]);
  });

  test('what was made is not proposed again, but work that can have failed may be done once more', () => {
    const voltage = tests.find((t) => t.kind === 'voltage')?.id ?? '';
    const replaced = tests.find((t) => t.kind === 'replace')?.id ?? '';
    const ids = boardTests({ ...from, done: new Set([voltage, replaced]) }).map((t) => t.id);
    expect(ids).not.toContain(voltage);
    expect(ids).not.toContain(replaced);
    expect(ids).toContain(`${replaced}:again`);
    expect(boardTests({ ...from, done: new Set([replaced, `${replaced}:again`]) }).map((t) => t.id)).not.toContain(
      `${replaced}:again`,
    );
  });

  test('outputs of one converter are asked together, with a place for what nobody expects', () => {
    const together = boardTests({
      ...from,
      twin: believed(laptop, 'none').twin,
      elements: elementsOf(believed(laptop, 'none').twin),
      posterior: believed(laptop, 'none').posterior,
      checks: undefined,
    }).filter((t) => t.kind === 'resistance' && t.at.length > 1);
    for (const test of together) expect(Object.keys(test.outcomes)).toContain('otherwise');
  });
});

describe('the next one', () => {
  test('a suspected short is measured to ground or injected, not replaced; and it names the rail in its predictions', () => {
    const { twin, posterior } = believed(phone, 'short:io=0.4');
    const [first] = nextTests(twin, posterior, { ...fresh, reached: 3 });
    expect(['resistance', 'voltage']).toContain(first.kind);
    expect(first.predicts[0].p).toBeGreaterThan(0);
    expect(first.worth).toBeCloseTo(first.bits / first.minutesInAll, 9);
  });

  test('the list is sorted by bits a minute, and what is asked for by kind is only that', () => {
    const { twin, posterior } = believed(laptop, 'dead:charger');
    const list = nextTests(twin, posterior, fresh, { most: 30 });
    for (let k = 1; k < list.length; k++) expect(list[k].worth).toBeLessThanOrEqual(list[k - 1].worth);
    expect(nextTests(twin, posterior, fresh, { kinds: ['voltage'] }).every((t) => t.kind === 'voltage')).toBe(true);
  });

  test('the way into the device and the change of what the meter does cost minutes', () => {
    const { twin, posterior } = believed(phone, 'short:io=0.4');
    const [probe] = nextTests(twin, posterior, fresh, { kinds: ['resistance'] });
    const open = minutesOf(probe, { ...fresh, reached: 3 });
    expect(minutesOf(probe, fresh)).toBeGreaterThan(open);
    expect(minutesOf(probe, { ...fresh, reached: 3, last: 'voltage' })).toBeGreaterThan(open);
    expect(minutesOf(probe, { ...fresh, reached: 3, last: 'resistance' })).toBe(open);
  });
});

describe('what a test has shown', () => {
  const { twin, posterior } = believed(phone, 'short:io=0.4');
  const elements = elementsOf(twin);
  const at = elements.list.findIndex((e) => e.id === 'io');

  test('a rail that is low to ground accuses what is shorted on it, one that is sound clears it', () => {
    const test = boardTests({ twin, elements, posterior, done: new Set() }).find((t) => t.id === 'resistance:io');
    const p = (outcome: string): number =>
      byElement(elements, afterOutcome(posterior, test ?? { outcomes: {} }, outcome))[at];
    const before = byElement(elements, posterior)[at];
    expect(p('low')).toBeGreaterThan(before);
    expect(p('sound')).toBeLessThan(before);
    expect(p('never heard of')).toBeCloseTo(before);
    expect(sum(afterOutcome(posterior, test ?? { outcomes: {} }, 'low'))).toBeCloseTo(1);
  });

  test('heat at the rail itself tells it from what hangs on it', () => {
    const inject = boardTests({ twin, elements, posterior, done: new Set() }).find((t) => t.id === 'inject:io');
    const low = boardTests({ twin, elements, posterior, done: new Set() }).find((t) => t.id === 'resistance:io');
    expect(inject).toBeDefined();
    const after = afterOutcome(
      afterOutcome(posterior, low ?? { outcomes: {} }, 'low'),
      inject ?? { outcomes: {} },
      'io',
    );
    const { element, p } = leadingElement(twin, after, new Map([['inject:io', 'io']]));
    expect(element.id).toBe('io');
    expect(p).toBeGreaterThan(0.8);
  });
});

describe('isolated', () => {
  const { twin, posterior } = believed(phone, 'short:io=0.4');
  const elements = elementsOf(twin);
  const at = elements.list.findIndex((e) => e.id === 'io');
  const sure = posterior.map((p, h) => (elements.of[h] === at ? 1 : 1e-4) * Math.max(p, 1e-6));
  const total = sum(sure);
  const believedSure = sure.map((x) => x / total);
  const found = (list: [string, string][]) => leadingElement(twin, believedSure, new Map(list));

  test('is nothing that was only looked at from outside, however sure it is', () => {
    expect(found([['check:screen', 'dark']])).toMatchObject({ isSure: true, isTouched: false, isDecided: false });
    const [first] = nextTests(twin, believedSure, { reached: 3, last: null, found: new Map() });
    expect(first.at).toContain('io');
  });

  test('is what a finding at it speaks for, not what one speaks against', () => {
    expect(found([['resistance:io', 'low']]).isDecided).toBe(true);
    expect(found([['resistance:io', 'sound']]).isDecided).toBe(false);
    expect(found([['resistance:storage', 'low']]).isDecided).toBe(false);
    // What a change did stands in the runs: it counts as touched.
    expect(found([['replace:io', '']]).isDecided).toBe(true);
  });
});

test('no two elements of a profile are called the same', () => {
  for (const profile of [phone, laptop]) {
    const { list } = elementsOf(believed(profile, 'none').twin);
    expect(new Set(list.map((e) => e.name)).size).toBe(list.length);
  }
});

test('a case that was recorded with the cover off counts as opened', () => {
  const { value, run } = recorded(phone, 'none');
  expect(depthReached({ ...value, runs: [run] })).toBe(1);
});
