import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { house, missingPlaces, type House } from '../testing/completeness.ts';
import { checkIds, checkTypes, depths } from './index.ts';

test('nothing is missing, and nothing is left of what is gone', () => {
  expect(missingPlaces(house)).toEqual([]);
});

test.each(checkIds)('%s has a depth with a name, and minutes', (id) => {
  const { depth, minutes } = checkTypes[id];
  expect(depths[depth]).toBeDefined();
  expect(minutes).toBeGreaterThan(0);
});

/** The house with other text in some of its files. */
const withText = (given: House, changes: Record<string, (text: string) => string>): House => ({
  ...given,
  text: (file) => (changes[file] ? changes[file](given.text(file)) : given.text(file)),
});
const withJson =
  <T>(change: (value: T) => void) =>
  (text: string): string => {
    const value = JSON.parse(text) as T;
    change(value);
    return JSON.stringify(value);
  };
type Tree = Record<string, Record<string, unknown>>;

/** A walk: a toy entry in its catalogue, and each place that is told to be missing until it is there. */
const walks: Record<string, { begun: House; steps: Record<string, (text: string) => string> }> = {
  'A pattern': {
    begun: { ...house, patterns: { ...house.patterns, 'toy-hold': {} } },
    steps: {
      'shape/patterns-start.ts': (text) => `${text}\nconst scores = { 'toy-hold': 0 };\n`,
      'observation/patterns.json': withJson<{ rows: object[] }>(({ rows }) =>
        rows.push({ pattern: 'toy-hold', suspects: { pmic: 100 } }),
      ),
      'shape/patterns.test.ts': (text) => `${text}\n// { pattern: 'toy-hold' }\n`,
    },
  },
  'A kind of fault': {
    begun: { ...house, faults: { ...house.faults, toy: { at: ['part'] } } },
    steps: {
      'twin/fault-effects.ts': (text) => `${text}\nconst effects = { toy: null };\n`,
      'hypotheses/hypotheses.json': withJson<{ kinds: Tree }>(({ kinds }) => (kinds.part.toy = 0.1)),
    },
  },
  'A check': {
    begun: { ...house, checks: { ...house.checks, 'toy-look': { outcomes: ['odd', 'even'] } } },
    steps: {
      'observation/check-applies.ts': (text) => `${text}\nconst fits = { 'toy-look': () => true };\n`,
      'observation/outcomes.json': withJson<Tree>(
        (tables) => (tables['toy-look'] = { default: { odd: 0.5, even: 0.5 } }),
      ),
    },
  },
  'A prior': {
    begun: { ...house, circuits: [...house.circuits, 'toy.rail'], complaints: [...house.complaints, 'toy-noise'] },
    steps: {
      'hypotheses/priors.json': withJson<Tree>((priors) => {
        priors.base['toy.rail'] = 0.01;
        priors.complaint['toy-noise'] = {};
      }),
      'hypotheses/vocabulary.json': withJson<Tree>(({ places }) => (places['toy.rail'] = [])),
      'hypotheses/circuits.json': withJson<Tree>(({ points }) => (points['toy.rail'] = 2)),
      'observation/readings.json': withJson<Tree>(({ columnOfCircuit }) => (columnOfCircuit['toy.rail'] = 'standby')),
    },
  },
};

const guide = readFileSync(join(__dirname, '..', '..', '..', 'CONTRIBUTING.md'), 'utf8');

describe.each(Object.entries(walks))(
  '%s is added where the guide says, and nowhere else',
  (title, { begun, steps }) => {
    const section = new RegExp(`### \\d\\. ${title}\\n([^]*?)\\n##`).exec(guide)?.[1] ?? '';

    test('each place that is forgotten is named', () => {
      const told = new Set(missingPlaces(begun).map((line) => line.split(':')[0]));
      expect([...told].sort()).toEqual(Object.keys(steps).sort());
      for (const file of told) expect(section).toContain(file.split('/').at(-1));
    });

    test.each(Object.keys(steps))('all but %s is not enough', (left) => {
      const others = Object.fromEntries(Object.entries(steps).filter(([file]) => file !== left));
      const told = missingPlaces(withText(begun, others));
      expect(told.length).toBeGreaterThan(0);
      for (const line of told) expect(line.startsWith(`${left}: `)).toBe(true);
    });

    test('with all of them nothing is missing', () => {
      expect(missingPlaces(withText(begun, steps))).toEqual([]);
    });
  },
);
