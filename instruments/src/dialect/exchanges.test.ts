import { supplyFor } from '../instrument/index.ts';
import { bytesOf, textOf, type Transport } from '../transport/index.ts';
import {
  bytesOfHex,
  decoderFor,
  hexOf,
  isAsked,
  shippedDialects,
  type AskedDialect,
  type SentDialect,
} from './index.ts';

/** What was sent and what came back, as it stood on the line: text, or bytes in hexadecimal after "0x". */
type Exchange = readonly (readonly [sent: string, came: string])[];

const bytesIn = (text: string): Uint8Array => (text.startsWith('0x') ? bytesOfHex(text.slice(2)) : bytesOf(text));

/** An exchange of each dialect that ships whose instruments are asked, with what is to be read in it. */
const asked: Record<string, { exchange: Exchange; says: RegExp; shows: { volts: number; amps: number } }> = {
  'scpi-usual': {
    exchange: [
      ['*CLS\n', ''],
      ['*IDN?\n', 'Bench Works,Simulated supply,0001,1.0\r\n'],
      ['MEAS:VOLT?;CURR?\n', '3.851;0.047\r\n'],
    ],
    says: /Simulated supply/,
    shows: { volts: 3.851, amps: 0.047 },
  },
  'scpi-guarded': {
    exchange: [
      ['*CLS\n', ''],
      ['*IDN?\n', 'Bench Works,Simulated supply,0001,1.0\n'],
      ['MEAS:VOLT?;CURR?\n', '12.000;0.500\n'],
    ],
    says: /Simulated supply/,
    shows: { volts: 12, amps: 0.5 },
  },
  'ascii-plain': {
    exchange: [
      ['ID?', 'PS-32'],
      ['RD?', '038500470'],
    ],
    says: /PS-32/,
    shows: { volts: 3.85, amps: 0.047 },
  },
  'registers-usual': {
    exchange: [
      ['0x 01 03 00 0B 00 01 F5 C8', '0x 01 03 02 10 92 34 29'],
      ['0x 01 03 00 02 00 02 65 CB', '0x 01 03 04 01 81 00 2F EA 3B'],
      ['0x 01 03 00 02 00 02 65 CB', '0x 01 03 04 01 81 00 2F EA 3B'],
    ],
    says: /address 1/,
    shows: { volts: 3.85, amps: 0.047 },
  },
};

/** What each dialect that ships sends by itself, with what is to be read in it. */
const sent: Record<string, { came: string; is: object }> = {
  'lines-usual': { came: '12.0500;5.0210;0.0470\n', is: { seconds: 12.05, volts: 5.021, amps: 0.047 } },
  'frames-usual': {
    came: '0x A5 5A 0C DC 05 00 00 80 C3 07 00 50 FB FF FF 4A DF',
    is: { seconds: 1.5, volts: 5.088, amps: -0.012 },
  },
  'readings-usual': {
    came: 'DIODE 0.412 V\r\n',
    is: { mode: 'diode', value: 0.412, ol: false, beeps: false, step: 0.001 },
  },
  'readings-framed': {
    came: '0x AB CD 0A 01 01 00 03 03 00 02 01 01 8D',
    is: { mode: 'voltage', value: -3.302, ol: false, beeps: false, step: 0.001 },
  },
};

/** Answers as it was recorded, and fails where something else is sent. */
function recorded(exchange: Exchange): Transport & { left: () => number } {
  let at = 0;
  return {
    where: 'the record',
    isSerial: true,
    left: () => exchange.length - at,
    connect: ({ data }) =>
      Promise.resolve({
        send: (given) => {
          const [should, came] = exchange[at++] ?? ['nothing', ''];
          const is = bytesOf(given);
          expect(should.startsWith('0x') ? `0x ${hexOf(is)}` : textOf(is)).toBe(should);
          if (came !== '') setImmediate(() => data(bytesIn(came)));
        },
        close: () => undefined,
      }),
  };
}

test('every dialect that ships has an exchange', () => {
  expect([...Object.keys(asked), ...Object.keys(sent)].sort()).toEqual(shippedDialects.map((d) => d.id).sort());
});

test.each(shippedDialects.filter(isAsked).map((d): [string, AskedDialect] => [d.id, d]))(
  '%s asks and reads as it was recorded',
  async (id, dialect) => {
    const { exchange, says, shows } = asked[id];
    const line = recorded(exchange);
    const supply = supplyFor(line, dialect, { timeoutMs: 500 });
    expect(await supply.open()).toMatch(says);
    expect(await supply.measure()).toEqual(shows);
    expect(line.left()).toBe(0);
    supply.close();
  },
);

test.each(shippedDialects.filter((d) => !isAsked(d)).map((d): [string, SentDialect] => [d.id, d as SentDialect]))(
  '%s is read as it was recorded',
  (id, dialect) => {
    const seen: object[] = [];
    const decoder = decoderFor(
      dialect,
      (values) => seen.push(values),
      (reading) => seen.push(reading),
    );
    decoder.push(bytesIn(sent[id].came));
    expect(seen).toEqual([sent[id].is]);
    expect(decoder.wrong).toBe(0);
  },
);
