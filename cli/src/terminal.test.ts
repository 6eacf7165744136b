import fc from 'fast-check';
import { forTerminal, jsonForTerminal } from './terminal.ts';

const acts = /[\u0000-\u0009\u000b-\u001f\u007f-\u009f\u202a-\u202e\u2066-\u2069]/;
const text = fc.string({
  unit: fc.oneof(
    fc.constantFrom('\u001b', '[', '\r', '\b', '\u009b', '\u202e', '\n', '\t'),
    fc.string({ minLength: 1, maxLength: 1 }),
  ),
});

describe('what reaches a terminal', () => {
  test('never moves, colours or reorders it', () => {
    fc.assert(fc.property(text, (t) => !acts.test(forTerminal(t))));
    expect(forTerminal('run \u001b[2J\u001b]0;x\u0007 ok')).toBe('run \ufffd[2J\ufffd]0;x\ufffd ok');
  });
  test('is left alone where it is plain', () => {
    const plain = 'Ladespannung 3.85 V, 47 mA\n  µΩ é\n';
    expect(forTerminal(plain)).toBe(plain);
  });
  test('as JSON is the same value, with nothing to act on', () => {
    fc.assert(
      fc.property(text, (t) => {
        const said = jsonForTerminal({ t });
        expect(acts.test(said)).toBe(false);
        expect(JSON.parse(said)).toEqual({ t });
      }),
    );
  });
});
