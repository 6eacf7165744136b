import { rectifiedField } from '../projection.ts';
import type { GrayImage, Quad } from '../image.ts';
import { charactersOf, type CharacterRow } from './characters.ts';
import { levelledField } from './level.ts';
import settings from './reading.json';

/** Why nothing could be read in a field. */
export type Unread = 'dark' | 'no-characters' | 'point-elsewhere' | 'cut-off';

/** Characters of a field, and whether they are brighter than their ground. */
interface FieldRow extends CharacterRow {
  isLightOnDark: boolean;
}

/** Characters of a field in a picture, or why there are none. */
export function fieldCharacters(picture: GrayImage, quad: Quad): FieldRow | Unread {
  const { fieldHeight, maxAspect } = settings;
  const [a, b, c, d] = quad;
  const side = (p: Quad[0], q: Quad[0]): number => Math.hypot(q[0] - p[0], q[1] - p[1]);
  const aspect = Math.min(maxAspect, (side(a, b) + side(d, c)) / (side(a, d) + side(b, c)));
  const level = levelledField(rectifiedField(picture, quad, Math.round(fieldHeight * aspect), fieldHeight));
  if (!level) return 'dark';
  const row = charactersOf(level.ink);
  if (!row) return 'no-characters';
  return row.isCut ? 'cut-off' : { ...row, isLightOnDark: level.isLightOnDark };
}
