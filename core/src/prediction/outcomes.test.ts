import fc from 'fast-check';
import { checkTypes, type CheckId } from '../catalogue/index.ts';
import {
  compileProfile,
  genericProfile,
  kindsAt,
  makeWorkspace,
  parseFault,
  shippedProfile,
  type Profile,
} from '../twin/index.ts';
import { predictOutcome } from './predict-outcome.ts';
import { Trial } from './trial.ts';

const profileOf = (id: string): Profile => shippedProfile(id) ?? genericProfile('phone', false);
const phone = profileOf('tallgate-moorcall-2');
const laptop = profileOf('oxbarrow-hearthfold-13');

describe('outcomes of checks', () => {
  const trial = (profile: Profile, spec: string): Trial => {
    const board = compileProfile(profile);
    return new Trial(board, [parseFault(profile, spec)], makeWorkspace(board));
  };
  test.each([
    [
      'none',
      phone,
      {
        screen: 'image',
        charges: 'yes',
        'press-response': 'start',
        'host-detects': 'normal',
        'other-port': 'single-port',
        'charge-indicator': 'on',
      },
    ],
    [
      'mute:storage-chip',
      phone,
      { screen: 'dark', 'host-detects': 'recovery', 'press-response': 'small', 'known-good-display': 'no-image' },
    ],
    ['mute:memory-chip', phone, { 'host-detects': 'nothing' }],
    ['mute:radio-chip', phone, { screen: 'logo-loop' }],
    ['mute:panel-unit', phone, { screen: 'dark', 'known-good-display': 'image', 'host-detects': 'normal' }],
    ['mute:button', phone, { 'press-response': 'none' }],
    ['dead:charger', phone, { charges: 'no' }],
    ['short:main=0.1', phone, { 'main-rail-resistance': 'short', 'press-response': 'surge' }],
    ['short:main=20', phone, { 'main-rail-resistance': 'low', 'voltage-sweep': 'rises' }],
    ['open:port1/flipped', laptop, { 'flipped-plug': 'different' }],
    [
      'mute:port-controller-1',
      laptop,
      { 'other-port': 'different', 'flipped-plug': 'same', 'charge-indicator': 'off' },
    ],
    ['mute:mgmt', laptop, { 'other-port': 'same', fan: 'none', 'charge-indicator': 'off' }],
  ] as [string, Profile, Partial<Record<CheckId, string>>][])('with %s', (spec, profile, expected) => {
    const t = trial(profile, spec);
    const told = Object.fromEntries(Object.keys(expected).map((id) => [id, predictOutcome(t, id as CheckId)]));
    expect(told).toEqual(expected);
  });

  test('every prediction is an outcome that the check knows', () => {
    const profile = laptop;
    const ids = [...profile.rails, ...profile.converters, ...profile.parts, ...profile.ports].map((x) => x.id);
    fc.assert(
      fc.property(fc.constantFrom(...ids), fc.constantFrom(...(Object.keys(checkTypes) as CheckId[])), (id, check) => {
        const [kind] = kindsAt(profile, id);
        const told = predictOutcome(trial(profile, `${kind}:${id}`), check);
        if (told !== null && told !== 'single-port') expect(checkTypes[check].outcomes).toContain(told);
      }),
      { numRuns: 60 },
    );
  });
});
