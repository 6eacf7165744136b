import type { Action, Case } from '../case/index.ts';
import { assess, type Assessment } from '../diagnosis/index.ts';
import { actionOf, checkOf, injectionOf, readingOf, typedCase } from '../testing/cases.ts';

const dead = 'battery 4V limit 3A: 0 | prompt 0.07 0.19 0.12 hold';
const boots = 'battery 4V limit 3A: 0 | prompt 0.1 0.4 0.9 0.5 1.1 0.6 0.8';
const short = readingOf({ mode: 'resistance', value: 0.2, where: 'capacitor by the coil', circuit: 'rail.run' });
const free = { ...short, value: 4500, after: 'a1' };
const swap = actionOf('a1', 'replace', { circuit: 'pmic', target: 'power chip' });

/** What is said after lines of which those beyond the first follow a change. */
function after(lines: string[], over: Partial<Case>, follows = 'a1'): Assessment {
  const { value, shapes } = typedCase('phone', lines, { complaintKind: 'no-start', ...over });
  value.runs.slice(1).forEach((r) => (r.after = follows));
  return assess(value, shapes);
}
const stateOf = (lines: string[], over: Partial<Case>, follows?: string) => after(lines, over, follows).state;

test('before any change nothing was changed, whatever was measured', () => {
  expect(stateOf([dead], { readings: [short] })).toMatchObject({
    id: 'not-changed',
    sentence: 'Nothing has been changed yet.',
  });
});

test('mended and not tried: no percentage takes the place of a trial, and the next step is to try it', () => {
  const a = after([dead], { actions: [swap] });
  expect(a.state).toMatchObject({
    id: 'mended-untried',
    sentence: 'Repaired. Not tried yet. First start it on a limited supply.',
  });
  expect(a.next[0]).toMatchObject({ kind: 'verify', protocol: 'start-on-limited-supply' });
  expect(a.next.map((n) => n.kind)).not.toContain('stop');
  expect(a.conclusion?.stop).toBeNull();
  expect(a.now.find((n) => n.id === 'works')?.p).toBeLessThanOrEqual(0.5);
});

describe('a place that was short', () => {
  const off = actionOf('a1', 'remove', { circuit: 'rail.run', target: 'capacitor by the coil' });

  test('is gone with both numbers, as the headline', () => {
    expect(stateOf([dead], { readings: [short, free], actions: [off] })).toEqual({
      id: 'short-gone',
      sentence: 'The short is gone: 0.20 ohm before, 4.50 kohm now (capacitor by the coil).',
      at: 'capacitor by the coil',
      before: 0.2,
      now: 4500,
      unit: 'ohm',
    });
  });

  test('is still there with both numbers', () => {
    const still = { ...free, value: 0.3 };
    expect(stateOf([dead], { readings: [short, still], actions: [off] })).toMatchObject({
      id: 'still-short',
      before: 0.2,
      now: 0.3,
      sentence: 'Still short: 0.20 ohm before, 0.30 ohm now (capacitor by the coil).',
    });
  });

  test('is not made to go away by a good neighbour', () => {
    const neighbour = { ...free, where: 'the other capacitor by the coil' };
    const state = stateOf([dead], { readings: [short, neighbour], actions: [off] });
    expect(state?.id).toBe('part-off-untried');
  });

  test('in diode mode, by what flows, and as words', () => {
    const zero = readingOf({ mode: 'diode', value: 0, where: 'C12', circuit: 'rail.run' });
    expect(
      stateOf([dead], { readings: [zero, { ...zero, value: 0.331, after: 'a1' }], actions: [off] })?.sentence,
    ).toBe('The short is gone: 0 V before, 0.331 V now (C12).');
    const fed = injectionOf('C12', 1, { amps: 0.74, circuit: 'rail.run', limitA: 2 });
    const again = { ...fed, id: 'i2', amps: 0.00002, after: 'a1' };
    expect(stateOf([dead], { injections: [fed, again], actions: [off] })).toMatchObject({
      id: 'short-gone',
      at: 'C12',
    });
    const beeps = { ...short, value: null, says: 'beep' as const };
    const silent = { ...beeps, says: 'no-beep' as const, after: 'a1' };
    expect(stateOf([dead], { readings: [beeps, silent], actions: [off] })?.sentence).toBe(
      'The short is gone: it beeps before, no beep now (capacitor by the coil).',
    );
  });

  test('stays found when the coil that was lifted to see it is back', () => {
    const lift = actionOf('a1', 'isolate', { circuit: 'core.supply', target: 'coil 2' });
    const still = { ...free, value: 0.2 };
    const back = actionOf('a2', 'refit', { circuit: 'core.supply', target: 'coil 2' });
    const cap = actionOf('a0', 'replace', { circuit: 'rail.run', target: 'capacitor by the coil' });
    expect(stateOf([dead], { readings: [short, still], actions: [cap, lift, back] })?.id).toBe('still-short');
    // That it was free with the coil off says nothing once the coil is back.
    expect(stateOf([dead], { readings: [short, free], actions: [cap, lift, back] })?.id).toBe('mended-untried');
  });
});

