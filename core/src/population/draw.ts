import { seededRandom, type Random } from '../trace/index.ts';
import type { Profile } from '../twin/index.ts';
import type { Alternative, DrawnDevice, Option, Population } from './definition.ts';
import { editedProfile } from './edit.ts';
import settings from './settings.json';
import { soundUnit } from './sound.ts';

/**
 * The devices of a population that one profile stands for: always the same ones. Every option is met as often as its
 * weight says, to within one device, and independently of the others.
 *
 * @param population what devices of the class are like, with weights
 * @param profile the one that stands for the class
 * @returns devices with a weight each; the weights sum to 1
 * @throws {ProfileProblem} where an option does not fit the profile, or the device that it makes does not start
 */
export function drawDevices(population: Population, profile: Profile): DrawnDevice[] {
  const random = seededRandom(population.seed);
  const alternatives = alternativesOf(population, profile.id);
  const options = alternatives.map((a) => shuffled(quota(a.options, population.devices, random), random));
  return Array.from({ length: population.devices }, (_, k) => {
    const chosen = options.map((list) => list[k]);
    const start = { profile, chargeShare: settings.usualCharge };
    const made = chosen.flatMap((o) => o.edits).reduce(editedProfile, start);
    return {
      profile: { ...soundUnit(made.profile, random, population.spread), id: `${profile.id}-${k + 1}` },
      choices: Object.fromEntries(alternatives.map((a, i) => [a.id, chosen[i].id])),
      chargeShare: made.chargeShare,
    };
  });
}

/** The ways in which devices of a profile differ. */
export function alternativesOf(population: Population, profileId: string): Alternative[] {
  return population.alternatives.filter((a) => a.only === undefined || a.only.includes(profileId));
}

/** Each option as often as its weight says; what is left over goes by chance to where most is missing. */
function quota(options: readonly Option[], count: number, random: Random): Option[] {
  const wanted = options.map((o) => o.weight * count);
  const list = options.flatMap((o, k) => Array.from({ length: Math.floor(wanted[k]) }, () => o));
  const rest: number[] = wanted.map((w) => w - Math.floor(w));
  while (list.length < count) {
    let x = random() * rest.reduce((sum, r) => sum + r, 0);
    const k = Math.max(
      0,
      rest.findIndex((r) => (x -= r) <= 0),
    );
    list.push(options[k]);
    rest[k] = 0;
    if (!rest.some((r) => r > 0)) rest.fill(1);
  }
  return list;
}

/** Fisher and Yates. */
function shuffled<T>(list: T[], random: Random): T[] {
  const out = [...list];
  for (let k = out.length - 1; k > 0; k--) {
    const j = Math.floor(random() * (k + 1));
    [out[k], out[j]] = [out[j], out[k]];
  }
  return out;
}
