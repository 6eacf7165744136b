import type { Random } from '../trace/index.ts';
import {
  compileProfile,
  makeWorkspace,
  ProfileProblem,
  startUp,
  usualSetup,
  type Profile,
  type TwinSetup,
} from '../twin/index.ts';
import settings from './settings.json';
import { perturbProfile, type Spread } from './spread.ts';

/** `patienceS` is long enough for the slowest healthy start. */
const { soundTries, patienceS } = settings;

/** The usual way to start a device on each feed that it has. */
function feedsOf(profile: Profile): Partial<TwinSetup>[] {
  const battery = profile.battery !== null;
  return [
    ...(battery ? [{ feed: 'battery' as const }] : []),
    ...(profile.ports.length > 0 ? [{ feed: 'usb-c' as const, battery, promptS: 6 }] : []),
    ...(profile.dcIn ? [{ feed: 'dc-in' as const, battery, promptS: 6 }] : []),
  ];
}

/** Whether a device with nothing wrong in it starts on every feed that it has, and stays on. */
export function startsSound(profile: Profile): boolean {
  const board = compileProfile(profile);
  const workspace = makeWorkspace(board);
  return feedsOf(profile).every((feed) => {
    const start = startUp(board, [], { ...usualSetup, limitA: null, seconds: patienceS, ...feed }, workspace);
    return start.running && start.restarts === 0;
  });
}

/**
 * A device whose figures are off from a profile. One that would not start with nothing wrong in it is none that ever left
 * a factory: other figures are drawn.
 *
 * @throws {ProfileProblem} where none of many starts
 */
export function soundUnit(profile: Profile, random: Random, spread: Spread): Profile {
  for (let k = 0; k < soundTries; k++) {
    const unit = perturbProfile(profile, random, spread);
    if (startsSound(unit)) return unit;
  }
  throw new ProfileProblem(profile.id, 'does not start although it has no fault');
}
