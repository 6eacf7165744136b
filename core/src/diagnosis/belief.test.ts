import fc from 'fast-check';
import { circuitNames, deviceClasses, type CircuitId } from '../catalogue/index.ts';
import { type Action, type Case, type Reading } from '../case/index.ts';
import { normaliseLogs } from '../inference/index.ts';
import { observationKinds, senseOf, type Candidate } from '../observation/index.ts';
import { actionOf, checkOf, injectionOf, readingOf, typedCase } from '../testing/cases.ts';
import {
  deadUnits,
  everyScene,
  faultyCircuits,
  ownProfileUnit,
  repairUnderWay,
  type Scene,
} from '../testing/scenes.ts';
import { readTypedRun } from '../formats/index.ts';
import { assess, believe, byCircuit, describe as describeShape, explainCircuits, type Belief } from './index.ts';
import { sayLeftOut } from '../reasons/index.ts';

const p = (belief: Belief, id: CircuitId): number => explainCircuits(belief).find((c) => c.id === id)?.p ?? 0;
const first = (belief: Belief): string => explainCircuits(belief)[0].id;
const beliefOf = ({ value, shapes }: Scene, over: Partial<Case> = {}): Belief => believe({ ...value, ...over }, shapes);
const distance = (a: readonly number[], b: readonly number[]): number =>
  Math.max(...a.map((x, h) => Math.abs(x - b[h])));

/** A scene with a run more, typed, after a change. */
function withRun(scene: Scene, line: string, after: string | null, actions: Action[]): Scene {
  const id = `r${scene.value.runs.length + 1}`;
  const { run, trace } = readTypedRun(line, id);
  const shapes = new Map(scene.shapes).set(id, describeShape(scene.value, run, trace, null));
  return { ...scene, shapes, value: { ...scene.value, runs: [...scene.value.runs, { ...run, after }], actions } };
}

/** What is typed in where a proposed test came out with this word; null where the words are not those of one entry. */
function entered({ value }: Scene, test: Candidate, word: string): Partial<Case> | null {
  if (test.kind === 'check' && test.check !== null && test.check !== 'heat-view')
    return { checks: [...value.checks, checkOf(test.check, word, { after: value.actions.at(-1)?.id ?? null })] };
  if (test.kind !== 'reading' || test.where === null) return null;
  const ground: Record<string, number> = { short: 0.2, low: 3, normal: 4000 };
  const volts: Record<string, Partial<Reading>> = {
    present: { value: 3.3, reference: 3.3 },
    low: { value: 2.2, reference: 3.3 },
    missing: { value: 0, reference: 3.3 },
    swings: { value: 1.6, reference: 3.3, swing: { low: 0, high: 3.3 } },
  };
  const isVoltage = test.mode === 'voltage';
  const is = isVoltage ? volts[word] : word in ground ? { value: ground[word] } : undefined;
  if (!is || (!isVoltage && (test.circuit === 'rail.main' || test.circuit?.startsWith('core.')))) return null;
  const prompted = isVoltage && test.phase !== 'before';
  const reading = readingOf({
    mode: isVoltage ? 'voltage' : 'resistance',
    where: test.where,
    circuit: test.circuit,
    value: 0,
    prompted,
    powered: isVoltage,
    feed: test.phase === 'plugged' ? 'usb-c' : null,
    after: value.actions.at(-1)?.id ?? null,
    ...is,
  });
  const sense = senseOf(reading);
  if (sense.of === 'nothing' || sense.word !== word) return null;
  return { readings: [...value.readings, reading] };
}

describe('what is planned is what is entered', () => {
  test.each(everyScene().map((s) => [s.name, s] as const))('%s', (_, scene) => {
    const belief = beliefOf(scene);
    let compared = 0;
    for (const test of observationKinds.flatMap((kind) => kind.candidates(belief.history))) {
      if (test.action !== null) continue;
      const planned = belief.ask(test.question);
      for (const word of Object.keys(planned)) {
        const entry = entered(scene, test, word);
        if (entry === null) continue;
        const after = beliefOf(scene, entry).posterior;
        // A new place that is named makes hypotheses of its own.
        if (after.length !== belief.posterior.length) continue;
        const predicted = normaliseLogs(belief.posterior.map((x, h) => Math.log(x * planned[word][h])));
        expect([test.id, word, distance(after, predicted)]).toEqual([test.id, word, expect.closeTo(0, 6)]);
        compared++;
      }
    }
    expect(compared).toBeGreaterThan(10);
  });

  test('a change: what the next run shows is predicted by the numbers that it adds', () => {
    const scene = deadUnits[4];
    const dead = scene.value.runs[0].typed as string;
    const belief = beliefOf(scene);
    const action = actionOf('a1', 'disconnect', { circuit: 'display', runBefore: 'r1' });
    const test = observationKinds
      .flatMap((kind) => kind.candidates(belief.history))
      .find((c) => c.action?.kind === 'disconnect');
    expect(test).toBeDefined();
    const planned = belief.askAfter(test!.question, action).same;
    const after = believe(...argumentsOf(withRun(scene, dead, 'a1', [action]))).posterior;
    const predicted = normaliseLogs(belief.posterior.map((x, h) => Math.log(x * planned[h])));
    expect(distance(after, predicted)).toBeLessThan(1e-6);
  });
});

