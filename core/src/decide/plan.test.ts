import { planBoard } from '../bench/index.ts';
import { deviceClasses } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import { assess } from '../diagnosis/index.ts';
import { actionOf, checkOf, readingOf, typedCase } from '../testing/cases.ts';
import { deadUnits, repairUnderWay, type Scene } from '../testing/scenes.ts';
import type { ShopPolicy, Suggestion } from './index.ts';
import { usualShop } from './index.ts';

const next = ({ value, shapes }: Scene, over: Partial<Case> = {}, shop?: ShopPolicy): Suggestion[] =>
  assess({ ...value, ...over }, shapes, { shop }).next;
const typed = (deviceClass: (typeof deviceClasses)[number], lines: string[], over: Partial<Case> = {}): Scene => ({
  name: '',
  ...typedCase(deviceClass, lines, over),
});
const checks = (list: Suggestion[]): (string | null)[] => list.map((n) => n.check);
const [phone, , , , console12] = deadUnits;
const short = readingOf({ mode: 'resistance', value: 0.4, where: 'coil 2', circuit: 'rail.run', powered: false });

describe('what fits the device', () => {
  test('no plug is turned over on a barrel input, no other port tried, no battery taken out of what has none', () => {
    const proposed = checks(next(console12));
    for (const id of ['flipped-plug', 'other-port', 'usb-wakes', 'battery-disconnected'])
      expect(proposed).not.toContain(id);
  });
  test('the press is not asked of a run that shows it, a fan not of a device without', () => {
    const proposed = checks(next(phone));
    expect(proposed).not.toContain('press-response');
    expect(proposed).not.toContain('fan');
  });
  test('what was answered is not asked again, until the device was changed', () => {
    const asked = next(phone).find((n) => n.kind === 'check')?.check as string;
    const answered = { checks: [checkOf(asked, 'nothing')] };
    expect(checks(next(phone, answered))).not.toContain(asked);
  });
});

describe('what is worth making', () => {
  test.each(deviceClasses)(
    'for a %s every test tells something, and its suspects do not all say the same',
    (deviceClass) => {
      const scene = deadUnits.find((s) => s.value.device.class === deviceClass) as Scene;
      const list = next(scene).filter((n) => n.kind === 'check' || n.kind === 'reading');
      expect(list.length).toBeGreaterThan(0);
      for (const { bits, minutes, name, predicts, why } of list) {
        expect(bits).toBeGreaterThan(0);
        expect(minutes).toBeGreaterThan(0);
        expect(why).not.toBe('');
        const [first, ...others] = predicts;
        const isApart = (p: (typeof predicts)[number]): boolean =>
          p.outcome !== first.outcome || Math.abs(p.likely[0].p - first.likely[0].p) >= 0.1;
        if (bits >= 0.1) expect([name, others.some(isApart)]).toEqual([name, true]);
      }
    },
  );
  test('best first by bits a minute, but for the last, which tells most', () => {
    const worth = next(phone)
      .filter((n) => n.kind === 'check')
      .map((n) => n.bits / (n.minutes + 3));
    // Bits are shown to three places: two that are worth the same may stand either way.
    worth.slice(0, -2).forEach((w, k) => expect(w).toBeGreaterThan(worth[k + 1] - 0.0005));
  });
});

describe('where the work stands', () => {
  test('a short that was measured is fed next, and nothing is looked at from outside', () => {
    const list = next(console12, { readings: [short] });
    expect(list[0]).toMatchObject({ kind: 'injection', where: 'coil 2', circuit: 'rail.run' });
    for (const { check } of list) expect([null, 'heat-view', 'visual', 'halves-apart']).toContain(check);
  });
  test('what warmed comes off after that', () => {
    const { value, shapes } = repairUnderWay();
    const list = assess({ ...value, actions: [], runs: [value.runs[0]] }, shapes).next;
    expect(list[0]).toMatchObject({ kind: 'action', action: { kind: 'remove', circuit: 'rail.main', target: 'C4' } });
  });
  test('what was replaced with nothing moved is not replaced again; three in vain bring the advice to stop', () => {
    const dead = console12.value.runs[0].typed as string;
    const kinds = ['rail.run', 'seq.power-good', 'core.supply'] as const;
    const scene = typed('console', [dead, dead, dead, dead], {
      actions: kinds.map((circuit, k) => actionOf(`a${k + 1}`, 'replace', { circuit, runBefore: `r${k + 1}` })),
    });
    kinds.forEach((_, k) => (scene.value.runs[k + 1].after = `a${k + 1}`));
    const list = next(scene);
    expect(
      list.some(
        (n) => n.kind === 'action' && n.action?.kind === 'replace' && kinds.includes(n.action.circuit as 'rail.run'),
      ),
    ).toBe(false);
    expect(list.find((n) => n.kind === 'stop')?.why).toMatch(/3 repairs changed nothing/);
  });
  test('what would lose wanted data is not proposed', () => {
    const stalls = typed('phone', ['battery 4V: 0 | prompt 0.1 0.25 0.35 hold'], {
      checks: [checkOf('host-detects', 'recovery')],
    });
    const reloads = (list: Suggestion[]): boolean =>
      list.some((n) => n.check === 'firmware-reload' || n.action?.kind === 'reload-firmware');
    expect(reloads(next(stalls))).toBe(true);
    expect(reloads(next(stalls, { intake: { ...stalls.value.intake, dataWanted: true } }))).toBe(false);
  });
  test('a circuit that the shop does not repair brings the advice to stop, once it is sure', () => {
    const shop: ShopPolicy = { ...usualShop, notDoneHere: ['rail.run'] };
    expect(next(console12, { readings: [short] }, shop)[0]).toMatchObject({ kind: 'stop' });
    expect(next(console12, { readings: [short] })[0].kind).not.toBe('stop');
  });
});

test('the job and Measure propose the same for a model without a profile', () => {
  for (const over of [{}, { readings: [short] }] as Partial<Case>[]) {
    const value = { ...console12.value, ...over };
    const names = assess(value, console12.shapes).next.map((n) => n.name);
    const board = planBoard(value, console12.shapes).next.map((n) => n.name);
    expect(board).toEqual(names.slice(0, board.length));
  }
});
