import type { ComplaintKind } from '../catalogue/index.ts';
import type { Case } from '../case/index.ts';
import { historyOf } from '../diagnosis/index.ts';
import { actionOf, typedCase } from '../testing/cases.ts';
import { openProofs } from './open.ts';
import { protocols } from './index.ts';

const dead = 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold';
const healthy = 'battery 4V limit 3A: 0 | prompt 0.1 0.5 1.2 0.6 1.1 0.4 0.9 hold';

function proofs(complaintKind: ComplaintKind, after: string[], over: Partial<Case> = {}): string[] {
  const { value, shapes } = typedCase('phone', [dead, ...after], {
    complaintKind,
    actions: [actionOf('a1', 'replace', { circuit: 'rail.run', runBefore: 'r1' })],
    ...over,
  });
  value.runs.slice(1).forEach((r) => (r.after = value.actions.at(-1)?.id ?? null));
  return openProofs(historyOf(value, shapes).history).map((p) => p.id);
}

test('every proof has a id of its own, minutes, and says what to do and what it shows', () => {
  expect(new Set(protocols.map((p) => p.id)).size).toBe(protocols.length);
  for (const { minutes, says, proves } of protocols) {
    expect(minutes).toBeGreaterThan(0);
    expect(says.length).toBeGreaterThan(10);
    expect(proves.length).toBeGreaterThan(10);
  }
});

test('it is started on the limited supply before anything else, until a start was seen', () => {
  expect(proofs('no-start', [])[0]).toBe('start-on-limited-supply');
  expect(proofs('no-start', [healthy])).not.toContain('start-on-limited-supply');
});

test('the setup of the first run is repeated, once', () => {
  expect(proofs('no-charge', [healthy.replace('4V limit 3A', '4V limit 3A board-alone')])).toContain(
    'same-setup-as-first',
  );
  expect(proofs('no-start', [healthy])).not.toContain('same-setup-as-first');
});

test.each<[ComplaintKind, string, boolean]>([
  ['drain', 'drain-asleep-overnight', true],
  ['no-start', 'drain-asleep-overnight', false],
  ['no-start', 'three-cold-starts', true],
  ['intermittent', 'soak', true],
  ['no-charge', 'charge-over-time', true],
])('a complaint of %s: %s %s', (complaint, protocol, isAsked) => {
  expect(proofs(complaint, [healthy]).includes(protocol)).toBe(isAsked);
});

test('nobody proves a device that is dead', () => {
  expect(proofs('no-start', [dead])).toEqual([]);
});

test('a bare board and a device without its pack have short lists of their own', () => {
  const bare = proofs('no-start', [healthy.replace('limit 3A', 'limit 3A board-alone')]);
  expect(bare).not.toEqual(expect.arrayContaining(['picture-touch-sound']));
  expect(bare).not.toEqual(expect.arrayContaining(['three-cold-starts']));
  const out = actionOf('a0', 'disconnect', { unit: 'pack', target: 'battery', circuit: 'battery.pack' });
  const fitted = actionOf('a1', 'replace', { circuit: 'rail.run', runBefore: 'r1' });
  expect(proofs('no-charge', [healthy], { actions: [out, fitted] })).not.toContain('charge-over-time');
  expect(proofs('no-charge', [healthy])).toContain('charge-over-time');
});

test('a drain closes with its measurement first', () => {
  expect(proofs('drain', [healthy])[0]).toBe('drain-asleep-overnight');
});

test('what was left off is said, what liquid may still do is looked at, what went by itself is soaked', () => {
  const off = [actionOf('a1', 'remove', { circuit: 'rail.run', runBefore: 'r1' })];
  expect(proofs('no-start', [healthy], { actions: off })).toContain('left-off');
  const put = [...off, actionOf('a2', 'replace', { circuit: 'rail.run' })];
  expect(proofs('no-start', [healthy], { actions: put })).not.toContain('left-off');
  const { value } = typedCase('phone', [dead]);
  expect(proofs('no-start', [healthy], { intake: { ...value.intake, liquid: true } })).toContain('liquid-recheck');
  const burnt = [actionOf('a1', 'burn', { circuit: 'rail.run' })];
  expect(proofs('no-start', [healthy], { actions: burnt })).toContain('soak-after-unexplained');
});
