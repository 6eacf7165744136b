import { parseDocument, stringify } from 'yaml';
import type { Profile } from '../../twin/index.ts';

/** A profile as YAML, for people to edit; reads back as the same profile. */
export function profileText(profile: Profile): string {
  const { format, id, name, class: deviceClass, generic, note, ...rest } = profile;
  // What it is comes first; the long lists after it.
  const ordered = { format, id, name, class: deviceClass, generic, note, ...rest };
  return stringify(ordered, { lineWidth: 0, flowCollectionPadding: false });
}

/**
 * The line on which a place of a finding stands in the text that was read, from 1; null where it cannot be found.
 *
 * @param place such as `rails[2].nominalV`; a key that is missing is found at what should hold it
 */
export function lineOfPlace(text: string, place: string): number | null {
  const line = /^line (\d+)/.exec(place);
  if (line) return Number(line[1]);
  const document = parseDocument(text, { logLevel: 'silent' });
  const path = place
    .replace(/\[(\d+)\]/g, '.$1')
    .split('.')
    .filter(Boolean)
    .map((key) => (/^\d+$/.test(key) ? Number(key) : key));
  for (let length = path.length; length > 0; length--) {
    const node = document.getIn(path.slice(0, length), true) as { range?: [number, number, number] } | undefined;
    if (node?.range) return text.slice(0, node.range[0]).split('\n').length;
  }
  return null;
}
