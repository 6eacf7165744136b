import { noCalibration, readInstrument } from '../recorder/index.ts';

const supply = {
  key: 'supply-1',
  name: 'Supply on the left',
  kind: 'supply',
  transport: { kind: 'tcp', host: '192.0.2.10', port: 5025 },
  dialect: 'scpi-usual',
};

describe('the instruments of a bench', () => {
  test('are read, with what is usual where nothing is said', () => {
    expect(readInstrument(supply)).toEqual({ ...supply, calibration: noCalibration, simulated: false });
    const serial = {
      ...supply,
      key: 'm',
      kind: 'meter',
      transport: { kind: 'serial', path: '/dev/ttyACM0', baudRate: 9600 },
    };
    expect(readInstrument(serial).transport).toEqual(serial.transport);
  });

  test.each([
    [{ kind: 'lamp' }, /kind must be one of/],
    [{ key: 'Left one' }, /key must match/],
    [{ transport: { kind: 'tcp', host: 'x', port: 70_000 } }, /transport\.port must be less than or equal to 65535/],
    [{ transport: { kind: 'serial', path: '/dev/x' } }, /transport\.baudRate is a required field/],
    [{ transport: undefined }, /transport/],
    [{ calibration: { ...noCalibration, gainA: 0 } }, /calibration\.gainA must be greater than or equal to 0.5/],
    [{ colour: 'red' }, /unspecified keys: colour/],
  ])('%j is refused with its place', (change, message) => {
    expect(() => readInstrument({ ...supply, ...change })).toThrow(message);
  });
});
