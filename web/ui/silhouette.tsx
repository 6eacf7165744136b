/** The run's face: a filled shape on its baseline, small currents stretched by a square root. */
export function Silhouette({
  path,
  label,
  strong = false,
  className = '',
}: {
  path: string;
  label: string;
  strong?: boolean;
  className?: string;
}) {
  return (
    <svg
      viewBox="0 0 150 28"
      preserveAspectRatio="none"
      role="img"
      aria-label={label}
      className={`${strong ? 'text-umbra' : 'text-edge'} ${className}`}
    >
      <path d={path} fill="currentColor" />
      <path d="M0 27.5H150" stroke="currentColor" strokeWidth="1" />
    </svg>
  );
}

/**
 * The path of a silhouette 150 by 28, from even stretches of a run.
 *
 * @param levels amperes; null where nothing was measured
 * @param full amperes that fill the height, so that a small draw looks small; a higher run fills it by itself
 */
export function silhouettePath(levels: (number | null)[], full = 0): string {
  const highest = Math.max(full, ...levels.map((x) => x ?? 0));
  if (levels.length === 0 || highest <= 0) return '';
  const step = 150 / levels.length;
  let path = 'M0 28';
  levels.forEach((level, k) => {
    const y = 28 - 25 * Math.sqrt(Math.max(0, level ?? 0) / highest);
    path += `V${y.toFixed(1)}H${((k + 1) * step).toFixed(1)}`;
  });
  return `${path}V28Z`;
}

/** A few dozen levels of a preview, the highest of each stretch. */
export function thinSheet(levels: (number | null)[], count = 64): (number | null)[] {
  const size = Math.max(1, Math.floor(levels.length / count));
  const out: (number | null)[] = [];
  for (let k = 0; k < levels.length; k += size) {
    const part = levels.slice(k, k + size).filter((x) => x !== null);
    out.push(part.length === 0 ? null : Math.max(...part));
  }
  return out;
}
