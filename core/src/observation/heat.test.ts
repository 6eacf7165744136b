import { checkOf } from '../testing/cases.ts';
import { recorded } from '../testing/recorded.ts';
import { compileProfile, parseFault, shippedProfiles } from '../twin/index.ts';
import { assess } from '../diagnosis/index.ts';
import { heatLikelihood, shortedRail } from './heat-question.ts';
import { sayEvidence } from '../reasons/index.ts';

const phone = shippedProfiles.find((p) => p.id === 'tallgate-moorcall-2') ?? shippedProfiles[0];
const board = compileProfile(phone);

test('a short lies on the rail of its part, its peripheral, or at the input of its converter', () => {
  const railOf = (spec: string): string | undefined => phone.rails[shortedRail(board, parseFault(phone, spec))]?.id;
  const load = phone.loads[0];
  expect(railOf('short:io')).toBe('io');
  expect(railOf(`short:${load.id}`)).toBe(load.rail);
  expect(railOf(`short:${phone.peripherals[0].id}`)).toBe(phone.peripherals[0].rail);
  expect(railOf(`short:${phone.converters[0].id}`)).toBe(phone.converters[0].from);
  expect(shortedRail(board, parseFault(phone, 'mute:storage-chip'))).toBe(-1);
  expect(shortedRail(board, null)).toBe(-1);
});

test('heat at the fault is likelier than at its neighbours, and those likelier than elsewhere', () => {
  const fault = parseFault(phone, 'short:io=0.5');
  const io = board.railIndex.get('io') ?? -1;
  const feeder = phone.converters.find((c) => c.to.includes('io'))?.id ?? '';
  const p = (hot: string | null, fed = io): number => heatLikelihood(board, fault, hot, fed);
  expect(p('io')).toBeGreaterThan(p(feeder));
  expect(p(feeder)).toBeGreaterThan(p('storage'));
  expect(p(null)).toBeLessThan(heatLikelihood(board, parseFault(phone, 'mute:storage-chip'), null, io));
  // Another rail was fed: the short there saw no current.
  expect(p('io', board.railIndex.get('storage') ?? -1)).toBeLessThan(p('io'));
});

test('a part that warms last becomes the first suspect of its rail, with the sentence', () => {
  const { value, run, shape } = recorded(phone, 'short:io=0.4');
  const shapes = new Map([[run.id, shape]]);
  const bare = assess({ ...value, runs: [run] }, shapes);
  const predicted = assess(
    { ...value, runs: [run], checks: [checkOf('heat-view', 'one-spot', { extra: { hot: 'io', rail: 'io' } })] },
    shapes,
  );
  const p = (a: typeof bare): number => a.circuits.flatMap((c) => c.targets).find((t) => t.id === 'io')?.p ?? 0;
  expect(p(predicted)).toBeGreaterThan(p(bare));
  expect(predicted.circuits.flatMap((c) => c.evidence).some((e) => /heat/i.test(sayEvidence(e)))).toBe(true);
});
