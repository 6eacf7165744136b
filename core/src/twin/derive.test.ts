import { deriveProfile } from './derive.ts';
import { shippedProfile, shippedProfiles } from './shipped.ts';

const phone = shippedProfile('generic-phone')!;
const ids = (list: readonly { id: string }[]): string[] => list.map((x) => x.id);

describe('a profile that is written as what differs', () => {
  test('changes fields, adds after what it names, takes away, and leaves the rest and the other profile as they are', () => {
    const before = JSON.stringify(phone);
    const made = deriveProfile(phone, {
      base: phone.id,
      id: 'van-phone',
      restartS: 3,
      without: ['boost'],
      rails: [
        { id: 'main', capacitors: 40 },
        { id: 'first', after: null, ...without(phone.rails[0]) },
        { id: 'beside', after: 'main', ...without(phone.rails[0]) },
      ],
    });
    expect(made).toMatchObject({ id: 'van-phone', restartS: 3, battery: phone.battery });
    expect(made.rails[0].id).toBe('first');
    expect(ids(made.rails)).not.toContain('boost');
    expect(ids(made.rails)[ids(made.rails).indexOf('main') + 1]).toBe('beside');
    const main = phone.rails.find((r) => r.id === 'main');
    expect(made.rails.find((r) => r.id === 'main')).toEqual({ ...main, capacitors: 40 });
    expect(made.parts).toEqual(phone.parts);
    expect(JSON.stringify(phone)).toBe(before);
  });

  test('refuses what names nothing', () => {
    const own = { base: phone.id, id: 'van-phone' };
    expect(() => deriveProfile(phone, { ...own, without: ['no-such'] })).toThrow('no-such');
    expect(() => deriveProfile(phone, { ...own, rails: [{ id: 'x', after: 'no-such' }] })).toThrow(
      'comes after no-such',
    );
    expect(() => deriveProfile(phone, { ...own, rails: [{ id: 'x' }] })).toThrow('nothing that it names');
  });

  test('gives every shipped profile its own elements once', () => {
    for (const { rails, converters, loads, parts } of shippedProfiles)
      for (const list of [rails, converters, loads, parts]) expect(new Set(ids(list)).size).toBe(list.length);
  });
});

function without<T extends { id: string }>({ id: _, ...rest }: T): Omit<T, 'id'> {
  return rest;
}
