import fc from 'fast-check';
import { keysOfNotes, noNotes, origins, readNotes, swappedUnits, type ActionNotes } from './action-notes.ts';

const prediction = fc.record({
  id: fc.string(),
  name: fc.string(),
  p: fc.double({ min: 0, max: 1, noNaN: true }),
  moved: fc.string(),
  certainty: fc.double({ min: 0, max: 1, noNaN: true }),
});
const notes: fc.Arbitrary<ActionNotes> = fc.record({
  part: fc.string(),
  orientation: fc.string(),
  confounders: fc.array(fc.string()),
  predicts: fc.array(prediction),
  without: fc.array(fc.string()),
  stays: fc.constantFrom('off' as const, null),
  unit: fc.constantFrom(...swappedUnits, null),
  with: fc.constantFrom(...origins, null),
});
const foreign = fc.dictionary(
  fc.string({ minLength: 1 }).filter((key) => !(key in noNotes) && key !== '__proto__'),
  fc.jsonValue(),
);

test('what is written is read again, and nothing of others is lost', () => {
  fc.assert(
    fc.property(notes, foreign, (given, others) => {
      const read = readNotes(keysOfNotes({ ...given, extra: others }));
      expect(read).toMatchObject(given);
      expect(read.extra ?? {}).toEqual(others);
    }),
  );
});

test('a change of which nothing is noted writes nothing', () => {
  expect(keysOfNotes({ ...noNotes })).toBeNull();
  expect(readNotes(null)).toEqual(noNotes);
  expect(readNotes(undefined)).toEqual(noNotes);
});

test.each([
  [{ confounders: 'donor' }],
  [{ confounders: ['donor', 3] }],
  [{ part: 7 }],
  [{ predicts: [{ id: 'x', name: 'X', moved: 'falls', p: 'much', certainty: 1 }] }],
  [{ predicts: [null] }],
  [{ without: {} }],
  [{ stays: 'on' }],
  [{ unit: 'lid' }],
  [{ toString: 'a key of another program' }],
])("a key of another form is somebody else's and stays as it is: %j", (keys) => {
  const { extra, ...read } = readNotes(keys);
  expect(read).toEqual(noNotes);
  expect(extra).toEqual(keys);
  expect(keysOfNotes({ ...read, extra })).toEqual(keys);
});
