import genericConsole from './profiles/generic-console.json';
import genericEreader from './profiles/generic-ereader.json';
import genericHandheld from './profiles/generic-handheld.json';
import genericLaptopDc from './profiles/generic-laptop-dc.json';
import genericLaptop from './profiles/generic-laptop.json';
import genericPhone from './profiles/generic-phone.json';
import genericTablet from './profiles/generic-tablet.json';
import dovetale from './profiles/fenmoor-dovetale-6.json';
import larkslate from './profiles/fenmoor-larkslate-10.json';
import barnfold from './profiles/oxbarrow-barnfold-15.json';
import hearthfold from './profiles/oxbarrow-hearthfold-13.json';
import moorcall from './profiles/tallgate-moorcall-2.json';
import pennywren from './profiles/tallgate-pennywren.json';
import { deriveProfile, type DerivedProfile } from './derive.ts';
import type { Profile } from './profile.ts';

/** Written whole; every other one is written as what differs from one of them. */
const whole = [genericPhone, genericLaptop] as unknown as Profile[];

const shipped = (file: unknown): Profile => {
  const own = file as Profile | DerivedProfile;
  return 'base' in own
    ? deriveProfile(
        whole.find((p) => p.id === own.base)!,
        own,
      )
    : own;
};

/** Profiles that come with the application; a test reads each of them as strictly as an imported one. */
const generic = [
  genericPhone,
  genericTablet,
  genericHandheld,
  genericEreader,
  genericLaptop,
  genericLaptopDc,
  genericConsole,
].map(shipped);
const fleet = [moorcall, larkslate, pennywren, dovetale, hearthfold, barnfold].map(shipped);

export const shippedProfiles: readonly Profile[] = [...generic, ...fleet];

/**
 * The profile with this id that comes with Umbral; null where there is none. */
export function shippedProfile(id: string): Profile | null {
  return shippedProfiles.find((p) => p.id === id) ?? null;
}

/** The profile that stands for a class when the model's own is not known. A laptop is told apart by how it is fed. */
export function genericProfile(deviceClass: string, hasDcInput: boolean): Profile {
  const id = deviceClass === 'laptop' && hasDcInput ? 'generic-laptop-dc' : `generic-${deviceClass}`;
  return shippedProfile(id) ?? generic[0];
}

/** The profile of a model by the name that people write; null where none is known. */
export function profileForModel(model: string, profiles: readonly Profile[] = shippedProfiles): Profile | null {
  const name = model.trim().toLowerCase();
  return profiles.find((p) => !p.generic && p.name.toLowerCase() === name) ?? null;
}
