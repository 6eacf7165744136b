import { circuitIds, type CircuitId, type PatternId } from '../catalogue/index.ts';
import { baseRates } from '../hypotheses/index.ts';
import { contextFor, deviceTwinOf, figuresOf, predictAll } from '../prediction/index.ts';
import { topPattern } from '../shape/index.ts';
import { recorded } from '../testing/recorded.ts';
import { shippedProfiles, type Profile } from '../twin/index.ts';
import { patternTable } from './pattern-table.ts';

/**
 * Two sources say which circuits stand behind a pattern: the twin, with every fault of a profile started, and what
 * practitioners know. Where the twin's likeliest circuit is not among the first three of the table, it is listed here with the
 * reason, so that a change of either is noticed.
 */
const differs: Record<string, string> = {
  'generic-console dark-hold: mgmt':
    'without its controller the console stays at rest; practitioners see a lamp and call it standby',
  'generic-console hiccup: rail.main': 'a short on main makes the input retry, which practitioners see as its limit',
  'generic-console idle-drain: rail.main':
    'a slight short on main draws all the time and lets it start; practitioners look at what leaks by itself',
  'generic-console standby-hold: pmic': 'the clock is waited for in standby; practitioners look at the rails first',
  'generic-console start-then-off: periph.board':
    'a board that is plugged in and overloads its rail switches it off; practitioners name pack and core',
  'generic-ereader idle-drain: rail.main': 'as for the console',
  'generic-ereader restart-loop: rail.run':
    'an overloaded run rail retries about once a second, on the border to hiccup',
  'generic-handheld idle-drain: rail.main': 'as for the console',
  'generic-handheld restart-loop: rail.run': 'as for the ereader',
  'generic-laptop standby-hold: pmic': 'as for the console',
  'generic-laptop-dc dark-hold: battery.pack': 'an open battery is no fault on an adapter; its share is left over',
  'generic-phone idle-drain: rail.main': 'as for the console',
  'generic-tablet idle-drain: rail.main': 'as for the console',
  'generic-tablet restart-loop: rail.run': 'as for the ereader',
};

const eye = { noiseA: 0.0008, resolutionA: 0.001, intervalS: 0.05 };
const minShare = 0.02;

/** Circuits behind each pattern of a run, by the twin, with the share of all faults that show it. */
function byTwin(
  profile: Profile,
): Map<PatternId, { sums: number[]; feed: 'battery' | 'usb-c' | 'dc-in'; share: number }> {
  const feed =
    profile.battery && profile.ports.length + (profile.dcIn ? 1 : 0) > 0 && profile.class !== 'laptop'
      ? 'battery'
      : profile.dcIn
        ? 'dc-in'
        : 'usb-c';
  const { value, run, setup } = recorded(profile, 'none', { feed });
  const twin = deviceTwinOf(value.device, value.runs);
  const base = baseRates(profile.class);
  const seen = predictAll(twin, setup, eye, contextFor(value, run));
  const out = new Map<PatternId, { sums: number[]; feed: typeof feed; share: number }>();
  twin.hypotheses.forEach((h, k) => {
    const shown = seen[k];
    if (shown === null || h.circuit === 'none') return;
    const pattern = topPattern(shown.patterns);
    const entry = out.get(pattern) ?? { sums: circuitIds.map(() => 0), feed, share: 0 };
    entry.sums[h.index] += base[h.index] * h.share;
    entry.share += base[h.index] * h.share;
    out.set(pattern, entry);
  });
  return out;
}

const healthy: PatternId[] = ['normal-start', 'charge-normal', 'quiet', 'voltage-steady', 'unrecognised'];

test('the twin accuses by pattern whom practitioners accuse, but where it is listed', () => {
  const found: string[] = [];
  for (const profile of shippedProfiles.filter((p) => p.generic)) {
    const base = baseRates();
    for (const [pattern, { sums, feed, share }] of byTwin(profile)) {
      if (healthy.includes(pattern) || share < minShare) continue;
      const { family } = figuresOf({
        class: profile.class as 'phone',
        model: '',
        serial: '',
        profile: null,
        expect: {},
      });
      const table = patternTable({ feed, deviceClass: profile.class, family, phase: 'after', asks: 'start' })[pattern];
      const order = (weights: readonly number[]): CircuitId[] =>
        circuitIds
          .map((id, k) => ({ id, w: weights[k] }))
          .filter((x) => x.id !== 'unmodelled' && x.id !== 'none')
          .sort((a, b) => b.w - a.w)
          .map((x) => x.id);
      const [leader] = order(sums);
      const suspects = order(table.map((p, k) => p * base[k])).slice(0, 4);
      if (!suspects.includes(leader)) found.push(`${profile.id} ${pattern}: ${leader}`);
    }
  }
  expect(found.sort()).toEqual(Object.keys(differs).sort());
});