test('it works where it was seen to work, and says what was seen', () => {
  expect(stateOf([dead, boots], { actions: [swap] })).toMatchObject({
    id: 'works-seen',
    sentence: 'It works: it starts normally.',
  });
  const image = checkOf('screen', 'image', { after: 'a1' });
  const logo = checkOf('screen', 'logo', { after: 'a1' });
  const both = after([dead], { actions: [swap], checks: [logo, image] });
  expect(both.state).toMatchObject({ id: 'works-seen', sentence: 'It works: it shows a picture.' });
  const alone = after([dead], { actions: [swap], checks: [image] });
  const works = (a: Assessment): number => a.now.find((n) => n.id === 'works')?.p ?? 0;
  expect(works(both)).toBeCloseTo(works(alone), 6);
});

test('a start is no charge: what was complained of is still to be tried', () => {
  const state = stateOf(['usb-c: 5V 0.02 hold', boots], { actions: [swap], complaintKind: 'no-charge' });
  expect(state).toMatchObject({ id: 'works-seen' });
  expect(state?.sentence).toMatch(/Whether it charges has not been tried yet\./);
});

test('by itself only where no change lies between failing and working', () => {
  const { value, shapes } = typedCase('phone', [dead, boots], { complaintKind: 'no-start' });
  const alone = assess(value, shapes);
  expect(alone.state?.id).toBe('works-alone');
  expect(alone.conclusion?.outcome?.grade).toBe('disappeared');
  const cured = after([dead, boots], { actions: [swap] });
  expect(cured.state?.id).toBe('works-seen');
  expect(cured.conclusion?.outcome?.grade).toBe('cleared');
});

test('a healthy start that nobody marked is no failure', () => {
  const unmarked = 'battery 4V limit 3A: 0.6 0.7 0.5 0.65';
  expect(stateOf([dead, unmarked, boots], { actions: [swap] })?.id).toBe('works-seen');
  expect(after([dead, unmarked, boots], { actions: [swap] }).conclusion?.outcome?.grade).toBe('cleared');
});

test('a trial is a test: what is soldered after it is the repair', () => {
  const split = actionOf('a1', 'split', { unit: 'halves' });
  const laid = actionOf('a2', 'trial', { unit: 'halves', with: 'own' });
  const joined = actionOf('a3', 'join', { unit: 'halves' });
  const image = (id: string) => checkOf('screen', 'image', { after: id });
  const a = after([dead], { actions: [split, laid, joined], checks: [image('a2'), image('a3')] });
  expect(a.state?.id).toBe('works-seen');
  expect(a.conclusion?.outcome).toMatchObject({ grade: 'cleared' });
  expect(a.conclusion?.outcome?.because.join(' ')).not.toMatch(/No repair lies/);
});

