import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  actionKinds,
  checkTypes,
  circuitIds,
  complaintKinds,
  deviceClasses,
  elementKinds,
  faultTypes,
  patternTypes,
  type ElementKind,
} from '../catalogue/index.ts';

/** Of a definition in a catalogue, what other rooms have to answer. */
interface Definitions {
  patterns: Record<string, { healthyWhen?: string; implies?: Readonly<Record<string, readonly [string, number]>> }>;
  checks: Record<string, { outcomes: readonly string[]; notFitted?: string; readBy?: string }>;
  faults: Record<string, { at: readonly ElementKind[]; value?: { usual: number; min: number; max: number } }>;
  circuits: readonly string[];
  classes: readonly string[];
  complaints: readonly string[];
  changes: readonly string[];
}

/** The catalogues, and the files that other rooms keep about their ids. */
export interface House extends Definitions {
  /** A file under `core/src`, as text. */
  text: (file: string) => string;
}

const sources = join(__dirname, '..');

export const house: House = {
  patterns: patternTypes,
  checks: checkTypes,
  faults: faultTypes,
  circuits: circuitIds,
  classes: deviceClasses,
  complaints: complaintKinds,
  changes: actionKinds,
  text: (file) => readFileSync(join(sources, file), 'utf8'),
};

type Shares = Record<string, number>;
type Row = { pattern: string; suspects?: Shares; consistent?: Shares };

/**
 * What is missing, or left of an entry that is gone: a line each, which begins with the file it is to stand in. The walks of
 * CONTRIBUTING.md are held by it: an entry of which a place was forgotten is named here.
 */
export function missingPlaces(given: House): string[] {
  const json = <T>(file: string): T => JSON.parse(given.text(file)) as T;
  const out: string[] = [];
  const need = (holds: unknown, file: string, what: string): void => {
    if (!holds) out.push(`${file}: ${what}`);
  };
  const names = (file: string, id: string): boolean =>
    new RegExp(`(^|[^\\w-])'?${id}'?[^\\w-]`, 'm').test(given.text(file));
  patterns();
  checks();
  faults();
  bases();
  return out;

  function patterns(): void {
    const { rows } = json<{ rows: Row[] }>('observation/patterns.json');
    const scores = ['patterns-start', 'patterns-held', 'patterns-port'].map((name) => `shape/${name}.ts`);
    for (const [id, { healthyWhen, implies = {} }] of Object.entries(given.patterns)) {
      if (id === 'unrecognised') continue;
      const own = rows.filter((r) => r.pattern === id);
      const isFull = own.length > 0 && own.every((r) => (healthyWhen ? r.consistent : r.suspects));
      need(isFull, 'observation/patterns.json', `what causes "${id}"`);
      need(
        scores.some((file) => names(file, id)),
        'shape/patterns-start.ts',
        `what "${id}" is recognised by`,
      );
      need(names('shape/patterns.test.ts', id), 'shape/patterns.test.ts', `an example of "${id}"`);
      for (const [check, [outcome, p]] of Object.entries(implies))
        need(
          given.checks[check]?.outcomes.includes(outcome) && p > 0.5 && p <= 1,
          'catalogue/patterns.ts',
          `"${id}" gives away "${outcome}", which is no outcome of "${check}"`,
        );
    }
    for (const { pattern, suspects, consistent } of rows) {
      need(given.patterns[pattern], 'observation/patterns.json', `"${pattern}" is no pattern`);
      for (const circuit of Object.keys({ ...suspects, ...consistent }))
        need(given.circuits.includes(circuit), 'observation/patterns.json', `"${circuit}" is no circuit`);
    }
  }

  function checks(): void {
    const tables = json<Record<string, Record<string, Shares>>>('observation/outcomes.json');
    for (const [id, { outcomes, notFitted, readBy }] of Object.entries(given.checks)) {
      need(new Set(outcomes).size === outcomes.length, 'catalogue/checks.ts', `an outcome of "${id}" twice`);
      need(names('observation/check-applies.ts', id), 'observation/check-applies.ts', `when "${id}" fits`);
      // Of the halves the table of where each circuit sits says what is seen.
      if (outcomes.length === 0 || readBy === 'halves') continue;
      const expected = outcomes.filter((word) => word !== notFitted).sort();
      const stated = Object.keys(tables[id]?.default ?? {}).sort();
      need(String(stated) === String(expected), 'observation/outcomes.json', `a share for each outcome of "${id}"`);
    }
    for (const [id, table] of Object.entries(tables)) {
      const words = given.checks[id]?.outcomes ?? [];
      need(words.length > 0, 'observation/outcomes.json', `"${id}" is no check that is answered with a word`);
      for (const [circuit, row] of Object.entries(table)) {
        need(
          circuit === 'default' || given.circuits.includes(circuit),
          'observation/outcomes.json',
          `"${circuit}" is no circuit`,
        );
        for (const word of Object.keys(row))
          need(words.includes(word), 'observation/outcomes.json', `"${word}" is not an outcome of "${id}"`);
      }
    }
  }

  function faults(): void {
    const { kinds } = json<{ kinds: Record<string, Shares> }>('hypotheses/hypotheses.json');
    for (const [kind, { value }] of Object.entries(given.faults)) {
      need(
        kind === 'none' || names('twin/fault-effects.ts', kind),
        'twin/fault-effects.ts',
        `what "${kind}" does to a board`,
      );
      need(
        !value || (value.usual >= value.min && value.usual <= value.max),
        'catalogue/fault-kinds.ts',
        `"${kind}" is usually what it cannot be`,
      );
    }
    for (const element of elementKinds) {
      const can = Object.keys(given.faults)
        .filter((kind) => given.faults[kind].at.includes(element))
        .sort();
      need(
        String(Object.keys(kinds[element]).sort()) === String(can),
        'hypotheses/hypotheses.json',
        `a share for each fault of a ${element}: ${can.join(', ')}`,
      );
    }
  }

  function bases(): void {
    const priors = json<{ base: Shares; class: object; complaint: object }>('hypotheses/priors.json');
    const { places } = json<{ places: object }>('hypotheses/vocabulary.json');
    const { points } = json<{ points: Shares }>('hypotheses/circuits.json');
    const { columnOfCircuit } = json<{ columnOfCircuit: object }>('observation/readings.json');
    const figures = json<object>('prediction/classes.json');
    const { kinds, reach } = json<{ kinds: object; reach: object }>('observation/changes.json');
    for (const id of given.circuits) {
      need(priors.base[id] > 0 && priors.base[id] < 1, 'hypotheses/priors.json', `a base rate of "${id}"`);
      if (id === 'none' || id === 'unmodelled') continue;
      need(id in places, 'hypotheses/vocabulary.json', `words that name "${id}"`);
      need(points[id] > 0, 'hypotheses/circuits.json', `how many places "${id}" has`);
      need(id in columnOfCircuit, 'observation/readings.json', `the state in which "${id}" is up`);
    }
    for (const id of given.classes) {
      need(id in priors.class, 'hypotheses/priors.json', `base rates of the class "${id}"`);
      need(id in figures, 'prediction/classes.json', `what a "${id}" draws`);
    }
    for (const id of given.complaints)
      need(id in priors.complaint, 'hypotheses/priors.json', `what the complaint "${id}" says`);
    for (const id of given.changes)
      need(id in kinds && id in reach, 'observation/changes.json', `what "${id}" does to a fault`);
  }
}
