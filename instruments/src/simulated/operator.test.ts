import { shippedProfiles } from '@umbral/core';
import { OperatorServer, SimulatedBench } from './index.ts';

const token = 'a-token-for-tests';
const phone = shippedProfiles.find((p) => p.id === 'tallgate-moorcall-2') ?? shippedProfiles[0];
let server: OperatorServer;
let bench: SimulatedBench;
let port: number;
let t = 0;
beforeAll(async () => {
  bench = new SimulatedBench(phone, [], () => t);
  server = new OperatorServer(bench, token);
  port = await server.listen(0);
});
afterAll(() => server.close());

async function call(path: string, body?: unknown, given = token) {
  const answer = await fetch(`http://127.0.0.1:${port}${path}`, {
    method: body === undefined ? 'GET' : 'POST',
    headers: { authorization: `Bearer ${given}` },
    body: body === undefined ? undefined : typeof body === 'string' ? body : JSON.stringify(body),
  });
  return { status: answer.status, value: (await answer.json()) as Record<string, unknown> };
}

describe('hands on the simulated bench', () => {
  test('plug, press and unplug what is there', async () => {
    expect((await call('/act', { does: 'plug', port: 1, flipped: true })).value.plugged).toEqual({
      port: 1,
      flipped: true,
    });
    t += 3;
    expect(bench.read().port.volts).toBeGreaterThan(4.5);
    expect((await call('/act', { does: 'unplug' })).value.plugged).toBeNull();
    const [part] = phone.peripherals;
    expect((await call('/act', { does: 'take-off', id: part.id })).value.off).toEqual([part.id]);
    expect((await call('/act', { does: 'put-back', id: part.id })).value.off).toEqual([]);
  });

  test('a check shows on the device what its fault makes of it', async () => {
    const look = async (check: string) => (await call('/look', { check })).value.outcome;
    await call('/lay', { profile: phone.id, fault: 'none' });
    expect([await look('screen'), await look('usb-wakes')]).toEqual(['image', 'yes']);
    await call('/lay', { profile: phone.id, fault: 'short:main=0.5' });
    expect([await look('screen'), await look('main-rail-resistance')]).toEqual(['dark', 'short']);
    // Readings are not looked at, they are measured.
    expect(await look('rail-voltages')).toBeNull();
  });

  test.each([
    ['/look', { check: 'its-aura' }, /check must be one of/],
    ['/act', { does: 'dance' }, /does must be one of/],
    ['/act', { does: 'plug', port: 7 }, /there is no port 7/],
    ['/act', { does: 'take-off', id: 'main' }, /"main" cannot be unplugged/],
    ['/lay', { profile: 'nobody', fault: 'none' }, /there is no shipped profile "nobody"/],
    ['/lay', { profile: phone.id, fault: 'melted:main' }, /is not a kind of fault/],
    ['/act', '{', /JSON/],
    ['/act', { does: 'press', id: 'x'.repeat(300_000) }, /Too many/],
  ])('%s %j is refused in words', async (path, body, message) => {
    const { status, value } = await call(path, body);
    expect(status).toBe(409);
    expect(value.problem).toMatch(message);
  });

  test('a hidden fault is one with which it does not start, and stays hidden', async () => {
    for (let seed = 1; seed <= 12; seed++) {
      const { value } = await call('/lay', { profile: phone.id, fault: 'hidden', seed });
      expect(value.fault).toBe('hidden');
      expect(Object.keys(value)).not.toContain('faults');
      bench.setSupply({ on: true, setV: 3.85, limitA: 5 });
      await call('/act', { does: 'press' });
      t += 60;
      expect((await call('/state')).value.running).toBe(false);
      bench.setSupply({ on: false });
    }
  });

  test('nobody without the token', async () => {
    expect((await call('/state', undefined, 'another')).status).toBe(401);
    expect((await call('/elsewhere')).status).toBe(404);
  });
});
