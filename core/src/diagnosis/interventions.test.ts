import { plainAction, type Action, type Case } from '../case/index.ts';
import type { Shape } from '../shape/index.ts';
import { recorded } from '../testing/recorded.ts';
import { genericProfile, shippedProfile, type TwinSetup } from '../twin/index.ts';
import { assess } from './index.ts';
import { sayEvidence } from '../reasons/index.ts';

const phone = shippedProfile('tallgate-moorcall-2') ?? genericProfile('phone', false);

/** A run before and a run after something was done, and what the engine makes of them. */
function worked(before: string, after: string, action: Partial<Action>, change: Partial<TwinSetup> = {}) {
  const first = recorded(phone, before);
  const second = recorded(phone, after, change, 2);
  const shapes = new Map<string, Shape>([
    ['r1', first.shape],
    ['r2', second.shape],
  ]);
  const runs = [first.run, { ...second.run, id: 'r2', after: 'a1' }];
  const done: Action = {
    ...plainAction,
    id: 'a1',
    kind: 'replace',
    runBefore: 'r1',
    ...action,
  };
  const value: Case = { ...first.value, runs, actions: [done] };
  const without = assess({ ...first.value, runs: [first.run] }, shapes);
  const p = (a: ReturnType<typeof assess>, id: string): number => a.circuits.find((c) => c.id === id)?.p ?? 0;
  const a = assess(value, shapes);
  return {
    a,
    before: (id: string) => p(without, id),
    after: (id: string) => p(a, id),
    target: (id: string) => a.circuits.find((c) => c.id === id)?.targets ?? [],
    said: a.circuits
      .flatMap((c) => c.evidence.map(sayEvidence))
      .find((s) => s.includes('replaced') || s.includes('removed')),
  };
}

describe('an intervention, by element', () => {
  test('a replaced part that cures it is the cause, though nobody said of which circuit it is', () => {
    const w = worked('mute:storage-chip', 'none', { target: 'storage-chip' });
    expect(w.after('core.storage')).toBeGreaterThan(0.7);
    expect(w.after('core.storage')).toBeGreaterThan(w.before('core.storage'));
    expect(w.said).toMatch(/storage-chip replaced: it recovers/);
  });

  test('a replaced part after which nothing changes is cleared, and others of its circuit are not', () => {
    const w = worked('short:io=0.4', 'short:io=0.4', { target: 'memory' });
    const share = (name: string) => w.target('rail.run').find((t) => t.id === name)?.p ?? 0;
    expect(share('io')).toBeGreaterThan(share('memory'));
  });

  test('a lifted part with the draw gone accuses what hangs on it as well', () => {
    const feeder = phone.converters.find((c) => c.to.includes('radio')) ?? phone.converters[0];
    const w = worked(
      'short:radio=0.3',
      'short:radio=0.3',
      { kind: 'remove', target: feeder.id },
      { unplugged: [feeder.id] },
    );
    const near = w.after('rail.run') + w.after('radio') + w.after(feeder.circuit);
    expect(near).toBeGreaterThan(0.5);
  });

  test('a lifted part with nothing moved clears what hangs on it alone', () => {
    const feeder = phone.converters.find((c) => c.to.includes('radio')) ?? phone.converters[0];
    const w = worked(
      'mute:storage-chip',
      'mute:storage-chip',
      { kind: 'remove', target: feeder.id },
      { unplugged: [feeder.id] },
    );
    expect(w.after('radio')).toBeLessThanOrEqual(w.before('radio') + 0.02);
  });

  test('a donor part counts for less', () => {
    const sure = worked('mute:storage-chip', 'none', { target: 'storage-chip' });
    const donor = worked('mute:storage-chip', 'none', { target: 'storage-chip', confounders: ['donor'] });
    expect(donor.after('core.storage')).toBeLessThan(sure.after('core.storage'));
    expect(donor.said).toMatch(/weaker test/);
  });

  test('what the profile has no element of is judged by its circuit', () => {
    const w = worked('mute:storage-chip', 'none', { target: 'that part', circuit: 'core.storage' });
    expect(w.after('core.storage')).toBeGreaterThan(w.before('core.storage'));
  });
});

describe('a device that runs or sleeps when the run begins', () => {
  const sick: Partial<TwinSetup> = { feed: 'usb-c', battery: true, state: 'running', promptS: null, onS: 2 };

  test('the twin stands in the setup: a dead charger is found while the device runs from its battery', () => {
    const charger = phone.converters.find((c) => c.kind === 'charger')?.id ?? '';
    const { value, shape } = recorded(phone, `dead:${charger}`, sick);
    const a = assess({ ...value, complaintKind: 'no-charge' }, new Map([['r1', shape]]));
    expect(a.circuits.slice(0, 3).map((c) => c.id)).toContain('charge.charger');
  });

  test('a healthy one that charges is called healthy', () => {
    const { value, shape } = recorded(phone, 'none', { ...sick, batteryV: 3.6 });
    const a = assess({ ...value, complaintKind: 'no-charge' }, new Map([['r1', shape]]));
    expect(a.circuits[0].id).toBe('none');
  });
});

test('a run of the state before a change that is entered after it is held against nothing that followed', () => {
  const [first, second] = [recorded(phone, 'mute:storage-chip'), recorded(phone, 'mute:storage-chip', {}, 2)];
  const shapes = new Map<string, Shape>([
    ['r1', first.shape],
    ['r2', second.shape],
    ['r3', second.shape],
  ]);
  const runs = [first.run, { ...second.run, id: 'r2', after: 'a1' }, { ...second.run, id: 'r3', after: null }];
  const actions: Action[] = [{ ...plainAction, id: 'a1', kind: 'replace', target: 'memory-chip', runBefore: 'r1' }];
  const { circuits } = assess({ ...first.value, runs, actions }, shapes);
  expect(circuits.reduce((sum, c) => sum + c.p, 0)).toBeGreaterThan(0.99);
});
