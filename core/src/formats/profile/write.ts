import { stringify } from 'yaml';
import type { Profile } from '../../twin/index.ts';

/** A profile as YAML, for people to edit; reads back as the same profile. */
export function profileText(profile: Profile): string {
  const { format, id, name, class: deviceClass, generic, note, ...rest } = profile;
  // What it is comes first; the long lists after it.
  const ordered = { format, id, name, class: deviceClass, generic, note, ...rest };
  return stringify(ordered, { lineWidth: 0, flowCollectionPadding: false });
}