const argumentsOf = ({ value, shapes }: Scene): [Case, Scene['shapes']] => [value, shapes];

describe('the evidence', () => {
  const anyReading = fc.record({
    circuit: fc.constantFrom<CircuitId>(
      'rail.main',
      'rail.run',
      'rail.standby',
      'rail.boost',
      'charge.charger',
      'core.supply',
    ),
    mode: fc.constantFrom('voltage' as const, 'resistance' as const),
    value: fc.double({ min: 0, max: 12, noNaN: true }),
    reference: fc.constantFrom(null, 3.3, 300),
  });
  const anyCheck = fc.constantFrom(
    checkOf('screen', 'dark'),
    checkOf('host-detects', 'recovery'),
    checkOf('fan', 'none'),
    checkOf('visual', 'burnt', { circuit: 'rail.run', where: 'coil 2' }),
    checkOf('heat-view', 'one-spot', { circuit: 'rail.main' }),
    checkOf('smell', 'smoky'),
  );

  test('the order of independent entries does not matter', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(anyReading, { maxLength: 4, selector: (r) => `${r.circuit} ${r.mode}` }),
        fc.uniqueArray(anyCheck, { maxLength: 4 }),
        (readings, checks) => {
          const list = readings.map((r, k) => readingOf({ ...r, where: `place ${k}` }));
          const one = beliefOf(deadUnits[4], { readings: list, checks });
          const other = beliefOf(deadUnits[4], { readings: [...list].reverse(), checks: [...checks].reverse() });
          expect(distance(byCircuit(one), byCircuit(other))).toBeLessThan(1e-6);
        },
      ),
      { numRuns: 40 },
    );
  });

  test('is a distribution whatever was entered, and nothing is swallowed', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...everyScene().slice(0, 7), repairUnderWay()),
        fc.array(anyReading, { maxLength: 6 }),
        fc.array(anyCheck, { maxLength: 4 }),
        (scene, readings, checks) => {
          const value = {
            ...scene.value,
            readings: readings.map((r, k) => readingOf({ ...r, where: `place ${k % 3}` })),
            checks,
          };
          const belief = believe(value, scene.shapes);
          expect(belief.posterior.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
          expect(Object.values(belief.now).reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
          const told = new Set([...belief.weighed, ...belief.leftOut].map((x) => x.source));
          value.readings.forEach((_, k) => expect(told).toContain(`reading:${k}`));
          value.checks.forEach((_, k) => expect(told).toContain(`check:${k}`));
          value.injections.forEach((i) => expect(told).toContain(`injection:${i.id}`));
          for (const run of value.runs) expect(told).toContain(`run:${run.id}`);
          const said = assess(value, scene.shapes).warnings.join('\n');
          for (const left of belief.leftOut) expect(said).toContain(sayLeftOut(left));
        },
      ),
      { numRuns: 40 },
    );
  });

  test('the reasons of a circuit add up to its posterior odds over its prior odds', () => {
    for (const scene of [repairUnderWay(), ownProfileUnit()]) {
      const belief = beliefOf(scene);
      const [start] = belief.weighed;
      const { circuitOf } = belief.history.space;
      const odds = (list: readonly number[], c: number): number => {
        const own = list.reduce((sum, x, h) => sum + (circuitOf[h] === c ? x : 0), 0);
        return 10 * Math.log10(own / (1 - own));
      };
      for (const { id, p: after, evidence } of explainCircuits(belief)) {
        if (after < 0.01) continue;
        const c = circuitOf.find(
          (k, h) => k === circuitOf[h] && belief.history.space.hypotheses[h].circuit === id,
        ) as number;
        const sum = evidence.reduce((total, e) => total + e.for, 0);
        // Sentences under a twentieth of a deciban are not stated.
        expect(Math.abs(sum - (odds(belief.posterior, c) - odds(start.before, c)))).toBeLessThan(
          0.05 * belief.weighed.length,
        );
      }
    }
  });

  test('a fact that is entered again is not another fact', () => {
    const short = readingOf({ mode: 'resistance', value: 0.3, where: 'coil 2', circuit: 'rail.run' });
    const missing = readingOf({
      mode: 'voltage',
      value: 0,
      reference: 3.3,
      where: 'standby',
      circuit: 'rail.standby',
      state: 'S5',
    });
    const recovery = checkOf('host-detects', 'recovery');
    for (const over of [{ readings: [short] }, { readings: [missing] }, { checks: [recovery] }] as Partial<Case>[]) {
      const twice = Object.fromEntries(
        Object.entries(over).map(([k, list]) => [k, [...(list as []), ...(list as [])]]),
      );
      const [one, two] = [beliefOf(deadUnits[4], over), beliefOf(deadUnits[4], twice)];
      expect(first(two)).toBe(first(one));
      expect(Math.abs(p(two, first(one) as CircuitId) - p(one, first(one) as CircuitId))).toBeLessThan(0.1);
    }
  });
});

