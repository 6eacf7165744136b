import type { CircuitId } from '@umbral/core';
import type { FormingCall } from './acts';
import { isSettled } from './settled';

const call = (name: string, p: number, top: CircuitId = 'core.storage', topP = 0.5): FormingCall => ({
  odd: [],
  untilS: 4,
  markers: [],
  pulled: [],
  pattern: { id: 'stall-mid', name, p },
  suspects: [{ id: top, name: top, p: topP, target: null, draws: [] }],
});
const four = (make: (k: number) => FormingCall): FormingCall[] => [0, 1, 2, 3].map(make);

describe('enough seen', () => {
  test('four calls that agree', () => expect(isSettled(four(() => call('Climbs', 0.9)))).toBe(true));

  test.each([
    ['too few', four(() => call('Climbs', 0.9)).slice(1)],
    ['another pattern among them', four((k) => call(k === 2 ? 'Stalls' : 'Climbs', 0.9))],
    ['a pattern that is not sure', four(() => call('Climbs', 0.4))],
    ['another first suspect', four((k) => call('Climbs', 0.9, k === 3 ? 'radio' : 'core.storage'))],
    ['a suspect still on the move', four((k) => call('Climbs', 0.9, 'core.storage', 0.4 + 0.02 * k))],
    ['no pattern', four(() => ({ odd: [], untilS: 4, markers: [], pulled: [], pattern: null, suspects: [] }))],
  ])('not with %s', (_, calls) => expect(isSettled(calls)).toBe(false));

  test('what was before the last four does not count', () =>
    expect(isSettled([call('Stalls', 0.3), ...four(() => call('Climbs', 0.9))])).toBe(true));
});
