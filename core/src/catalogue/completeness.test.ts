import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  actionKinds,
  checkIds,
  checkTypes,
  circuitIds,
  complaintKinds,
  depths,
  deviceClasses,
  elementKinds,
  faultKinds,
  faultKindsAt,
  faultTypes,
  isCheck,
  patternIds,
  patternTypes,
  type CheckId,
} from './index.ts';

const isCircuit = (id: string): boolean => (circuitIds as readonly string[]).includes(id);

/** What other rooms hold about the ids of the catalogues, as data. */
const data = <T>(file: string): T => JSON.parse(readFileSync(join(__dirname, '..', file), 'utf8')) as T;

type Shares = Record<string, number>;

describe('a pattern', () => {
  const { rows } = data<{ rows: { pattern: string; suspects?: Shares; consistent?: Shares }[] }>(
    'observation/patterns.json',
  );
  test.each(patternIds.filter((id) => id !== 'unrecognised'))('%s has causes, or is that of a healthy device', (id) => {
    const own = rows.filter((r) => r.pattern === id);
    expect(own.length).toBeGreaterThan(0);
    for (const row of own) expect(patternTypes[id].healthyWhen ? row.consistent : row.suspects).toBeDefined();
  });
  test('rows speak of patterns and circuits that there are', () => {
    const patterns = new Set<string>(patternIds);
    for (const { pattern, suspects = {}, consistent = {} } of rows) {
      expect(patterns).toContain(pattern);
      for (const circuit of [...Object.keys(suspects), ...Object.keys(consistent)])
        expect([pattern, circuit, isCircuit(circuit)]).toEqual([pattern, circuit, true]);
    }
  });
  test.each(patternIds)('%s gives away outcomes that its checks have', (id) => {
    for (const [check, [outcome, certainty]] of Object.entries(patternTypes[id].implies ?? {})) {
      expect(isCheck(check)).toBe(true);
      expect(checkTypes[check as CheckId].outcomes).toContain(outcome);
      expect(certainty).toBeGreaterThan(0.5);
      expect(certainty).toBeLessThanOrEqual(1);
    }
  });
});

describe('a circuit', () => {
  const { base } = data<{ base: Shares }>('hypotheses/priors.json');
  const { places } = data<{ places: Record<string, unknown> }>('hypotheses/vocabulary.json');
  const { points } = data<{ points: Shares }>('hypotheses/circuits.json');
  const { columnOfCircuit } = data<{ columnOfCircuit: Record<string, string> }>('observation/readings.json');
  test.each(circuitIds)('%s has a base rate', (id) => {
    expect(base[id]).toBeGreaterThan(0);
    expect(base[id]).toBeLessThan(1);
  });
  test.each(circuitIds.filter((id) => id !== 'none' && id !== 'unmodelled'))(
    '%s can be named by its words, has places to measure, and a state in which it is up',
    (id) => {
      expect(places[id]).toBeDefined();
      expect(points[id]).toBeGreaterThan(0);
      expect(columnOfCircuit[id]).toBeDefined();
    },
  );
});

describe('a check', () => {
  const tables = data<Record<string, Record<string, Shares>>>('observation/outcomes.json');
  test.each(checkIds)('%s has a depth with a name, minutes and outcomes that differ', (id) => {
    const { depth, minutes, outcomes } = checkTypes[id];
    expect(depths[depth]).toBeDefined();
    expect(minutes).toBeGreaterThan(0);
    expect(new Set(outcomes).size).toBe(outcomes.length);
  });
  // Of the halves the table of where each circuit sits says what is seen.
  test.each(checkIds.filter((id) => checkTypes[id].outcomes.length > 0 && id !== 'halves-apart'))(
    '%s has a share for each of its outcomes, by circuits that there are',
    (id) => {
      const { outcomes, notFitted } = checkTypes[id];
      expect(Object.keys(tables[id].default).sort()).toEqual(outcomes.filter((word) => word !== notFitted).sort());
      for (const [circuit, row] of Object.entries(tables[id])) {
        expect([circuit, circuit === 'default' || isCircuit(circuit)]).toEqual([circuit, true]);
        for (const word of Object.keys(row)) expect(checkTypes[id].outcomes).toContain(word);
      }
    },
  );
  test('no table is left of a check that is gone, or whose answer is no word', () => {
    for (const id of Object.keys(tables))
      expect([id, checkTypes[id as CheckId]?.outcomes.length ?? 0]).not.toEqual([id, 0]);
  });
});

describe('a kind of fault', () => {
  const { kinds } = data<{ kinds: Record<string, Shares> }>('hypotheses/hypotheses.json');
  test.each(elementKinds)('every one that a %s can have has a share among its faults, and no other', (element) => {
    expect(Object.keys(kinds[element]).sort()).toEqual(faultKindsAt(element).sort());
  });
  test.each(faultKinds.filter((k) => faultTypes[k].value))('%s is usually what it can be', (kind) => {
    const { usual, min, max } = faultTypes[kind].value!;
    expect(usual).toBeGreaterThanOrEqual(min);
    expect(usual).toBeLessThanOrEqual(max);
  });
});

describe('a change', () => {
  const { kinds, reach } = data<{ kinds: Record<string, unknown>; reach: Record<string, unknown> }>(
    'observation/changes.json',
  );
  test.each(actionKinds)('%s says what becomes of a fault, and how far it reaches', (kind) => {
    expect(kinds[kind]).toBeDefined();
    expect(reach[kind]).toBeDefined();
  });
});

describe('a class and a complaint', () => {
  const priors = data<{ class: Record<string, unknown>; complaint: Record<string, unknown> }>('hypotheses/priors.json');
  const figures = data<Record<string, unknown>>('prediction/classes.json');
  test.each(deviceClasses)('%s has figures and base rates of its own', (id) => {
    expect(figures[id]).toBeDefined();
    expect(priors.class[id]).toBeDefined();
  });
  test.each(complaintKinds)('%s moves the base rates', (id) => {
    expect(priors.complaint[id]).toBeDefined();
  });
});