test('with a good thing in place of its own it works with that thing', () => {
  const other = (unit: NonNullable<Action['unit']>) => actionOf('a1', 'trial', { unit, with: 'good' });
  expect(stateOf([dead, boots], { actions: [other('pack')] })).toMatchObject({
    id: 'works-with-other',
    sentence: 'With a known-good battery it starts normally. The device’s own battery has not been tried again.',
  });
  const back = actionOf('a2', 'replace', { unit: 'pack', with: 'own' });
  expect(stateOf([dead, boots], { actions: [other('pack'), back] })?.id).toBe('not-changed');
  const charger = checkOf('charges', 'yes', { setup: { charger: 'known-good' } });
  const fails = checkOf('charges', 'no', { setup: { charger: 'own' } });
  const { value, shapes } = typedCase('laptop', [], { complaintKind: 'no-charge', checks: [fails, charger] });
  expect(assess(value, shapes).state).toMatchObject({ id: 'works-with-other' });
});

test('what fails is the same fault, or another, and is named by what it shows', () => {
  expect(stateOf([dead, dead], { actions: [swap] })).toMatchObject({ id: 'same-fault' });
  expect(stateOf([dead, dead], { actions: [swap] })?.sentence).toMatch(
    /^The same fault is still there\. It shows “.+”\.$/,
  );
  const other = stateOf([dead, 'battery 4V limit 3A: limit'], { actions: [swap] });
  expect(other?.sentence).toMatch(/It shows “In current limit from the start”\.$/);
});

test('what was put in and taken out again leaves what was there', () => {
  const pack = actionOf('a2', 'replace', { unit: 'pack', with: 'good' });
  const own = actionOf('a3', 'refit', { unit: 'pack', with: 'own' });
  const { value, shapes } = typedCase('phone', [dead, dead], { complaintKind: 'no-start', actions: [swap, pack, own] });
  value.runs[1].after = 'a1';
  expect(assess(value, shapes).state?.id).toBe('same-fault');
});

const put = (id: string, unit: Action['unit'], over: Partial<Action> = {}): Action =>
  actionOf(id, 'trial', { unit, circuit: 'battery.pack', target: 'pack from the shelf', with: 'good', ...over });

describe('what is in the device', () => {
  const looks = (after: string): Partial<Case> => ({ checks: [checkOf('screen', 'image', { after })] });

  test('a good pack is in its place until another is fitted for good', () => {
    const trial = put('a1', 'pack');
    const fitted = actionOf('a2', 'replace', { unit: 'pack', circuit: 'battery.pack', target: 'new pack' });
    expect(stateOf([dead], { actions: [trial], ...looks('a1') })?.id).toBe('works-with-other');
    expect(stateOf([dead], { actions: [trial, fitted], ...looks('a2') })).toMatchObject({
      id: 'works-seen',
      sentence: 'It works: it shows a picture.',
    });
  });

  test('its own pack that works after a good one did: what is seen and what is believed agree', () => {
    const back = put('a2', 'pack', { with: 'own', target: 'its own pack' });
    const checks = [
      checkOf('screen', 'dark'),
      checkOf('screen', 'image', { after: 'a1' }),
      checkOf('screen', 'image', { after: 'a2' }),
    ];
    const { value, shapes } = typedCase('phone', ['usb-c port 1 with-battery: 5V 30mA hold'], {
      complaintKind: 'no-start',
      actions: [put('a1', 'pack'), back],
      checks,
    });
    const a = assess(value, shapes);
    expect(a.state?.id).toBe('works-seen');
    expect(a.now.find((n) => n.id === 'works')?.p).toBeGreaterThan(0.5);
    expect(a.circuits[0].id).toBe('battery.pack');
  });

  test('what is laid together for a trial is not repaired', () => {
    const apart = actionOf('a1', 'split', { unit: 'halves', circuit: 'joint.stack', target: 'boards parted' });
    const laid = actionOf('a2', 'trial', { unit: 'halves', circuit: 'joint.stack', target: 'laid together' });
    expect(stateOf([dead, boots], { actions: [apart, laid] }, 'a2')?.sentence).toBe(
      'It works in this trial setup: it starts normally. The repair still has to be done.',
    );
    const half = 'battery 4V limit 3A half upper: 0 | prompt 0.1 0.4 0.9 0.5';
    expect(stateOf([dead, half], { actions: [apart] })?.sentence).toBe(
      'The boards are split. So far they have only been tried separately.',
    );
    expect(stateOf([dead], { actions: [apart] })?.sentence).toBe('The boards are split. Not tried yet.');
  });
});