describe('facts are as hard as they are', () => {
  const rails: CircuitId[] = ['rail.main', 'rail.boost', 'rail.always-on', 'rail.standby', 'rail.run'];

  test.each(deviceClasses)(
    'a hard short on a rail of a %s puts its circuit first, with 80 %% or more',
    (deviceClass) => {
      const scene = deadUnits.find((s) => s.value.device.class === deviceClass) as Scene;
      for (const circuit of rails) {
        const short = readingOf({ mode: 'resistance', value: 0.3, where: 'a capacitor', circuit, powered: false });
        const belief = beliefOf(scene, { readings: [short] });
        expect([circuit, first(belief)]).toEqual([circuit, circuit]);
        expect([circuit, p(belief, circuit)]).toEqual([circuit, expect.any(Number)]);
        expect(p(belief, circuit)).toBeGreaterThanOrEqual(0.8);
      }
    },
  );

  test.each(rails)('the short of %s that reads at one point after another stays its short', (circuit) => {
    for (const scene of [deadUnits[0], deadUnits[4]])
      for (const n of [2, 5, 10]) {
        const at = (k: number): Reading =>
          readingOf({ mode: 'resistance', value: 0.3, where: `C${k}`, circuit, powered: false });
        const belief = beliefOf(scene, { readings: Array.from({ length: n }, (_, k) => at(k + 1)) });
        expect([n, first(belief)]).toEqual([n, circuit]);
        expect(p(belief, circuit)).toBeGreaterThan(0.7);
      }
  });

  test('a rail that was measured standing never raises its own circuit', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...deadUnits),
        fc.constantFrom(...rails),
        fc.constantFrom(1.8, 3.3, 5, 12),
        (scene, circuit, volts) => {
          const stands = readingOf({
            mode: 'voltage',
            value: volts,
            reference: volts,
            where: 'a coil',
            circuit,
            powered: true,
            prompted: true,
          });
          expect(p(beliefOf(scene, { readings: [stands] }), circuit)).toBeLessThanOrEqual(
            p(beliefOf(scene), circuit) + 1e-9,
          );
        },
      ),
    );
  });

  test('an output that swings counts as one that does not stand, 0.1 ohm across a fuse as a good fuse', () => {
    const at = { where: 'boost output', circuit: 'rail.run' as const, reference: 3.3 };
    const swings = readingOf({ ...at, mode: 'voltage', value: 1.5, swing: { low: 0, high: 3 }, prompted: true });
    const fuse = readingOf({
      mode: 'resistance',
      value: 0.1,
      where: 'input fuse',
      circuit: 'input.protection',
      across: true,
    });
    const before = beliefOf(deadUnits[4]);
    expect(p(beliefOf(deadUnits[4], { readings: [swings] }), 'rail.run')).toBeGreaterThan(p(before, 'rail.run'));
    expect(p(beliefOf(deadUnits[4], { readings: [fuse] }), 'input.protection')).toBeLessThan(
      p(before, 'input.protection') + 1e-9,
    );
  });

  test('what warms with a voltage on it counts without a profile, and what nobody noted is said', () => {
    const fed = injectionOf('main rail', 1, {
      circuit: 'rail.main',
      amps: 2,
      heat: 'one-spot',
      hotCircuit: 'rail.main',
      hot: 'a capacitor',
    });
    const belief = beliefOf(deadUnits[4], { injections: [fed] });
    expect(first(belief)).toBe('rail.main');
    const silent = assess(
      { ...deadUnits[4].value, injections: [injectionOf('main rail', 1, { circuit: 'rail.main' })] },
      deadUnits[4].shapes,
    );
    expect(silent.warnings.join()).toMatch(/neither current nor heat/);
  });

  test('two readings of one point that disagree are said', () => {
    const at = { where: 'coil 2', circuit: 'rail.run' as const, mode: 'resistance' as const };
    const readings = [readingOf({ ...at, value: 0.2 }), readingOf({ ...at, value: 5000 })];
    expect(assess({ ...deadUnits[4].value, readings }, deadUnits[4].shapes).warnings.join()).toMatch(/coil 2/);
  });
});

