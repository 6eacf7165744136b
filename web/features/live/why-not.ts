/** What of a supply decides whether its output can be armed or switched. */
interface OutputState {
  outputOn: boolean | null;
  outputUnknown: boolean;
}

const unknown = 'It is not known whether the output is on. Look at the supply';

/** Why an output cannot be armed; null where it can. */
export function whyNotArm({ outputOn, outputUnknown }: OutputState): string | null {
  if (outputOn === true) return 'Switch the output off first';
  return outputUnknown ? unknown : null;
}

/** Why an output cannot be switched; null where it can. */
export function whyNotSwitch({ outputOn, outputUnknown }: OutputState, isMine: boolean): string | null {
  if (outputUnknown) return unknown;
  return isMine || outputOn === true ? null : 'Arm it first';
}

export const notRecording = 'Start recording first';
