import type { Profile } from '../twin/index.ts';
import type { Population } from './definition.ts';
import { alternativesOf } from './draw.ts';
import { editedProfile } from './edit.ts';
import settings from './settings.json';

/**
 * What a profile of a model begins from: the one that stands for its class, with the options that were found out of it.
 *
 * @param profile the class's, perhaps fitted to what is stated of the model
 * @param choices option by id of the alternative; one that is not named, or that nobody knows, stays as it is in the profile
 * @throws {ProfileProblem} where an option does not fit the profile
 */
export function narrowedProfile(
  population: Population,
  profile: Profile,
  choices: Readonly<Record<string, string>>,
): Profile {
  const start = { profile, chargeShare: settings.usualCharge };
  return alternativesOf(population, profile.id)
    .flatMap((a) => a.options.filter((o) => o.id === choices[a.id]).flatMap((o) => o.edits))
    .reduce(editedProfile, start).profile;
}