describe('a history', () => {
  const healthy = 'dc-in 12V limit 4A: 30mA | prompt 0.4 1.1 2.4 1.6 2.9 1.5 2.8 1.3 1.7 hold';
  const scene = deadUnits[4];
  const dead = scene.value.runs[0].typed as string;
  const cured = (circuit: CircuitId): Belief =>
    believe(...argumentsOf(withRun(scene, healthy, 'a1', [actionOf('a1', 'replace', { circuit, runBefore: 'r1' })])));

  test.each(faultyCircuits)('a cure never lowers what was changed: %s', (circuit) => {
    expect(p(cured(circuit), circuit)).toBeGreaterThan(p(beliefOf(scene), circuit));
  });

  test('after a cure it works, the cause stays named, and what is next are proofs', () => {
    const belief = cured('rail.run');
    expect(first(belief)).toBe('rail.run');
    expect(p(belief, 'rail.run')).toBeGreaterThan(0.8);
    expect(belief.now.works).toBeGreaterThan(0.8);
    const { next } = assess(belief.history.value, new Map(belief.history.seen.map((s) => [s.run.id, s.shape])));
    expect(next.length).toBeGreaterThan(0);
    expect(next.every((n) => n.kind === 'verify')).toBe(true);
  });

  test('a change after which nothing changes clears what was changed', () => {
    const same = believe(
      ...argumentsOf(withRun(scene, dead, 'a1', [actionOf('a1', 'replace', { circuit: 'rail.run', runBefore: 'r1' })])),
    );
    expect(p(same, 'rail.run')).toBeLessThan(p(beliefOf(scene), 'rail.run'));
    expect(same.now['same-fault']).toBeGreaterThan(0.8);
  });

  test('the same change undone counts: the fault comes back with the part', () => {
    const off = actionOf('a1', 'disconnect', { circuit: 'display', runBefore: 'r1' });
    const on = actionOf('a2', 'refit', { circuit: 'display', undoes: 'a1' });
    const once = withRun(scene, healthy, 'a1', [off]);
    const back = withRun(once, dead, 'a2', [off, on]);
    expect(p(believe(...argumentsOf(back)), 'display')).toBeGreaterThan(
      p(believe(...argumentsOf(once)), 'display') - 1e-9,
    );
    expect(believe(...argumentsOf(back)).now.works).toBeLessThan(0.2);
  });

  test('several runs after one change all count', () => {
    const action = actionOf('a1', 'clean', { circuit: 'input.port', runBefore: 'r1' });
    const once = withRun(scene, healthy, 'a1', [action]);
    const then = withRun(once, dead, 'a1', [action]);
    expect(believe(...argumentsOf(then)).now.works).toBeLessThan(believe(...argumentsOf(once)).now.works);
  });

  test('a reading of the cured device says nothing against the cause', () => {
    const action = actionOf('a1', 'replace', { circuit: 'rail.run', runBefore: 'r1' });
    const good = withRun(scene, healthy, 'a1', [action]);
    const stands = readingOf({
      mode: 'voltage',
      value: 3.3,
      reference: 3.3,
      where: 'run 3.3 V',
      circuit: 'rail.run',
      prompted: true,
      after: 'a1',
    });
    const before = believe(...argumentsOf(good));
    const after = believe({ ...good.value, readings: [stands] }, good.shapes);
    expect(p(after, 'rail.run')).toBeGreaterThan(p(before, 'rail.run') - 0.05);
  });

  test('a healthy start typed as four numbers is healthy', () => {
    const { value, shapes } = typedCase('phone', ['battery 4V limit 3A: 0 | prompt 0.1 0.5 1.2 0.6']);
    expect(first(believe(value, shapes))).toBe('none');
  });
});

test('every circuit has a name, so that reasons can be read', () => {
  for (const id of faultyCircuits) expect(circuitNames[id]).not.toBe('');
});
