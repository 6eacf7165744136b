import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { shippedProfiles } from '@umbral/core';
import { plainAscii, shippedDialects, usualFrames, usualRegisters, usualScpi, type Dialect } from '../dialect/index.ts';
import {
  SimulatedAsciiSupply,
  SimulatedBench,
  SimulatedMeter,
  SimulatedMultimeter,
  usualFrameMeter,
  SimulatedRegisterSupply,
  SimulatedSupply,
} from '../simulated/index.ts';
import { now } from '../testing/until.ts';
import { Finder, type Place } from './finder.ts';

const phone = shippedProfiles.find((p) => p.ports.length > 0 && p.battery && !p.generic)!;
const closing: (() => Promise<unknown> | void)[] = [];
let folder: string;
beforeEach(() => {
  folder = mkdtempSync(join(tmpdir(), 'umbral-finder-'));
});
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
  rmSync(folder, { recursive: true, force: true });
});

const dialects = new Map(shippedDialects.map((d): [string, Dialect] => [d.id, d]));
const finder = (more: Dialect[] = []): Finder =>
  new Finder(
    new Map(),
    () => ({ dialects: new Map([...dialects, ...more.map((d): [string, Dialect] => [d.id, d])]), networks: [] }),
    folder,
  );

async function standIn(made: { listen: () => Promise<number>; close: () => Promise<void> }): Promise<Place> {
  const port = await made.listen();
  closing.push(() => made.close());
  return { kind: 'tcp', host: '127.0.0.1', port };
}
const bench = (): SimulatedBench => new SimulatedBench(phone, [], now);

describe('find it', () => {
  test.each([
    // The one that answers for its own protections fits better.
    ['scpi-guarded', 'supply', null, () => new SimulatedSupply(bench())],
    ['registers-usual', 'supply', 1, () => new SimulatedRegisterSupply(bench(), { framing: 'tcp' })],
    ['registers-usual', 'supply', 3, () => new SimulatedRegisterSupply(bench(), { framing: 'tcp', unit: 3 })],
    ['ascii-plain', 'supply', null, () => new SimulatedAsciiSupply(bench())],
    ['lines-usual', 'meter', null, () => new SimulatedMeter(bench(), { rateHz: 20 })],
    ['frames-usual', 'meter', null, () => new SimulatedMeter(bench(), { rateHz: 20, sends: usualFrameMeter })],
    ['readings-usual', 'multimeter', null, () => new SimulatedMultimeter(bench())],
    ['readings-framed', 'multimeter', null, () => new SimulatedMultimeter(bench(), 'frames')],
  ] as const)('%s is found by what it answers or sends, and nothing of it is changed', async (id, kind, unit, make) => {
    const made = make();
    if ('turn' in made) made.turn({ setV: 5, limitA: 1 });
    const place = await standIn(made);
    const { found, why } = await finder().find(place);
    expect({ found: found[0], why }).toMatchObject({ found: { dialect: id, kind, unit }, why: '' });
    expect(found[0].rateHz).toBeGreaterThan(1);
    expect(found[0].volts).toBeLessThan(0.1);
    if ('turn' in made) expect(made.panel).toMatchObject({ on: false, setV: 5, limitA: 1 });
  });

  test('what sends something that nobody understands is said with its bytes, and can be taught', async () => {
    const meter = new SimulatedMeter(bench(), { rateHz: 100, sends: usualFrameMeter });
    const place = await standIn(meter);
    const known = new Map([...dialects].filter(([id]) => id !== usualFrames.id));
    const own = new Finder(new Map(), () => ({ dialects: known, networks: [] }), folder);
    const at = await own.find(place);
    expect(at.found).toEqual([]);
    expect(at.why).toMatch(/it sends data, but in no known language: A5 5A 0C|it sends data/);
    const { bytes, guesses, afterPause } = await own.listen(place, 2, null);
    expect(afterPause.length).toBeGreaterThan(10);
    expect(guesses[0].framing).toMatchObject({ start: 'A5 5A', checksum: { kind: 'crc16-modbus', order: 'little' } });
    const frame = bytes.slice(0, 3 * 17 - 1);
    const fields = own.guess({ bytes, framing: guesses[0].framing, looks: [{ frame, volts: '0.00', amps: '0.00' }] });
    expect(fields.frames.length).toBeGreaterThan(5);
    expect(fields.volts.length).toBeGreaterThan(0);
  });

  test('nothing there, silence, and a place in no allowed network are each a sentence', async () => {
    const supply = new SimulatedSupply(bench());
    const place = await standIn(supply);
    supply.trouble.silentEvery = 1;
    expect((await finder().find(place)).why).toMatch(/nothing answers\. Is it switched on/);
    await supply.close();
    expect((await finder().find(place)).why).toMatch(/nothing is listening there/);
    const far: Place = { kind: 'tcp', host: '10.9.8.7', port: 5025 };
    expect((await finder().find(far)).why).toMatch(/outside the networks allowed/);
    const port: Place = { kind: 'serial', path: join(folder, 'ttyNone'), baudRate: 9600 };
    expect((await finder().find(port)).why).toMatch(/there is no such port\. Is it plugged in\?/);
  });
});

