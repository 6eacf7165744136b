import fc from 'fast-check';
import { numberArgument, ScpiError, ScpiTree, switchArgument } from './index.ts';

const tree = new ScpiTree({
  '*IDN?': () => 'who',
  'MEASure[:SCALar]:VOLTage[:DC]?': () => '3.85',
  'MEASure[:SCALar]:CURRent[:DC]?': () => '0.1',
  '[SOURce:]VOLTage[:LEVel]': (x) => (numberArgument(x, { unit: 'V', least: 0, most: 32, usual: 0 }), null),
  'OUTPut[:STATe]?': () => '1',
});
const run = (message: string): { answer: string | null; errors: number[] } => {
  const errors: number[] = [];
  const answer = tree.run(message, (error) => errors.push(error.code));
  return { answer, errors };
};

describe('SCPI headers', () => {
  test.each(['MEAS:VOLT?', 'measure:voltage?', 'Meas:Scal:Volt:Dc?', ':MEAS:VOLTAGE:DC?', 'MEAS1:VOLT?'])(
    '%s asks for the voltage',
    (message) => expect(run(message)).toEqual({ answer: '3.85', errors: [] }),
  );

  test.each(['MEASU:VOLT?', 'VOLT:MEAS?', 'MEAS:VOLT', 'MEAS', 'OUTPUTS?', 'MEAS:VOLT2?'])(
    '%s is no header',
    (message) => expect(run(message)).toEqual({ answer: null, errors: [-113] }),
  );

  test('several in one message: a header goes on from the node before, a colon begins anew', () => {
    expect(run('MEAS:VOLT?;CURR?').answer).toBe('3.85;0.1');
    expect(run('MEAS:VOLT?;:OUTP?').answer).toBe('3.85;1');
    expect(run('MEAS:VOLT?;*IDN?;CURR?').answer).toBe('3.85;who;0.1');
    expect(run('VOLT 5;:MEAS:CURR?')).toEqual({ answer: '0.1', errors: [] });
    expect(run('MEAS:VOLT?;OUTP?')).toEqual({ answer: '3.85', errors: [-113] });
  });

  test('whatever is sent, it answers or raises, and never throws', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), (message) => {
        const { answer, errors } = run(message);
        if (message.trim().replaceAll(';', '').trim() !== '')
          expect(answer !== null || errors.length > 0 || /VOLT/i.test(message)).toBe(true);
      }),
    );
  });
});

describe('arguments', () => {
  const volts = (text: string): number => numberArgument(text, { unit: 'V', least: 0, most: 32, usual: 5 });

  test.each([
    ['3.85', 3.85],
    ['3850 mV', 3.85],
    ['1E1', 10],
    ['4 V', 4],
    ['MIN', 0],
    ['maximum', 32],
    ['DEF', 5],
  ])('%p', (text, value) => expect(volts(text)).toBeCloseTo(value, 9));

  test.each([
    ['', -109],
    ['five', -104],
    ['3 A', -131],
    ['33', -222],
    ['-1', -222],
    ['3,85', -104],
  ])('%p is refused with %p', (text, code) => {
    const refused = (): number => {
      try {
        return volts(text);
      } catch (error) {
        return error instanceof ScpiError ? error.code : NaN;
      }
    };
    expect(refused()).toBe(code);
  });

  test('a switch', () => {
    expect(['ON', '1', 'on'].map(switchArgument)).toEqual([true, true, true]);
    expect(['OFF', '0'].map(switchArgument)).toEqual([false, false]);
    expect(() => switchArgument('yes')).toThrow('Data type error');
  });
});