test('a start says nothing of a charge that is complained of and failed', () => {
  const change = actionOf('a1', 'replace', { circuit: 'input.port', target: 'port' });
  const checks = [checkOf('charges', 'no', { after: 'a1' }), checkOf('screen', 'image', { after: 'a1' })];
  const lines = ['usb-c port 1 with-battery: 5V 10mA hold', boots];
  expect(stateOf(lines, { complaintKind: 'no-charge', actions: [change], checks })).toMatchObject({
    id: 'same-fault',
    sentence: 'The same fault is still there.',
  });
});

describe('a draw that nobody asked for', () => {
  const leak = 'dc-in 19V: 0.5 hold | prompt 0.5 hold';
  const off = actionOf('a1', 'disconnect', { circuit: 'periph.board', target: 'touchpad cable' });
  const assessed = (lines: string[], over: Partial<Case>): Assessment => {
    const { value, shapes } = typedCase('laptop', lines, { complaintKind: 'no-start', ...over });
    value.runs.slice(1).forEach((r) => (r.after = 'a1'));
    return assess(value, shapes);
  };

  test('that is gone with a part unplugged is its own, and the rest that is left is no fault', () => {
    const a = assessed([leak, 'dc-in 19V: 20mA hold'], { actions: [off] });
    expect(a.state).toMatchObject({ id: 'part-off-untried', sentence: 'Unplugged: touchpad cable. Not tried yet.' });
    expect(a.circuits[0]).toMatchObject({ id: 'periph.board' });
    expect(a.circuits[0].p).toBeGreaterThan(0.7);
  });

  test('the same rest on a device that never drew more is the fault', () => {
    const a = assessed(['dc-in 19V: 20mA hold | prompt 20mA hold', 'dc-in 19V: 20mA hold'], { actions: [off] });
    expect(a.state?.id).toBe('same-fault');
  });
});

describe('a swollen battery', () => {
  const plugs = ['charges', 'usb-wakes', 'host-detects', 'known-good-charger'];
  const swollen = { checks: [checkOf('visual', 'swollen', { where: 'pack', circuit: 'battery.pack' })] };
  const stop = /Swollen battery: stop/;

  test('that is in is not charged by anything that is proposed', () => {
    const a = stateLess(swollen);
    expect(a.warnings.join()).toMatch(stop);
    expect(a.next.filter((n) => n.check !== null && plugs.includes(n.check))).toEqual([]);
  });

  test('that was replaced is not in any more', () => {
    const fitted = actionOf('a1', 'replace', { unit: 'pack', circuit: 'battery.pack', target: 'new pack' });
    const a = stateLess({ ...swollen, actions: [fitted] });
    expect(a.warnings.join()).not.toMatch(stop);
  });

  test.each([
    ['unplugged', actionOf('a1', 'disconnect', { circuit: 'battery.pack', target: 'pack' })],
    ['worked on at its plug', actionOf('a1', 'replace', { circuit: 'battery.pack', target: 'battery plug' })],
    ['lifted at its line', actionOf('a1', 'isolate', { circuit: 'battery.pack', target: 'coil in the battery line' })],
    ['back after a trial', put('a1', 'pack', { with: 'own' })],
  ])('that is %s is in all the same', (_, action) => {
    const a = stateLess({ ...swollen, actions: [action] });
    expect(a.warnings.join()).toMatch(stop);
    expect(a.next.filter((n) => n.check !== null && plugs.includes(n.check))).toEqual([]);
  });

  const stateLess = (over: Partial<Case>): Assessment => after([dead], { ...over, complaintKind: 'no-charge' });
});

test('what a good board reads at a place holds for every reading of that place', () => {
  const core = readingOf({ mode: 'resistance', value: 0.2, where: 'core', circuit: 'core.supply', reference: 8 });
  const again = { ...core, reference: null, after: 'a1' };
  const off = actionOf('a1', 'remove', { circuit: 'core.supply', target: 'core capacitor' });
  expect(stateOf([dead], { readings: [core, again], actions: [off] })?.id).toBe('still-short');
  expect(stateOf([dead], { readings: [{ ...core, reference: null }, again], actions: [off] })?.id).not.toBe(
    'still-short',
  );
});
