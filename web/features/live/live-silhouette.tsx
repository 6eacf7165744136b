import type { BandStep, PredictedStretch } from '@umbral/core';
import { formatCurrent, formatStatedCurrent } from '@umbral/core/words';
import { axisWidth, currentTicks, timeTicks } from '@/features/job/plot';
import type { Outline } from '@umbral/instruments/outline';

const [width, height] = [1000, 300];

/** The run as it grows, before the band that a healthy unit stays within once power was pressed. */
export function LiveSilhouette({
  shape,
  fullA,
  band,
  predicted,
  pressedAt,
  startedAt,
}: {
  shape: Outline | null;
  /** Current that fills the height, so that a small draw looks small. */
  fullA: number;
  band: BandStep[];
  /** In the place of the healthy band: what a suspect would draw. */
  predicted: { name: string; draws: PredictedStretch[] } | null;
  pressedAt: number | null;
  /** When the recording began, so that the delay to the screen can be measured. */
  startedAt: string | null;
}) {
  const levels = shape?.levels() ?? [];
  const seconds = Math.max(20, 1.15 * (shape?.end ?? 0));
  const highest = Math.max(fullA, ...levels.map((x) => x ?? 0), ...(predicted?.draws.map((d) => d.high) ?? []));
  const x = (t: number): number => (width * t) / seconds;
  const y = (amps: number): number => height - (height - 14) * Math.sqrt(Math.max(0, amps) / highest);
  let path = 'M0 300';
  levels.forEach((level, k) => {
    const right = Math.min((k + 1) * (shape?.width ?? 1), shape?.end ?? 0);
    path += `V${y(level ?? 0).toFixed(1)}H${x(right).toFixed(1)}`;
  });
  path += 'V300Z';
  const now = levels.at(-1) ?? null;
  if (levels.length === 0)
    return (
      <p className="grid h-[300px] place-items-center border-b-2 border-umbra text-center text-muted">
        Check polarity and that the battery is out. Then record, arm, switch the output on, wait two seconds, and press
        power on the device and p here.
      </p>
    );
  const ticks = currentTicks(highest);
  const share = (part: number, whole: number): string => `${((100 * part) / whole).toFixed(2)}%`;
  return (
    <div className="relative pb-6" style={{ paddingLeft: axisWidth }}>
      {predicted && (
        <p
          role="status"
          className="absolute top-1 right-2 z-10 rounded-full border border-edge bg-raised px-2.5 text-sm"
        >
          light band: {predicted.name} would draw this
        </p>
      )}
      <div className="relative text-sm text-muted">
        <svg
          viewBox={`0 0 ${width} ${height}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`Current so far, now ${formatCurrent(now)} after ${Math.round(shape?.end ?? 0)} s`}
          data-started-at={startedAt}
          data-end={shape?.end}
          className="h-[300px] w-full"
        >
          {predicted && <path d={predictedPath(predicted.draws, seconds, x, y)} className="fill-penumbra" />}
          {pressedAt !== null && !predicted && (
            <path d={bandPath(band, pressedAt, seconds, x, y)} className="fill-penumbra opacity-70" />
          )}
          <path d={path} className="fill-umbra" />
          <path
            d={ticks.map((a) => `M0 ${y(a).toFixed(1)}H${width}`).join('')}
            className="stroke-line"
            strokeDasharray="1 5"
            vectorEffect="non-scaling-stroke"
          />
          {pressedAt !== null && (
            <path
              d={`M${x(pressedAt)} 0V300`}
              className="stroke-decide"
              strokeWidth="2"
              vectorEffect="non-scaling-stroke"
            />
          )}
          <path d="M0 300H1000" className="stroke-umbra" strokeWidth="2" vectorEffect="non-scaling-stroke" />
        </svg>
        {ticks.map((a) => (
          <span
            key={a}
            className="absolute right-full -translate-y-1/2 pr-2 whitespace-nowrap"
            style={{ top: share(y(a), height) }}
          >
            {formatStatedCurrent(a)}
          </span>
        ))}
        {timeTicks(seconds).map(({ t, says }) => (
          <span
            key={t}
            className="absolute top-full -translate-x-1/2 pt-0.5 whitespace-nowrap"
            style={{ left: share(t, seconds) }}
          >
            {says}
          </span>
        ))}
        {pressedAt !== null && (
          <span
            className="absolute top-0 pl-1.5 whitespace-nowrap text-decide"
            style={{ left: share(pressedAt, seconds) }}
          >
            pressed
          </span>
        )}
      </div>
    </div>
  );
}

/** The last stretch goes on to the edge: it has been computed to the run's present end. */
function predictedPath(
  draws: PredictedStretch[],
  seconds: number,
  x: (t: number) => number,
  y: (amps: number) => number,
): string {
  return draws
    .map(({ t0, t1, low, high }, k) => {
      const to = k === draws.length - 1 ? seconds : t1;
      return `M${x(Math.max(0, t0))} ${y(low)}V${y(high)}H${x(to)}V${y(low)}Z`;
    })
    .join('');
}

function bandPath(
  band: BandStep[],
  pressedAt: number,
  seconds: number,
  x: (t: number) => number,
  y: (amps: number) => number,
): string {
  return band
    .map((step, k) => {
      const from = Math.max(0, pressedAt + step.fromS);
      const to = Math.min(seconds, pressedAt + (band[k + 1]?.fromS ?? Infinity));
      return to <= from ? '' : `M${x(from)} ${y(step.low)}V${y(step.high)}H${x(to)}V${y(step.low)}Z`;
    })
    .join('');
}
