import type { CircuitId } from '../catalogue/index.ts';
import { bareCase, plainAction, type Action } from '../case/index.ts';
import { assess, describe as describeTrace } from '../diagnosis/index.ts';
import { parseReading } from '../bench/index.ts';
import { elementsNamed, parseFault, shippedProfile, type Fault, type Profile } from '../twin/index.ts';
import { feedsOf, mendsFault, PracticeBench, refusedPowerOn, stateAfter, type PowerOn } from './index.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const laptop = shippedProfile('oxbarrow-hearthfold-13') as Profile;
const onSupply: PowerOn = {
  feed: 'battery',
  instrument: 'bench-logger',
  setV: null,
  limitA: null,
  port: 1,
  flipped: false,
  battery: false,
  presses: true,
  unplugged: [],
};
const benchWith = (fault: string, actions: Action[] = []): PracticeBench => {
  const faults: Fault[] = fault === 'none' ? [] : [parseFault(phone, fault)];
  return new PracticeBench(phone, stateAfter(phone, faults, actions), 7);
};
const change = (id: string, kind: Action['kind'], target: string, undoes: string | null = null): Action => ({
  ...plainAction,
  id,
  kind,
  circuit: null,
  target,
  undoes,
});
/** The first pattern and the first circuit of a run of it. */
const call = (bench: PracticeBench, on: PowerOn = onSupply) => {
  const { run, trace } = bench.record(on, 0);
  const device = { class: 'phone' as const, model: phone.name, profile: phone.id };
  const value = { ...bareCase(device, [], 'x'), runs: [run] };
  const shape = describeTrace(value, run, trace, null);
  const { runs, circuits } = assess(value, new Map([[run.id, shape]]));
  return { pattern: runs[0].pattern[0].id, circuit: circuits[0].id };
};

describe('a run of a practice unit', () => {
  test('is what the engine knows of such a fault, and the same when it is asked again', () => {
    expect(call(benchWith('short:main=0.3'))).toEqual({ pattern: 'limit-at-once', circuit: 'rail.main' });
    expect(call(benchWith('none')).pattern).toBe('normal-start');
    const bench = benchWith('mute:storage-chip');
    expect(bench.record(onSupply, 2)).toEqual(bench.record(onSupply, 2));
    expect(bench.record(onSupply, 2).trace.i).not.toEqual(bench.record(onSupply, 3).trace.i);
  });

  test.each([
    [{ feed: 'dc-in' }, /Feed: this device has no DC input/],
    [{ instrument: 'usb-meter' }, /cannot measure this feed; expected display or bench-logger or probe/],
    [{ feed: 'usb-c', instrument: 'usb-meter', port: 3 }, /Port: this device has 1/],
    [{ setV: 400 }, /Volts: expected more than 0 and at most 32/],
    [{ setV: -1 }, /Volts/],
    [{ limitA: 0 }, /Limit/],
    [{ unplugged: ['kettle'] }, /"kettle" cannot be unplugged/],
  ])('%j is refused', (bad, message) => {
    expect(refusedPowerOn(phone, { ...onSupply, ...bad } as PowerOn)).toMatch(message);
    expect(() => benchWith('none').record({ ...onSupply, ...bad } as PowerOn, 0)).toThrow(RangeError);
  });

  test('feeds are those of the device, what needs no opening first', () => {
    expect(feedsOf(phone)).toEqual(['usb-c', 'battery']);
    expect(feedsOf(laptop)[0]).toBe('usb-c');
  });
});

test('probes, checks and a supply on a rail answer by the fault', () => {
  const bench = benchWith('short:io=0.4');
  const shows = bench.probe('io', 'resistance', 'after');
  expect(parseReading(shows, { mode: 'resistance', leadsOhm: null, nominalV: 1.8 })).toMatchObject({ ok: true });
  expect(bench.check('screen')).toBe('dark');
  expect(bench.feed('io', 1.8, 1)).toMatchObject({ mode: 'cc', heat: { hot: 'io', outcome: 'one-spot' } });
  expect(() => bench.probe('nowhere', 'voltage', 'after')).toThrow(/no rail/);
});

describe('changes', () => {
  const storage = phone.parts.find((p) => p.id === 'storage-chip')?.name ?? '';

  test('a part that is replaced takes its fault along; another changes nothing', () => {
    expect(call(benchWith('mute:storage-chip', [change('a1', 'replace', storage)])).pattern).toBe('normal-start');
    expect(call(benchWith('mute:storage-chip', [change('a1', 'replace', 'memory-chip')])).pattern).toBe('stall-mid');
  });

  test('a repair that names the circuit and no part is done on what is at fault there, and on nothing elsewhere', () => {
    const fault = parseFault(phone, 'mute:storage-chip');
    const named = (circuit: CircuitId) => ({ ...change('a1', 'replace', ''), circuit });
    expect(stateAfter(phone, [fault], [named('core.storage')]).faults).toEqual([]);
    expect(stateAfter(phone, [fault], [named('core.memory')]).faults).toEqual([fault]);
    const removed = { ...change('a1', 'remove', 'a capacitor nobody has'), circuit: 'rail.run' as const };
    expect(stateAfter(phone, [parseFault(phone, 'short:io=0.4')], [removed]).faults).toEqual([]);
  });

  test('a change that is taken back was never made', () => {
    const actions = [change('a1', 'replace', storage), change('a2', 'refit', storage, 'a1')];
    expect(stateAfter(phone, [parseFault(phone, 'mute:storage-chip')], actions).faults).toHaveLength(1);
    const off = [change('a1', 'disconnect', 'panel-flex'), change('a2', 'reconnect', 'panel-flex')];
    expect(stateAfter(phone, [], off.slice(0, 1)).off).toEqual(['panel-flex']);
    expect(stateAfter(phone, [], off).off).toEqual([]);
  });

  test('a short on a rail goes with what is taken off it; a joint is mended by heat, a chip is not', () => {
    const short = parseFault(phone, 'short:io=0.4');
    expect(stateAfter(phone, [short], [change('a1', 'remove', 'io')])).toEqual({ faults: [], off: [] });
    expect(mendsFault(phone, 'reflow', parseFault(phone, 'loose:stack-joint'))).toBe(true);
    expect(mendsFault(phone, 'reflow', parseFault(phone, 'mute:storage-chip'))).toBe(false);
    expect(mendsFault(phone, 'reload-firmware', parseFault(phone, 'mute:boot-data'))).toBe(true);
    expect(mendsFault(phone, 'clean', parseFault(phone, 'short:main=30'))).toBe(true);
    expect(mendsFault(phone, 'clean', parseFault(phone, 'short:main=0.1'))).toBe(false);
  });

  test('names, ids, ports and the battery are found; anything else is nothing', () => {
    // A rail and the part on it are called alike here: work on the one is work on the other.
    const idsOf = (name: string): string[] => elementsNamed(phone, name).map((e) => e.id);
    expect(idsOf(storage.toUpperCase()).sort()).toEqual(['storage', 'storage-chip', 'storage-load']);
    expect(idsOf('Port 1')).toEqual(['port1']);
    expect(idsOf('Port 4')).toEqual([]);
    expect(idsOf('battery pack')).toEqual(['battery']);
    expect(idsOf('kettle')).toEqual([]);
  });
});
