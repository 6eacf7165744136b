/** Beyond this exp() adds nothing that a share could show. */
const maxExponent = 40;
/** How fast a threshold over what can be resolved stops counting as reached. */
const unresolvedSlope = 1.5;
/**
 * How far a positive quantity is above a threshold: 0.5 at it, on a logarithmic scale.
 *
 * @param x the quantity; nothing measured counts as not above
 * @param threshold in the same unit, above 0
 * @param width natural-log width of the fade: at exp(width) times the threshold the value is 0.73
 * @param blur what the instrument cannot resolve, in the same unit; it widens the fade where it matters
 */
export function membershipAbove(x: number | null, threshold: number, width: number, blur = 0): number {
  if (x === null || !(x > 0))
    return blur > 0 ? 1 / (1 + Math.exp(Math.min(maxExponent, threshold / blur) * unresolvedSlope)) : 0;
  const relative = blur / Math.max(x, threshold);
  const fade = Math.sqrt(width * width + relative * relative);
  return 1 / (1 + Math.exp(-Math.log(x / threshold) / fade));
}

/**
 * The opposite of `above`.
 *
 * @param x the quantity; nothing measured counts as below
 * @param threshold in the same unit, above 0
 * @param width natural-log width of the fade
 * @param blur what the instrument cannot resolve, in the same unit
 */
export function membershipBelow(x: number | null, threshold: number, width: number, blur = 0): number {
  return 1 - membershipAbove(x, threshold, width, blur);
}

/**
 * Any of several reasons, taken as independent.
 *
 * @param reasons 0 to 1 each
 * @returns 0 to 1; 0 for no reasons
 * @example noisyOr(0.5, 0.5) // 0.75
 */
export function noisyOr(...reasons: number[]): number {
  return 1 - reasons.reduce((product, p) => product * (1 - p), 1);
}
