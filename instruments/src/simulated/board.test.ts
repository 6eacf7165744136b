import { drawUnit, parseFault, parseReading, seededRandom, shippedProfile, shippedProfiles } from '@umbral/core';
import { OperatorServer, SimulatedBench } from './index.ts';

const phone = shippedProfiles.find((p) => p.id === 'tallgate-moorcall-2') ?? shippedProfiles[0];

describe('the supply held to a rail', () => {
  let t = 0;
  const bench = new SimulatedBench(phone, [parseFault(phone, 'short:io=0.4')], () => t);

  test('feeds that rail and not the device, until the leads come off', () => {
    bench.holdTo('io');
    bench.setSupply({ on: true, setV: 0.8, limitA: 1 });
    t += 1;
    const { supply } = bench.read();
    expect(supply).toMatchObject({ mode: 'cc', amps: 1 });
    expect(bench.heat()).toMatchObject({ hot: 'io' });
    bench.setSupply({ on: false });
    expect(bench.heat().hot).toBeNull();
    bench.holdTo(null);
    expect(bench.state.heldTo).toBeNull();
    expect(() => bench.holdTo('nowhere')).toThrow(RangeError);
  });

  test('a part that is replaced takes its fault along; another changes nothing', () => {
    expect(bench.mend('memory')).toBe(false);
    expect(bench.board.ohms('io')).toBeLessThan(1);
    expect(bench.mend('io')).toBe(true);
    expect(bench.board.ohms('io')).toBeGreaterThan(100);
  });
});

describe('over the hands', () => {
  const token = 'a-token-for-tests';
  const bench = new SimulatedBench(phone, [parseFault(phone, 'short:io=0.4')], () => 0);
  const server = new OperatorServer(bench, token);
  let port = 0;
  beforeAll(async () => (port = await server.listen(0)));
  afterAll(() => server.close());
  const call = async (path: string, body: unknown) => {
    const answer = await fetch(`http://127.0.0.1:${port}${path}`, {
      method: 'POST',
      headers: { authorization: `Bearer ${token}` },
      body: JSON.stringify(body),
    });
    return { status: answer.status, value: (await answer.json()) as Record<string, unknown> };
  };

  test('a probe shows what somebody would type', async () => {
    const context = { mode: 'voltage' as const, leadsOhm: null, nominalV: 1.8 };
    for (const body of [
      { rail: 'memory', mode: 'voltage' },
      { rail: 'io', mode: 'resistance' },
    ]) {
      const { shows } = (await call('/probe', body)).value;
      expect(parseReading(String(shows), context)).toMatchObject({ ok: true, reading: { mode: body.mode } });
    }
  });

  test.each(['tallgate-moorcall-2', 'generic-laptop', 'generic-phone'])(
    'a unit of %s is laid as it stands, and nobody is told what it has',
    async (id) => {
      const unit = drawUnit({ profile: shippedProfile(id) ?? phone }, seededRandom(4));
      const { status, value } = await call('/lay-unit', { device: unit.device, faults: unit.faults, seed: 4 });
      expect(status).toBe(200);
      expect(value).toMatchObject({ model: unit.device.name, fault: 'hidden' });
      expect(JSON.stringify(value)).not.toContain(unit.says);
      await call('/lay', { profile: phone.id, fault: 'short:io=0.4' });
    },
  );

  test('what is no device is not laid', async () => {
    const bad = { device: { id: 'x' }, faults: [], seed: 1 };
    expect((await call('/lay-unit', bad)).status).not.toBe(200);
    const foreign = { device: phone, faults: [{ kind: 'dead', at: 'kettle', value: null, side: null }], seed: 1 };
    expect(String((await call('/lay-unit', foreign)).value.problem)).toContain('no "kettle"');
  });

  test.each([
    ['/probe', { rail: 'nowhere', mode: 'voltage' }, /no rail "nowhere"/],
    ['/probe', { rail: 'io', mode: 'smell' }, /mode must be one of/],
    ['/hold', { rail: 'nowhere' }, /no rail "nowhere"/],
    ['/mend', {}, /at is a required field/],
  ])('%s %j is refused in words', async (path, body, message) => {
    const { status, value } = await call(path, body);
    expect(status).not.toBe(200);
    expect(String(value.problem)).toMatch(message);
  });
});
