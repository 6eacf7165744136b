import { bareCase, type Case } from '../case/index.ts';
import type { CircuitId } from '../catalogue/index.ts';
import { assess, predictedDraw, type Assessment } from '../diagnosis/index.ts';
import { topPattern } from '../shape/index.ts';
import { seededRandom } from '../trace/index.ts';
import { shippedProfile, type Fault, type Profile } from '../twin/index.ts';
import {
  decidingFact,
  drawUnit,
  missedBy,
  practicableCircuits,
  rivalOf,
  usualRun,
  type Call,
  type HeldCall,
} from './index.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;

/** A unit on the supply with its button pressed once, and what the engine makes of it. */
function seen(device: Profile, faults: readonly Fault[], seed: number) {
  const { run, shape, pattern } = usualRun(device, faults, { feed: 'battery', battery: false }, seededRandom(seed));
  const of = { class: 'phone' as const, model: phone.name, profile: phone.id };
  const value: Case = { ...bareCase(of, [], 'practice'), runs: [run] };
  const given = assess(value, new Map([[run.id, shape]]));
  const held = (truth: CircuitId, called: CircuitId, percent = 100): HeldCall => {
    const call: Call = { pattern, shares: [{ circuit: called, percent }], test: '', expects: '' };
    const rival = rivalOf(call, given, truth);
    const draw = (circuit: CircuitId) => predictedDraw(value, run, shape, circuit);
    return {
      call,
      given,
      truth,
      draws: rival === null ? [] : [{ run: run.id, own: draw(truth), other: draw(rival) }],
    };
  };
  return { given, held };
}

const units = practicableCircuits(phone)
  .filter((c) => c !== 'none')
  .flatMap((circuit) => [1, 2].map((seed) => ({ circuit, seed })))
  .map(({ circuit, seed }) => {
    const { device, faults } = drawUnit({ profile: phone, circuit }, seededRandom(seed));
    return { circuit, ...seen(device, faults, seed) };
  });

/** What a learner may call a unit: what it is, what the engine thinks, and the two that are likeliest beside it. */
const callsOf = (circuit: CircuitId, { circuits }: Assessment): CircuitId[] => [
  ...new Set([circuit, ...circuits.slice(0, 3).map((c) => c.id)]),
];

test('a learner who follows what is said never learns a wrong link', () => {
  // What was said to speak for a circuit, by what the unit had: everything is on the diagonal.
  const reinforced = new Map<CircuitId, Map<CircuitId, number>>();
  let [said, misled] = [0, 0];
  for (const { circuit, given, held } of units) {
    if (given.circuits[0].id !== circuit) misled++;
    for (const called of callsOf(circuit, given)) {
      const of = held(circuit, called);
      for (const fact of [decidingFact(of), ...missedBy(of)]) {
        if (!fact?.circuit) continue;
        said++;
        const row = reinforced.get(circuit) ?? new Map<CircuitId, number>();
        reinforced.set(circuit, row.set(fact.circuit, (row.get(fact.circuit) ?? 0) + 1));
      }
    }
  }
  expect(said).toBeGreaterThan(5);
  // Otherwise the evidence alone would do, and nothing would be held here.
  expect(misled).toBeGreaterThan(units.length / 4);
  for (const [circuit, row] of reinforced) expect([...row.keys()]).toEqual([circuit]);
});

test('nothing is said for or against a circuit where the evidence leads to another than the unit’s', () => {
  for (const { circuit, given, held } of units.filter((u) => u.given.circuits[0].id !== u.circuit))
    for (const called of callsOf(circuit, given))
      expect(missedBy(held(circuit, called)).filter((f) => f.circuit !== null)).toEqual([]);
});

test('the fact that decides is a figure of the run: what flows shows that the battery line is whole', () => {
  const { held } = seen(phone, [{ kind: 'mute', at: 'button', value: null, side: null }], 4);
  const fact = decidingFact(held('button', 'input.protection'));
  expect(fact?.says).toMatch(
    /^Seen: \d mA before power-on\. Button and wake line would show \d mA, Input protection 0 mA\.$/,
  );
  expect(fact).toMatchObject({ circuit: 'button', run: 'r1', span: [0, expect.any(Number)] });
});

test('a pattern that was named wrong is said, whatever the circuit', () => {
  const { given, held } = units[0];
  const of = held(units[0].circuit, 'display');
  const wrong = topPattern(given.runs[0].pattern) === 'hiccup' ? 'no-draw' : 'hiccup';
  const [fact] = missedBy({ ...of, call: { ...of.call, pattern: wrong } });
  expect(fact).toMatchObject({ circuit: null, run: 'r1', says: expect.stringContaining('not “') });
});

test('sure beyond what was seen is said to whoever is right', () => {
  const right = units.find(({ circuit, given }) => given.circuits[0].id === circuit && given.circuits[0].p < 0.6);
  if (!right) throw new Error('no such unit');
  const said = missedBy(right.held(right.circuit, right.circuit, 100));
  expect(said.some((f) => f.says.startsWith('You said 100 %'))).toBe(true);
});
