import fc from 'fast-check';
import { checkInjection, planBoard, planInjection } from '../bench/index.ts';
import { actionKinds, checkTypes, circuitIds, type CheckId } from '../catalogue/index.ts';
import { plainAction, plainCheck, sayAction, type Case } from '../case/index.ts';
import { assess, describe as describeRun } from '../diagnosis/index.ts';
import { countOf } from '../quantity/index.ts';
import { faultsOf, sentencesIn } from '../testing/speech.ts';
import { seededRandom } from '../trace/index.ts';
import { shippedProfiles } from '../twin/index.ts';
import { declineText, quoteText } from '../workbench/index.ts';
import { makeCase } from './virtual-case.ts';

const odd = (value: unknown): string[] =>
  sentencesIn(value).flatMap(({ way, text }) => faultsOf(text).map((what) => `${way}: ${what}: ${text}`));

test('the checker finds what it is for', () => {
  const wrong = [
    'a  b',
    'arm , 2 A',
    'about 1 minutes',
    '3 case',
    'Memory, memory',
    'the the rail',
    'reads mA',
    'is undefined',
  ];
  for (const text of wrong) expect([text, faultsOf(text).length > 0]).toEqual([text, true]);
  for (const text of ['47 mA, 3.9 V', '1 minute', '21 cases', '“Boot loop” (91 %)', '10-minute walk'])
    expect([text, faultsOf(text)]).toEqual([text, []]);
});

test('no sentence of a verdict or of a plan has a flaw, whatever the unit, the checks and the changes', () => {
  const wrong = new Set<string>();
  const profiles = new Map(shippedProfiles.map((p) => [p.id, p]));
  for (let seed = 1; seed <= 13; seed++) {
    const profile = shippedProfiles[seed % shippedProfiles.length];
    const one = makeCase(profile, seededRandom(seed), { generic: seed % 3 === 0 });
    const shapes = new Map(
      one.value.runs.flatMap((run) => {
        const trace = one.traces.get(run.id);
        return trace ? [[run.id, describeRun(one.value, run, trace, null)] as const] : [];
      }),
    );
    const checks = (Object.keys(checkTypes) as CheckId[]).flatMap((id, k) => {
      const outcome = k % 2 === seed % 2 ? one.outcomeOf(id) : null;
      return outcome === null ? [] : [{ ...plainCheck, id, outcome }];
    });
    const kind = actionKinds[seed % actionKinds.length];
    const action = { ...plainAction, id: 'a1', kind, circuit: circuitIds[seed % circuitIds.length], target: 'coil 2' };
    const states: Case[] = [
      one.value,
      { ...one.value, checks },
      { ...one.value, checks, readings: one.readings },
      { ...one.value, checks, readings: one.readings, actions: [action] },
    ];
    for (const value of states) {
      const verdict = assess(value, shapes, { profiles });
      for (const what of odd(verdict)) wrong.add(what.replace(/^[^:]*: /, ''));
      for (const what of odd(planBoard(value, shapes, { profiles }))) wrong.add(what.replace(/^[^:]*: /, ''));
    }
  }
  expect([...wrong]).toEqual([]);
});

const names = fc.constantFrom('tablet', 'laptop of the tool lending desk, second shelf', 'e-reader 7');

test('no letter to a customer has a flaw', () => {
  fc.assert(
    fc.property(
      fc.record({
        shop: fc.constant({ name: '', contact: '' }),
        date: fc.constant('Monday 2 March 2026'),
        validUntil: fc.constant('Monday 16 March'),
        isDoneHere: fc.boolean(),
        label: names,
        complaint: fc.constantFrom('', 'Stays black', 'Does not charge, gets warm'),
        circuit: fc.constantFrom(...circuitIds),
        p: fc.double({ min: 0, max: 1, noNaN: true }),
        fee: fc.integer({ min: 0, max: 500 }),
        diagnosisFee: fc.integer({ min: 0, max: 30 }),
        success: fc.double({ min: 0, max: 1, noNaN: true }),
        ready: fc.constantFrom(null, 'Thursday'),
        dataWanted: fc.boolean(),
        dataFee: fc.integer({ min: 0, max: 90 }),
      }),
      (facts) => {
        // The head is a name and a date, and no sentence.
        const lines = [quoteText(facts), declineText(facts)].flatMap((text) => text.split('\n').slice(1));
        expect(lines.flatMap((line) => faultsOf(line).map((what) => `${what}: ${line}`))).toEqual([]);
        for (const line of lines) expect(line).toMatch(/[.?”"]$/);
      },
    ),
  );
});

test('no sentence about an injection has a flaw', () => {
  fc.assert(
    fc.property(
      fc.record({
        nominalV: fc.constantFrom(null, 0.85, 1.8, 3.85, 12),
        ohm: fc.double({ min: 0, max: 60, noNaN: true }),
        leadsOhm: fc.double({ min: 0, max: 1, noNaN: true }),
        isMain: fc.boolean(),
        capacitors: fc.constantFrom(null, 0, 1, 3, 12),
        feedsProcessor: fc.boolean(),
        coreBehind: fc.boolean(),
        school: fc.constantFrom('step' as const, 'rated' as const),
        maxV: fc.constantFrom(5, 30),
        maxA: fc.constantFrom(1, 5),
      }),
      fc.record({
        volts: fc.double({ min: 0, max: 5, noNaN: true }),
        amps: fc.double({ min: 0, max: 5, noNaN: true }),
      }),
      (of, seen) => {
        const plan = planInjection(of);
        const checked = plan.steps.map((step) => checkInjection(step, of.leadsOhm, seen));
        expect(odd({ plan, checked })).toEqual([]);
      },
    ),
  );
});

test('changes and counts are said with the right ending', () => {
  for (const kind of actionKinds)
    for (const target of ['coil 2', 'C12', '']) {
      const says = sayAction({ ...plainAction, kind, target, circuit: 'rail.run' });
      expect([kind, faultsOf(says)]).toEqual([kind, []]);
    }
  expect([0, 1, 2].map((n) => countOf(n, 'entry', 'entries'))).toEqual(['0 entries', '1 entry', '2 entries']);
});
