import * as yup from 'yup';
import { overloadKinds } from '../../twin/index.ts';
import { above0, expected, from0, id, list, number, part, text } from '../rules.ts';

const share = () => number().test('share', 'expected a number from 0 to 1', (x) => x == null || (x >= 0 && x <= 1));
const given = <T extends yup.Schema>(rule: T, what: string) =>
  rule.test('given', `is missing; expected ${what}`, (x) => x != null);
const whole = (from: number, to: number) =>
  number().test(
    'whole',
    `expected a whole number from ${from} to ${to}`,
    (x) => x != null && Number.isInteger(x) && x >= from && x <= to,
  );

/** What an edit is, told by the one key that only its kind has. */
const editKinds = ['at', 'scale', 'needs', 'stage', 'remove', 'add', 'device', 'cells', 'chargeShare'] as const;

const edit = yup
  .mixed<Record<string, unknown>>()
  .test('edit', `expected an object with one of ${editKinds.join(', ')}`, (x) => {
    if (x === null || typeof x !== 'object' || Array.isArray(x)) return false;
    return editKinds.filter((kind) => kind in x).length === 1;
  })
  .test('ids', 'expected a list of ids', (x) =>
    (['at', 'scale', 'needs', 'remove', 'only'] as const).every((key) => {
      const ids = x?.[key];
      return ids === undefined || (Array.isArray(ids) && ids.length > 0 && ids.every((one) => typeof one === 'string'));
    }),
  )
  .test('set', 'expected "set", an object of fields', (x) => !x || !('at' in x || 'needs' in x) || isObject(x.set))
  .test('by', 'expected "field", text, and "by", a number', (x) => {
    return !x || !('scale' in x) || (typeof x.field === 'string' && typeof x.by === 'number');
  })
  .test('stage', 'expected "wait", what it waits for, or "drop", an id', (x) => {
    return !x || !('stage' in x) || isObject(x.wait) || typeof x.drop === 'string';
  })
  .test('cells', 'expected "cells", a whole number, and "rails", a list of ids', (x) => {
    return !x || !('cells' in x) || (Number.isInteger(x.cells) && Array.isArray(x.rails));
  })
  .test('charge', 'expected "chargeShare", a number from 0 to 1', (x) => {
    const of = x?.chargeShare;
    return of === undefined || (typeof of === 'number' && of >= 0 && of <= 1);
  })
  .test('overload', `expected onOverload to be one of ${overloadKinds.join(', ')}`, (x) => {
    const of = isObject(x?.set) ? x.set.onOverload : undefined;
    return of === undefined || overloadKinds.includes(of as (typeof overloadKinds)[number]);
  });

function isObject(x: unknown): x is Record<string, unknown> {
  return x !== null && typeof x === 'object' && !Array.isArray(x);
}

const option = { id: id(), weight: given(share(), 'a number from 0 to 1'), words: text(), edits: list(edit) };

const alternative = {
  id: id(),
  name: text(),
  only: list(id()),
  options: given(list(part(option, true)), 'a list of options').test(
    'some',
    'expected at least one option',
    (x) => x == null || x.length > 0,
  ),
};

const spread = {
  level: given(from0(), 'a number from 0'),
  time: given(from0(), 'a number from 0'),
  limit: given(from0(), 'a number from 0'),
  efficiency: given(from0(), 'a number from 0'),
  merged: given(share(), 'a number from 0 to 1'),
  reordered: given(share(), 'a number from 0 to 1'),
};

export const populationSchema = yup
  .object({
    name: text(),
    profiles: given(list(id()), 'a list of ids of profiles').test(
      'some',
      'expected at least one id of a profile',
      (x) => x == null || x.length > 0,
    ),
    devices: whole(1, 200),
    seed: given(above0(), 'a number above 0'),
    spread: part(spread, true),
    alternatives: given(list(part(alternative, true)), 'a list of alternatives'),
  })
  .typeError(expected.object);
