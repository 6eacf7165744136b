const digits = '0123456789abcdefghijklmnopqrstuvwxyz';
const steps = digits.length - 1;

/** Heights of a run as one letter each, by the square root that silhouettes are drawn with; empty for a run without any. */
export function packOutline(amps: readonly number[]): string {
  const highest = Math.max(0, ...amps);
  if (highest === 0) return '0'.repeat(amps.length);
  return amps.map((x) => digits[Math.round(steps * Math.sqrt(x / highest))]).join('');
}

/** The path of a silhouette 150 by 28 from its letters. */
export function outlinePath(outline: string): string {
  if (outline.length === 0) return '';
  const step = 150 / outline.length;
  let path = 'M0 28';
  for (let k = 0; k < outline.length; k++) {
    const y = 28 - (25 * digits.indexOf(outline[k])) / steps;
    path += `V${y.toFixed(1)}H${((k + 1) * step).toFixed(1)}`;
  }
  return `${path}V28Z`;
}

/** The middle of many outlines, place by place: what a pattern typically looks like in this shop. */
export function typicalOutline(outlines: readonly string[]): string {
  const usable = outlines.filter((o) => o.length > 0);
  if (usable.length === 0) return '';
  const length = 48;
  return Array.from({ length }, (_, k) => {
    const column = usable.map((o) => digits.indexOf(o[Math.min(o.length - 1, Math.floor((k / length) * o.length))]));
    column.sort((a, b) => a - b);
    return digits[column[column.length >> 1]];
  }).join('');
}
