import type { DisplayReading, DisplayState, Framing, Quad } from '@umbral/core/display';

/** What the page asks of the thread that reads. */
export type ToReader =
  /** `isKept`: as it was saved; the camera may stand elsewhere by now. */
  | { kind: 'framing'; framing: Framing; isKept: boolean }
  | { kind: 'picture'; t: number; picture: ImageBitmap }
  /** `isMirrored`: as a person says. */
  | { kind: 'find'; pictures: ImageBitmap[]; isMirrored: boolean };

/** A number that was found in a picture; corners in shares of it. */
export interface FoundInPicture {
  corners: Quad;
  text: string;
  decimals: number;
}

/** What the thread that reads answers. */
export type FromReader =
  | { kind: 'read'; t: number; reading: DisplayReading | null; state: DisplayState }
  /** `readsMirrored`: the other way round it shows more. */
  | { kind: 'found'; numbers: FoundInPicture[]; readsMirrored: boolean }
  /** A saved framing was looked for in the first picture. */
  | { kind: 'again'; isFound: boolean };
