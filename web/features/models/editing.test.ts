import { linesOfPlaces, profileText, readProfile, shippedProfile, shippedProfiles, type Profile } from '@umbral/core';
import { differences } from './differences';
import { outlineOf } from './outline';

const lineOfPlace = (text: string, place: string): number | null => linesOfPlaces(text, [place])[0];

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);

describe('the text of a profile', () => {
  test.each(shippedProfiles.map((p) => [p.id, p] as const))('%s reads back as the same profile', (_, profile) => {
    expect(readProfile(bytes(profileText(profile)), '').profile).toEqual(profile);
  });
  test('begins with what it is', () =>
    expect(
      profileText(phone)
        .split('\n')
        .slice(0, 4)
        .map((l) => l.split(':')[0]),
    ).toEqual(['format', 'id', 'name', 'class']));
  test('a finding is found on its line, in YAML and in JSON', () => {
    const yaml = profileText(phone);
    const line = (lineOfPlace(yaml, 'rails[3].nominalV') ?? 0) - 1;
    expect(yaml.split('\n')[line]).toContain(`nominalV: ${phone.rails[3].nominalV}`);
    const json = JSON.stringify(phone, null, 2);
    expect(json.split('\n')[(lineOfPlace(json, 'stages[1].seconds') ?? 0) - 1]).toContain('"seconds"');
  });
  test('a key that is missing is found at what should hold it', () => {
    const text = profileText({ ...phone, rails: phone.rails.map(({ name: _, ...r }) => r) as never });
    const line = lineOfPlace(text, 'rails[1].name') ?? 0;
    expect(line).toBe(lineOfPlace(text, 'rails[1]'));
    expect(line).toBeGreaterThan(5);
  });
  test('places that are nowhere have no line', () => {
    expect(lineOfPlace('a: 1', '')).toBeNull();
    expect(lineOfPlace('', 'rails[0].id')).toBeNull();
    expect(lineOfPlace('a: [', 'line 3, column 2')).toBe(3);
  });
});

describe('the outline', () => {
  test.each([
    ['YAML', profileText(phone)],
    ['JSON', JSON.stringify(phone, null, 2)],
  ])('of %s lists every rail under the rails, on its line', (_, text) => {
    const outline = outlineOf(text);
    const lines = text.split('\n');
    for (const rail of phone.rails) {
      const entry = outline.find((e) => e.deep && e.name === rail.id);
      expect(lines[(entry?.line ?? 0) - 1]).toContain(rail.id);
    }
    expect(outline.filter((e) => !e.deep).map((e) => e.name)).toEqual(
      expect.arrayContaining(['rails', 'stages', 'loads']),
    );
  });
  test('of anything else is empty', () => expect(outlineOf('what is this\n{"a": 1}\n')).toEqual([]));
});

describe('differences', () => {
  test('none between a profile and itself', () => expect(differences(phone, phone)).toEqual([]));
  test('a figure, a new element, one that is gone, another order', () => {
    const changed: Profile = {
      ...phone,
      note: 'other',
      rails: phone.rails.map((r, k) => (k === 0 ? { ...r, capacitors: r.capacitors + 4 } : r)),
      peripherals: phone.peripherals.slice(1),
      parts: [...phone.parts, { ...phone.parts[0], id: 'extra' }],
      stages: [phone.stages[1], phone.stages[0], ...phone.stages.slice(2)],
    };
    const said = differences(phone, changed);
    expect(said).toContain(
      `rail ${phone.rails[0].id}, capacitors: ${phone.rails[0].capacitors} → ${phone.rails[0].capacitors + 4}`,
    );
    expect(said).toContain('part extra: new');
    expect(said).toContain(`peripheral ${phone.peripherals[0].id}: removed`);
    expect(said).toContain('stages: order changed');
    expect(said.some((s) => s.startsWith('note: '))).toBe(true);
  });
  test('the order of keys is no difference', () => {
    const turned = {
      ...phone,
      rails: phone.rails.map((r) => Object.fromEntries(Object.entries(r).reverse()) as never),
    };
    expect(differences(phone, turned)).toEqual([]);
  });
  test('what is inside the battery is named', () => {
    const changed = { ...phone, battery: phone.battery && { ...phone.battery, fullV: 4.5 } };
    expect(differences(phone, changed)).toEqual([`battery, fullV: ${phone.battery?.fullV} → 4.5`]);
  });
  test('very many are cut short', () => {
    const changed = {
      ...phone,
      rails: phone.rails.map((r) => ({ ...r, capacitors: 99, depth: 4, nominalV: r.nominalV + 1 })),
    };
    expect(differences(phone, changed).at(-1)).toMatch(/^and \d+ more$/);
  });
});
