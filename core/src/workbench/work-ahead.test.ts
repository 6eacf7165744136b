import fc from 'fast-check';
import { circuitIds, type DeviceStateId } from '../catalogue/index.ts';
import { repairMinutes, usualShop } from '../decide/index.ts';
import { workAhead, type JobInHand } from './work-ahead.ts';
import settings from './work.json';

type Assessed = NonNullable<JobInHand['assessment']>;
const suggestion = (over: object): Assessed['next'][number] =>
  ({
    kind: 'reading',
    name: 'Measure it',
    minutes: 4,
    depth: 3,
    check: null,
    action: null,
    ...over,
  }) as Assessed['next'][number];
const assessment = (over: Partial<Assessed> = {}): Assessed => ({
  circuits: [{ id: 'display', p: 1 }] as Assessed['circuits'],
  proof: null,
  outlook: { minutes: 10, decided: 1 },
  next: [suggestion({})],
  ...over,
});
const said = (id: DeviceStateId): Pick<Assessed, 'state'> => ({
  state: { id, sentence: '', at: null, before: null, now: null, unit: null },
});
const stopped = { conclusion: { stop: { why: '', first: true } } } as Pick<Assessed, 'conclusion'>;
const job = (over: Partial<JobInHand> = {}): JobInHand => ({
  deviceClass: 'phone',
  fee: 100,
  liquid: false,
  dataWanted: false,
  dataOnly: false,
  seen: 1,
  feed: 'battery',
  assessment: assessment(),
  ...over,
});

test('worked example: a display that is certain, one test, then the repair, the proof and the customer', () => {
  const { stretches, value, success } = workAhead(job(), usualShop);
  expect(stretches.map((s) => [s.work, s.name])).toEqual([
    ['test', 'Measure it'],
    ['test', 'More tests'],
    ['repair', 'Repair'],
    ['proof', 'Proof'],
    ['talk', 'Close and tell the customer'],
  ]);
  expect(stretches[0]).toMatchObject({ minutes: 4, place: 'opened', depth: 3 });
  expect(stretches[1].minutes).toBeCloseTo(6, 9);
  expect(stretches[2].minutes).toBeCloseTo(repairMinutes('display'), 9);
  expect(success).toBeCloseTo(usualShop.success, 9);
  expect(value).toBeCloseTo(100 * usualShop.success, 9);
});

test('what was in the bath is rinsed, dried and looked at before anything with a feed', () => {
  const usual = (kind: string): number => (kind === 'dry' ? 240 : 1);
  const [rinse, look, next] = workAhead(job({ waiting: 'bath' }), usualShop, usual).stretches;
  expect(rinse).toMatchObject({ name: 'Rinse it and dry it', wait: 240, uses: [], depth: 1 });
  expect(look).toMatchObject({ name: 'Inspect it after drying', wait: 0, uses: [] });
  expect(next.name).toBe('Measure it');
  expect(workAhead(job({ waiting: 'dry' }), usualShop, usual).stretches[0].name).toBe('Inspect it after drying');
  expect(workAhead(job({ waiting: 'soak' }), usualShop, usual).stretches[0].name).toBe('Measure it');
});

test('what was wet dries after the repair; the shop says for how long', () => {
  const wet = workAhead(job({ liquid: true }), usualShop, (kind) => (kind === 'dry' ? 333 : 1));
  expect(wet.stretches.find((s) => s.work === 'repair')?.wait).toBe(333);
});

test('nothing recorded yet: a first run on what the feed needs', () => {
  const first = workAhead(job({ seen: 0, assessment: null }), usualShop);
  expect(first.stretches[0]).toMatchObject({
    name: 'Record a first run',
    minutes: settings.firstRun.minutes,
    uses: ['supply'],
  });
  expect(first.success).toBeGreaterThan(0.2);
  expect(first.success).toBeLessThan(1);
});

test('the engine says stop: the customer is told, and nothing else is planned', () => {
  const stop = workAhead(
    job({ assessment: assessment({ next: [suggestion({ kind: 'stop', minutes: 0 })], ...stopped }) }),
    usualShop,
  );
  expect(stop).toMatchObject({ isVain: true, success: 0 });
  expect(stop.stretches.map((s) => s.work)).toEqual(['talk']);
  const poor = assessment({
    circuits: [{ id: 'core.soc', p: 1 }] as Assessed['circuits'],
    outlook: { minutes: 60, decided: 0.1 },
  });
  expect(workAhead(job({ assessment: poor }), usualShop).isVain).toBe(true);
});

test('only the data is wanted: it is brought out, whatever a repair would bring', () => {
  const data = workAhead(job({ dataOnly: true, dataWanted: true }), usualShop);
  expect(data.stretches.map((s) => s.name)).toEqual(['Recover the data', 'Close and tell the customer']);
  expect(data.value).toBeCloseTo(data.success * usualShop.dataFee, 9);
  const dead = assessment({ circuits: [{ id: 'core.storage', p: 1 }] as Assessed['circuits'] });
  expect(workAhead(job({ dataOnly: true, assessment: dead }), usualShop).success).toBeLessThan(data.success);
});

test('it works: proofs, and no more tests', () => {
  const proof = {
    protocols: [
      { minutes: 30, steps: [{ result: null }] },
      { minutes: 99, steps: [{ result: 'pass' }] },
    ],
  } as unknown as Assessed['proof'];
  const next = [suggestion({ kind: 'verify', name: 'Charge in every port', minutes: 10, depth: 0 })];
  const well = workAhead(job({ assessment: assessment({ proof, next, ...said('works-seen') }) }), usualShop);
  expect(well.stretches.map((s) => [s.work, s.minutes])).toEqual([
    ['proof', 10],
    ['proof', 20],
    ['talk', settings.closeMinutes],
  ]);
});

test('hot air is for what is heated, the camera for what is looked at through it', () => {
  const usesOf = (over: object): readonly string[] =>
    workAhead(job({ assessment: assessment({ next: [suggestion(over)] }) }), usualShop).stretches[0].uses;
  expect(usesOf({ kind: 'action', action: { kind: 'replace' }, depth: 4 })).toContain('hot-air');
  expect(usesOf({ kind: 'action', action: { kind: 'replace' }, depth: 2 })).not.toContain('hot-air');
  expect(usesOf({ kind: 'check', check: 'heat-view' })).toContain('camera');
});

test('for any belief: minutes are positive, what it brings is no more than the fee, and chances are chances', () => {
  fc.assert(
    fc.property(
      fc.array(fc.double({ min: 0.001, max: 1, noNaN: true }), {
        minLength: circuitIds.length,
        maxLength: circuitIds.length,
      }),
      fc.double({ min: 0, max: 120, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (weights, minutes, decided) => {
        const sum = weights.reduce((a, b) => a + b, 0);
        const circuits = circuitIds.map((id, k) => ({ id, p: weights[k] / sum })) as Assessed['circuits'];
        const ahead = workAhead(
          job({ assessment: assessment({ circuits, outlook: { minutes, decided } }) }),
          usualShop,
        );
        for (const s of ahead.stretches) expect(s.minutes).toBeGreaterThan(0);
        expect(ahead.value).toBeLessThanOrEqual(100);
        expect(ahead.success).toBeGreaterThanOrEqual(0);
        expect(ahead.success).toBeLessThanOrEqual(1);
      },
    ),
  );
});
