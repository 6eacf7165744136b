import { believe } from '../diagnosis/index.ts';
import { recorded } from '../testing/recorded.ts';
import { shippedProfile, type Profile } from '../twin/index.ts';
import { predictChange } from './change.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const { value, run, shape } = recorded(phone, 'mute:storage-chip');
const believed = believe({ ...value, runs: [run] }, new Map([[run.id, shape]]));

test('who is worked on expects a cure, the others that nothing moves', () => {
  const told = predictChange(believed, 'replace', 'storage-chip');
  expect(told.length).toBeGreaterThan(1);
  for (const { element, moved, certainty } of told) {
    expect([element.id, moved]).toEqual([element.id, element.id === 'storage-chip' ? 'recovers' : 'same']);
    expect(certainty).toBeGreaterThan(0.5);
  }
});

test('it is named as a person names it, and what is not on the board predicts nothing', () => {
  const name = phone.parts.find((p) => p.id === 'storage-chip')?.name ?? '';
  expect(predictChange(believed, 'replace', name.toUpperCase()).length).toBeGreaterThan(1);
  expect(predictChange(believed, 'replace', 'a thing of nobody')).toEqual([]);
});
