import type { DisplayNote, DisplayState, ReadingDoubt, ShownQuantity } from '@umbral/core/display';

export const quantityWords: Record<ShownQuantity, string> = {
  volts: 'Voltage',
  amps: 'Current',
  watts: 'Power',
  ignored: 'Something else',
};

/** Units of each, with what one is in V, A or W. */
export const units: Record<Exclude<ShownQuantity, 'ignored'>, { name: string; factor: number }[]> = {
  volts: [
    { name: 'V', factor: 1 },
    { name: 'mV', factor: 0.001 },
  ],
  amps: [
    { name: 'A', factor: 1 },
    { name: 'mA', factor: 0.001 },
  ],
  watts: [
    { name: 'W', factor: 1 },
    { name: 'mW', factor: 0.001 },
  ],
};

/** What is wrong, and what helps. */
export const noteWords: Record<DisplayNote, { says: string; helps: string }> = {
  dark: {
    says: 'The display is dark, or too dim to read',
    helps: 'Switch it on, or place a lamp so that it does not reflect on the glass.',
  },
  covered: {
    says: 'Something covers the display, or the camera points elsewhere',
    helps: 'Clear the view. If the camera was moved far, frame the display again.',
  },
  'cut-off': {
    says: 'A number reaches the edge of its frame',
    helps: 'Drag the corners further out. Part of the number may be outside.',
  },
  nothing: {
    says: 'There are no digits in the frame',
    helps: 'Find the numbers again, or drag the corners to them.',
  },
  mirrored: {
    says: 'The picture is mirrored',
    helps: 'Turn on “mirrored picture” below.',
  },
  blinking: {
    says: 'The display blinks',
    helps: 'It is read when lit. While it is dark there is no reading.',
  },
  power: {
    says: 'Volts times amperes do not match the watts shown',
    helps: 'One of them is misread or has the wrong name. Check the corners, or set the third to “something else”.',
  },
  range: {
    says: 'The decimal point is not where it was set',
    helps: 'If the display switches its range, choose “point moves” for that number.',
  },
  unsure: {
    says: 'The digits are not clear enough',
    helps: 'Move closer, straighten the camera, or remove the glare.',
  },
};

export const doubtWords: Record<ReadingDoubt, string> = {
  dark: 'dark',
  covered: 'covered',
  'no-characters': 'no digits',
  'point-elsewhere': 'point moved',
  'cut-off': 'cut off',
  'other-format': 'other format',
  unsure: 'not clear',
  alone: 'jumped',
  power: 'V × A is not W',
};

/** Why nothing can be read now, for whoever looks at the instruments; empty while it reads. */
export const whyUnread = ({ note }: DisplayState): string =>
  note === null || note === 'blinking' ? '' : `${noteWords[note].says}. ${noteWords[note].helps}`.slice(0, 200);

export const silentWords = 'No picture is arriving. The last readings are old. Check the camera, or play the film.';

export const elsewhereWords = 'The display is not where it was framed. Frame it again, or press “It is there”.';

/** Why a browser gives no camera, in words. */
export function cameraProblem(error: unknown): string {
  const name = error instanceof Error ? error.name : '';
  if (name === 'NotAllowedError')
    return 'The browser was not allowed to use the camera. Allow it for this page, then start again.';
  if (name === 'NotFoundError' || name === 'OverconstrainedError')
    return 'No camera is connected. Plug one in, or drop a video here.';
  if (name === 'NotReadableError' || name === 'AbortError')
    return 'The camera does not start. Another program may be using it. Close that program, then start again.';
  return 'Browsers allow the camera only on a secure address: this computer, or https.';
}