describe('try it', () => {
  test('shows what the display shows, and how often', async () => {
    const tried = await finder().try(await standIn(new SimulatedSupply(bench())), 'scpi-usual');
    expect(tried).toMatchObject({ says: expect.stringContaining('Simulated supply') });
    expect(tried.volts).toBeLessThan(0.01);
    expect(tried.rateHz).toBeGreaterThan(5);
  });

  test.each([
    ['scpi-usual', () => new SimulatedAsciiSupply(bench()), /no answer to \*IDN\?/],
    ['registers-usual', () => new SimulatedSupply(bench()), /did not answer within|an answer that is none/],
    ['scpi-usual', () => new SimulatedMeter(bench(), { rateHz: 50 }), /not in this language: sent ".*", got "\d/],
    ['frames-usual', () => new SimulatedMeter(bench(), { rateHz: 50 }), /not in this language: got "\d/],
    ['lines-usual', () => new SimulatedSupply(bench()), /silent for/],
    ['nobodys', () => new SimulatedSupply(bench()), /There is no dialect "nobodys"/],
  ])('%s, which it does not speak, is refused with what was sent or came', async (id, make, message) => {
    await expect(finder().try(await standIn(make()), id)).rejects.toThrow(message);
  });

  test('another instrument at the same address says that it is another', async () => {
    const other = {
      ...usualRegisters,
      id: 'other',
      identify: { register: 11, function: 3 as const, bit: null, is: 7 },
    };
    const place = await standIn(new SimulatedRegisterSupply(bench(), { framing: 'tcp' }));
    await expect(finder([other]).try(place, 'other')).rejects.toThrow(
      'address 1 answers, but not in this language: register 11 is not 7',
    );
  });
});

describe('a dialect as a file', () => {
  const text = JSON.stringify({ ...plainAscii, id: 'ours' });

  test('is kept, and is not replaced unasked', () => {
    expect(finder().keep(text, false)).toEqual({ id: 'ours', name: plainAscii.name });
    expect(JSON.parse(readFileSync(join(folder, 'ours.json'), 'utf8'))).toMatchObject({ id: 'ours' });
    expect(() => finder().keep(text, false)).toThrow('"ours" is already used');
    expect(finder().keep(text, true).id).toBe('ours');
  });

  test('what is wrong with it is said with its line, and nothing is kept', () => {
    expect(() => finder().keep('{', false)).toThrow('not JSON');
    expect(() => finder().keep(JSON.stringify({ ...plainAscii, id: '../x' }), false)).toThrow('id must be of');
    expect(() => finder().keep(JSON.stringify(usualScpi), true)).toThrow('"scpi-usual" is one that is included');
    writeFileSync(join(folder, 'x'), '');
    expect(() => readFileSync(join(folder, 'scpi-usual.json'))).toThrow();
  });

  test('can be shared: what is read back is the same', () => {
    for (const d of shippedDialects) expect(JSON.parse(finder().textOf(d.id))).toEqual(d);
  });
});
