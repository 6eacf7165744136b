import { ProfileProblem, type Profile } from '../twin/index.ts';
import type { Edit } from './definition.ts';
import settings from './settings.json';

/** Voltage of one cell at rest, full and empty. */
const { cell } = settings;

interface Edited {
  profile: Profile;
  chargeShare: number;
}

/**
 * A profile with one change made to it; the one given is left as it is.
 *
 * @throws {ProfileProblem} where the change names an element that the profile does not have, or makes a rail negative
 */
export function editedProfile({ profile, chargeShare }: Edited, edit: Edit): Edited {
  if (edit.only && !edit.only.includes(profile.id)) return { profile, chargeShare };
  if ('chargeShare' in edit) return { profile, chargeShare: edit.chargeShare };
  return { profile: withEdit(profile, edit), chargeShare };
}

function withEdit(profile: Profile, edit: Exclude<Edit, { chargeShare: number }>): Profile {
  if ('device' in edit) return { ...profile, ...edit.device };
  if ('cells' in edit) return withCells(profile, edit.cells, edit.rails);
  if ('add' in edit)
    return {
      ...profile,
      rails: [...profile.rails, ...(edit.add.rails ?? [])],
      converters: [...profile.converters, ...(edit.add.converters ?? [])],
      loads: [...profile.loads, ...(edit.add.loads ?? [])],
      parts: [...profile.parts, ...(edit.add.parts ?? [])],
    };
  if ('remove' in edit) return without(profile, edit.remove);
  if ('needs' in edit) return withNeeds(profile, edit.needs, edit.set);
  if ('stage' in edit) return withStage(profile, edit);
  if ('scale' in edit) return scaled(profile, edit);
  return withFields(profile, edit.at, edit.set);
}

const lists = ['rails', 'converters', 'loads', 'parts', 'peripherals', 'ports'] as const;

function missing(profile: Profile, id: string): ProfileProblem {
  return new ProfileProblem(id, `is not an element of ${profile.id}`);
}

function withFields(profile: Profile, at: readonly string[], set: Record<string, unknown>): Profile {
  const left = new Set(at);
  const volts = set.nominalV;
  if (typeof volts === 'number' && volts <= 0)
    throw new ProfileProblem(at[0], `would be at ${volts} V; expected a voltage above 0`);
  const change = <T extends { id: string }>(list: T[]): T[] =>
    list.map((x) => {
      if (!at.includes(x.id)) return x;
      const unknown = Object.keys(set).find((field) => !(field in x) && field !== 'busNeedsController');
      if (unknown !== undefined) throw new ProfileProblem(x.id, `has no field "${unknown}"`);
      left.delete(x.id);
      return { ...x, ...set };
    });
  const made = {
    ...profile,
    rails: change(profile.rails),
    converters: change(profile.converters),
    loads: change(profile.loads),
    parts: change(profile.parts),
    peripherals: change(profile.peripherals),
    ports: change(profile.ports),
  };
  const [id] = left;
  if (id !== undefined) throw missing(profile, id);
  return made;
}

/** A figure of several elements, in the same proportion. */
function scaled(profile: Profile, { scale, field, by }: Extract<Edit, { scale: string[] }>): Profile {
  if (!(by > 0)) throw new ProfileProblem(scale[0], `would be scaled by ${by}; expected a factor above 0`);
  return scale.reduce((made, id) => {
    const element = lists.flatMap((list): object[] => made[list]).find((x) => 'id' in x && x.id === id);
    if (!element) throw missing(profile, id);
    const value = (element as Record<string, unknown>)[field];
    if (typeof value !== 'number') throw new ProfileProblem(id, `has no number called "${field}"`);
    return withFields(made, [id], { [field]: value * by });
  }, profile);
}

function without(profile: Profile, ids: readonly string[]): Profile {
  const gone = ids.find((id) => !lists.some((list) => profile[list].some((x) => x.id === id)));
  if (gone !== undefined) throw missing(profile, gone);
  const keep = <T extends { id: string }>(list: T[]): T[] => list.filter((x) => !ids.includes(x.id));
  return {
    ...profile,
    rails: keep(profile.rails),
    converters: keep(profile.converters),
    loads: keep(profile.loads),
    parts: keep(profile.parts),
    peripherals: keep(profile.peripherals),
    ports: keep(profile.ports),
  };
}

function withNeeds(profile: Profile, of: readonly string[], set: object): Profile {
  const known = new Set(profile.stages.flatMap((s) => s.needs.map((n) => n.of)));
  const gone = of.find((id) => !known.has(id));
  if (gone !== undefined) throw new ProfileProblem(gone, `is not awaited by any stage of ${profile.id}`);
  return {
    ...profile,
    stages: profile.stages.map((s) => ({
      ...s,
      needs: s.needs.map((n) => (of.includes(n.of) ? { ...n, ...set } : n)),
    })),
  };
}

function withStage(profile: Profile, edit: Extract<Edit, { stage: string }>): Profile {
  const stage = profile.stages.find((s) => s.id === edit.stage);
  if (!stage) throw new ProfileProblem(edit.stage, `is not a stage of ${profile.id}`);
  if ('drop' in edit && !stage.needs.some((n) => n.of === edit.drop))
    throw new ProfileProblem(edit.drop, `is not awaited by the stage ${edit.stage} of ${profile.id}`);
  const needs = 'wait' in edit ? [...stage.needs, edit.wait] : stage.needs.filter((n) => n.of !== edit.drop);
  return { ...profile, stages: profile.stages.map((s) => (s === stage ? { ...s, needs } : s)) };
}

function withCells(profile: Profile, cells: number, rails: readonly string[]): Profile {
  if (!profile.battery) throw new ProfileProblem('battery', `${profile.id} has none`);
  if (cells < 1) throw new ProfileProblem('cells', `${cells} would make a rail negative; expected 1 or more`);
  const nominalV = cells * cell.nominalV;
  return {
    ...withFields(profile, rails, { nominalV }),
    battery: { ...profile.battery, nominalV, fullV: cells * cell.fullV, emptyV: cells * cell.emptyV },
  };
}
