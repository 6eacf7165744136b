import { drawDevices, editedProfile, populationFormat, type Population } from '../../population/index.ts';
import { clipText } from '../../quantity/index.ts';
import { compileProfile, ProfileProblem, shippedProfile, type Profile } from '../../twin/index.ts';
import { FormatError } from '../error.ts';
import type { Finding } from '../package/finding.ts';
import { readJson } from '../package/json.ts';
import { schemaHolds } from '../rules.ts';
import { populationSchema } from './schema.ts';

/** How far the weights of an alternative may be from 1. */
const weightSlack = 1e-6;

/**
 * Reads a population of devices that came from outside, JSON.
 *
 * @param profileOf the profiles that it may name, by id
 * @returns the population, null where anything is wrong, and every finding with its path
 */
export function readPopulation(
  bytes: Uint8Array,
  file: string,
  profileOf: (id: string) => Profile | null = shippedProfile,
): { population: Population | null; findings: Finding[] } {
  const findings: Finding[] = [];
  const error = (place: string, message: string): void => {
    findings.push({ severity: 'error', file, place, message });
  };
  let raw: unknown;
  try {
    raw = readJson(bytes, file);
  } catch (problem) {
    if (!(problem instanceof FormatError)) throw problem;
    error(problem.place, problem.problem);
    return { population: null, findings };
  }
  const population = parsePopulation(raw, profileOf, error);
  return { population: findings.length > 0 ? null : population, findings };
}

function parsePopulation(
  raw: unknown,
  profileOf: (id: string) => Profile | null,
  error: (place: string, message: string) => void,
): Population | null {
  const format = raw !== null && typeof raw === 'object' && 'format' in raw ? raw.format : undefined;
  if (format !== populationFormat) {
    const said = format === undefined ? 'is missing' : `is ${clipText(JSON.stringify(format))}`;
    error('format', `${said}; expected "${populationFormat}"`);
    return null;
  }
  if (!schemaHolds(populationSchema, raw, error)) return null;
  const population = complete(raw as Population);
  return meaningHolds(population, profileOf, error) ? population : null;
}

/** What an option may leave out: words, and edits where the profile is so already. */
function complete(raw: Population): Population {
  return {
    ...raw,
    alternatives: raw.alternatives.map((a) => ({
      ...a,
      options: a.options.map((o) => ({ ...o, words: o.words ?? null, edits: o.edits ?? [] })),
    })),
  };
}

function meaningHolds(
  population: Population,
  profileOf: (id: string) => Profile | null,
  error: (place: string, message: string) => void,
): boolean {
  let holds = true;
  const say = (place: string, message: string): void => {
    holds = false;
    error(place, message);
  };
  const profiles = population.profiles.map(profileOf);
  profiles.forEach((profile, k) => {
    if (!profile) say(`profiles[${k}]`, `"${clipText(population.profiles[k])}" is not the id of a profile`);
  });
  population.alternatives.forEach((a, k) => {
    const place = `alternatives[${k}]`;
    if (population.alternatives.findIndex((b) => b.id === a.id) !== k)
      say(`${place}.id`, `"${clipText(a.id)}" is given twice`);
    (a.only ?? []).forEach((id, j) => {
      if (!population.profiles.includes(id)) say(`${place}.only[${j}]`, `"${clipText(id)}" is not one of its profiles`);
    });
    const sum = a.options.reduce((total, o) => total + o.weight, 0);
    if (Math.abs(sum - 1) > weightSlack) say(`${place}.options`, `the weights sum to ${+sum.toFixed(4)}; expected 1`);
  });
  if (!holds) return false;
  for (const profile of profiles) if (profile) tryOn(population, profile, say);
  return holds;
}

/** Makes every option on its own, then the devices as they would be drawn. */
function tryOn(population: Population, profile: Profile, say: (place: string, message: string) => void): void {
  let holds = true;
  population.alternatives.forEach((a, k) => {
    if (a.only && !a.only.includes(profile.id)) return;
    a.options.forEach((option, j) => {
      let made = { profile, chargeShare: 0.5 };
      option.edits.forEach((edit, i) => {
        const place = `alternatives[${k}].options[${j}].edits[${i}]`;
        try {
          made = editedProfile(made, edit);
        } catch (problem) {
          if (!(problem instanceof ProfileProblem)) throw problem;
          holds = false;
          say(place, problem.message);
        }
      });
      const place = `alternatives[${k}].options[${j}]`;
      if (holds) holds = compiles(made.profile, (message) => say(place, message));
    });
  });
  if (!holds) return;
  try {
    drawDevices(population, profile);
  } catch (problem) {
    if (!(problem instanceof ProfileProblem)) throw problem;
    say('alternatives', `a generated device: ${problem.message}`);
  }
}

function compiles(profile: Profile, say: (message: string) => void): boolean {
  try {
    compileProfile(profile);
    return true;
  } catch (problem) {
    if (!(problem instanceof ProfileProblem)) throw problem;
    say(problem.message);
    return false;
  }
}
