import { historyOf } from '../diagnosis/index.ts';
import { everyScene } from '../testing/scenes.ts';
import { observationKinds, sayOutcome } from './index.ts';

test('the same word means what its test means by it', () => {
  expect(sayOutcome('nothing', 'check')).toBe('nothing');
  expect(sayOutcome('nothing', 'injection')).toBe('nothing warms');
  expect(sayOutcome('same', 'check')).toBe('same');
  expect(sayOutcome('same', 'action')).toBe('nothing moves');
  expect(sayOutcome('swings', 'reading')).toBe('comes and goes');
  expect(sayOutcome('spot:rail.main', 'injection')).toBe('Main system rail warms');
  expect(sayOutcome('backlight-only', 'check')).toBe('backlight only');
});

test('no outcome of any test is shown as a code of the program', () => {
  for (const { value, shapes } of everyScene().filter((s) => s.value.device.profile === null))
    for (const kind of observationKinds)
      for (const { kind: of, question } of kind.candidates(historyOf(value, shapes).history))
        for (const word of Object.keys(question.outcomes)) expect(sayOutcome(word, of)).toMatch(/^[A-Za-z][^:]*$/);
});
