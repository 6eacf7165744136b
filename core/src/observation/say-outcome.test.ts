import { historyOf } from '../diagnosis/index.ts';
import { everyScene } from '../testing/scenes.ts';
import { namesOfHot, observationKinds, sayOutcome } from './index.ts';

test('the same word means what its test means by it', () => {
  expect(sayOutcome('nothing', 'check')).toBe('nothing');
  expect(sayOutcome('nothing', 'injection')).toBe('nothing gets warm');
  expect(sayOutcome('same', 'check')).toBe('same');
  expect(sayOutcome('same', 'action')).toBe('nothing changes');
  expect(sayOutcome('swings', 'reading')).toBe('comes and goes');
  expect(sayOutcome('spot:rail.main', 'injection')).toBe('Main system rail gets warm');
  expect(sayOutcome('backlight-only', 'check')).toBe('backlight only');
});

test('what warms on a board of its own profile is called by its name there', () => {
  expect(sayOutcome('io-conv', 'injection', { 'io-conv': 'I/O converter' })).toBe('I/O converter gets warm');
  const scene = everyScene().find((s) => s.value.device.profile !== null);
  if (!scene) throw new Error('no scene has a model of its own');
  const { history } = { ...historyOf(scene.value, scene.shapes) };
  const fed = observationKinds.flatMap((k) => k.candidates(history)).filter((c) => c.kind === 'injection');
  expect(fed.length).toBeGreaterThan(0);
  for (const { question } of fed) {
    const hot = namesOfHot(history.space, question);
    for (const word of Object.keys(question.outcomes))
      expect(sayOutcome(word, 'injection', hot)).toMatch(/ gets warm$/);
  }
});

test('no outcome of any test is shown as a code of the program', () => {
  for (const { value, shapes } of everyScene().filter((s) => s.value.device.profile === null))
    for (const kind of observationKinds)
      for (const { kind: of, question } of kind.candidates(historyOf(value, shapes).history))
        for (const word of Object.keys(question.outcomes)) expect(sayOutcome(word, of)).toMatch(/^[A-Za-z][^:]*$/);
});
