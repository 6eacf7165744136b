import fc from 'fast-check';
import { addressOf, isAllowed, readNetwork } from './reach.ts';

describe('where instruments may be', () => {
  test('this computer always, other networks where a lead allows them', () => {
    expect(isAllowed('127.0.0.1', [])).toBe(true);
    expect(isAllowed('::1', [])).toBe(true);
    expect(isAllowed('::ffff:127.0.0.1', [])).toBe(true);
    expect(isAllowed('10.20.30.40', [])).toBe(false);
    expect(isAllowed('10.20.30.40', ['10.20.30.0/24'])).toBe(true);
    expect(isAllowed('10.20.31.40', ['10.20.30.0/24'])).toBe(false);
  });

  test.each(['169.254.169.254', '::ffff:169.254.169.254', 'fe80::1', '0.0.0.0', '::', '224.0.0.1', 'fd00:ec2::254'])(
    'never at %s, whatever is allowed',
    (address) => {
      expect(isAllowed(address, ['0.0.0.0/1', '128.0.0.0/1', '169.254.0.0/16', '::/1', '8000::/1'])).toBe(false);
    },
  );

  test('an address inside of a network is in it, and one bit away is not', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 120 }), fc.nat(255), fc.nat(255), fc.nat(255), (a, b, c, d) => {
        const network = [`${a}.${b}.0.0/16`];
        const isLoop = a === 127;
        expect(isAllowed(`${a}.${b}.${c}.${d}`, network)).toBe(true);
        expect(isAllowed(`${a}.${b ^ 1}.${c}.${d}`, network)).toBe(isLoop);
      }),
    );
  });

  test('what is no network is refused with what was expected', () => {
    expect(readNetwork(' 10.20.30.0/24 ')).toEqual({ address: '10.20.30.0', length: 24, family: 'ipv4' });
    for (const bad of [
      '',
      'bench',
      '10.20.30.0',
      '10.20.30.0/33',
      '10.20.30.0/2',
      '10.20.30/24',
      '1.2.3.4/24/1',
      '::/0',
    ])
      expect(() => readNetwork(bad)).toThrow(/expected a network such as|no instrument may be there/);
    expect(() => readNetwork('169.254.0.0/16')).toThrow('link-local');
  });

  test('a name is looked up and its address judged, not the name', async () => {
    expect(['127.0.0.1', '::1']).toContain(await addressOf('localhost', []));
    await expect(addressOf('10.1.2.3', [])).rejects.toThrow(
      'is outside the networks allowed for instruments. A lead can',
    );
    await expect(addressOf('no-such-name.invalid', [])).rejects.toThrow('unknown host name');
  });
});
