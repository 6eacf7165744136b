import type { Scorecard } from '@umbral/core';
import { adviceFor } from './advice';

type View = Parameters<typeof adviceFor>[1];
const found = { cases: 40, gain: 0.1, gainError: 0.02, slope: 0.8, shift: 0 } as View['recalibration']['found'];
const view = (holds: View['holds'], isOn: boolean, has = true): View => ({
  holds,
  recalibration: { isOn, found: has ? found : null, curve: [] },
});
const confusions = [
  { was: 'core.memory', said: 'core.storage', jobs: 4, counted: 'x' },
] as unknown as Scorecard['confusions'];

test('says in a sentence what to do, and whether the percentages of today are adjusted', () => {
  expect(adviceFor({ confusions }, view('too-much', false))).toMatch(
    /^Switch on the adjustment below\. Before you order/,
  );
  expect(adviceFor({ confusions }, view('holds', true))).toBe(
    'Before you order a part for storage, measure once more: it was most often memory. The percentages you see today are already adjusted by these results.',
  );
  expect(adviceFor({ confusions: [] }, view('holds', false, false))).toBe(
    'Go on as before. The percentages you see today are not adjusted.',
  );
  expect(adviceFor({ confusions }, view('too-few', false))).toMatch(/^Confirm the cause when you close a job/);
});
