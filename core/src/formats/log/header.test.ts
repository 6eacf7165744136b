import fc from 'fast-check';
import { readHeaderCell, roleOf } from './header.ts';

describe('a heading is split into name and unit', () => {
  test.each([
    ['I [mA]', 'I', 'mA'],
    ['Current/mA', 'Current', 'mA'],
    ['current_mA', 'current', 'mA'],
    ['U(V)', 'U', 'V'],
    ['Voltage in V', 'Voltage', 'V'],
    ['Time, s', 'Time', 's'],
    ['Elapsed\n(ms)', 'Elapsed', 'ms'],
    ['"Strom (µA)"', 'Strom', 'µA'],
    ['Amps', 'Amps', 'Amps'],
    ['Current', 'Current', null],
    ['Channel (left)', 'Channel', null],
  ])('%j', (cell, name, unit) => expect(readHeaderCell(cell)).toEqual({ name, unit, wrongUnit: null }));

  test.each(['current (mAh)', 'Current/mAh', 'charge [Ah]', 'Energy (Wh)'])(
    '%j has a unit of something else',
    (cell) => {
      const read = readHeaderCell(cell);
      expect(read.unit).toBeNull();
      expect(read.wrongUnit).toMatch(/is (a charge|an energy)/);
    },
  );
});

describe('a heading that is no heading', () => {
  test('is cut before anything is looked for in it, so that no text takes long', () => {
    fc.assert(
      fc.property(fc.constantFrom(' ', '_', '(', ' (', '[ ', '/ ', 'a ', ') ', ' in'), (piece) => {
        const long = `current${piece.repeat(50_000)}`;
        const [read, cut] = [readHeaderCell(long), readHeaderCell(long.slice(0, 160))];
        expect(read).toEqual(cut);
        expect(roleOf(long)).toBe(roleOf(long.slice(0, 160)));
      }),
    );
  });
});

describe('a name gives a column its role', () => {
  test.each([
    [
      'time',
      ['Time', 't', 'Elapsed time', 'Timestamp', 'Zeit', 'Datum/Uhrzeit', 'Temps', 'Tiempo', 'Čas', 'ms', 'Date Time'],
    ],
    [
      'time',
      // As instruments with narrow displays shorten it.
      ['tm', 'TM [s]', 'Elap', 'elap_ms', 'Elps', 'Elpsd (s)', 'Tim', 'ts', 'tstamp'],
    ],
    ['date', ['Date', 'Datum', 'Fecha']],
    ['counter', ['Sample', 'No.', 'index', '#', 'Reading']],
    [
      'current',
      [
        'Current',
        'I',
        'Ibus',
        'I_out',
        'Amps',
        'Strom',
        'Intensité',
        'Corriente',
        'Strøm',
        'Prąd',
        'CH1 Current',
        'Load current',
        'Avg current',
      ],
    ],
    [
      'voltage',
      [
        'Voltage',
        'V',
        'U',
        'VBUS',
        'V out',
        'Spannung',
        'Tensión',
        'Tensão',
        'Napětí',
        'Channel 2 Voltage',
        'Battery voltage',
      ],
    ],
    [
      'other',
      [
        'Power',
        'P',
        'mAh',
        'Temperature',
        'Set current',
        'Current limit',
        'V_set',
        'I max',
        'Max current',
        'D+',
        'D-',
        'Mode',
      ],
    ],
  ] as const)('%s', (role, names) => {
    for (const name of names) expect([name, roleOf(name)]).toEqual([name, role]);
  });
  test('what it does not know has none', () => {
    for (const name of ['Foo', 'Remarks', 'X1', 'customer']) expect(roleOf(name)).toBeNull();
  });
  test('a word must end: what begins like one is not one', () => {
    for (const name of ['Installation', 'Version', 'Uncertainty of what', 'Amplifier']) expect(roleOf(name)).toBeNull();
  });
});
