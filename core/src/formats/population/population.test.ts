import { shippedPopulations } from '../../population/index.ts';
import { readPopulation } from './read.ts';

const bytes = (value: unknown): Uint8Array => new TextEncoder().encode(JSON.stringify(value));
const [mobiles] = shippedPopulations;
/** The same with few devices, so that trying it takes no time. */
const small = {
  ...mobiles,
  devices: 3,
  profiles: ['generic-phone'],
  alternatives: mobiles.alternatives.map((a) => ({ ...a, only: undefined })),
};

const changed = (change: (value: typeof small) => void): Uint8Array => {
  const value = structuredClone(JSON.parse(JSON.stringify(small))) as typeof small;
  change(value);
  return bytes(value);
};
const placesOf = (given: Uint8Array): string[] => readPopulation(given, 'p.json').findings.map((f) => f.place);

test.each(shippedPopulations)('the population of $name reads', (population) => {
  const read = readPopulation(bytes({ ...population, devices: 3 }), 'p.json');
  expect(read.findings).toEqual([]);
  expect(read.population?.alternatives).toHaveLength(population.alternatives.length);
});

test('what is left out gets its usual value', () => {
  const read = readPopulation(
    changed((p) => {
      p.alternatives = [{ id: 'a', name: 'a', options: [{ id: 'x', weight: 1 }] }] as never;
    }),
    'p.json',
  );
  expect(read.population?.alternatives[0].options[0]).toEqual({ id: 'x', weight: 1, words: null, edits: [] });
});

test.each<[string, Uint8Array, string, RegExp]>([
  ['no JSON', new TextEncoder().encode('{'), 'line 1', /malformed/],
  ['another format', bytes({ format: 'other/1' }), 'format', /expected "umbral-population\/1"/],
  [
    'weights that do not sum',
    changed((p) => (p.alternatives[0].options[0].weight = 0.9)),
    'alternatives[0].options',
    /sum to/,
  ],
  [
    'a weight below nothing',
    changed((p) => (p.alternatives[0].options[0].weight = -1)),
    'alternatives[0].options[0].weight',
    /0 to 1/,
  ],
  ['a profile that nobody knows', changed((p) => (p.profiles = ['no-such'])), 'profiles[0]', /not the id of a profile/],
  [
    'an alternative for another profile',
    changed((p) => Object.assign(p.alternatives[0], { only: ['generic-laptop'] })),
    'alternatives[0].only[0]',
    /not one of its profiles/,
  ],
  [
    'an alternative twice',
    changed((p) => (p.alternatives[1].id = p.alternatives[0].id)),
    'alternatives[1].id',
    /twice/,
  ],
  ['no option', changed((p) => (p.alternatives[0].options = [])), 'alternatives[0].options', /at least one/],
  [
    'an edit of an element that is missing',
    changed((p) => (p.alternatives[0].options[0].edits = [{ at: ['no-such'], set: {} }])),
    'alternatives[0].options[0].edits[0]',
    /is not an element/,
  ],
  [
    'an edit that makes a rail negative',
    changed((p) => (p.alternatives[0].options[0].edits = [{ at: ['main'], set: { nominalV: -3 } }])),
    'alternatives[0].options[0].edits[0]',
    /above 0/,
  ],
  [
    'an edit of no kind',
    changed((p) => (p.alternatives[0].options[0].edits = [{ paint: 'red' }] as never)),
    'alternatives[0].options[0].edits[0]',
    /expected an object with one of/,
  ],
  [
    'an edit that leaves a board that does not hold together',
    changed((p) => (p.alternatives[0].options[0].edits = [{ remove: ['main'] }])),
    'alternatives[0].options[0]',
    /main/,
  ],
  ['a spread below nothing', changed((p) => (p.spread.level = -0.1)), 'spread.level', /negative/],
  ['too many devices', changed((p) => (p.devices = 5000)), 'devices', /1 to 200/],
])('refuses %s with its path', (_, given, place, message) => {
  const { population, findings } = readPopulation(given, 'p.json');
  expect(population).toBeNull();
  expect(findings.map((f) => f.place).join()).toContain(place);
  expect(findings.map((f) => f.message).join('\n')).toMatch(message);
});

test('says everything that is wrong at once', () => {
  const places = placesOf(
    changed((p) => {
      p.alternatives[0].options[0].edits = [{ at: ['no-such'], set: {} }];
      p.alternatives[1].options[0].edits = [{ remove: ['nothing'] }];
    }),
  );
  expect(places).toEqual(
    expect.arrayContaining(['alternatives[0].options[0].edits[0]', 'alternatives[1].options[0].edits[0]']),
  );
});

test('says where devices that are drawn would not start', () => {
  const { findings } = readPopulation(
    changed((p) => {
      // What lets the device start now lives from what the device starts.
      p.alternatives[0].options.forEach((o) => (o.edits = [{ at: ['pmic'], set: { rail: 'core' } }]));
    }),
    'p.json',
  );
  expect(findings.map((f) => f.message).join()).toMatch(/does not start/);
});
