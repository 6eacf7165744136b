import type { BandStep, PredictedStretch } from '@umbral/core';
import { formatCurrent, formatStatedCurrent, formatVoltage } from '@umbral/core/words';
import type { Marker } from '@umbral/core/words';
import { useRef } from 'react';
import { markerSays, useWidth } from '@/features/job/marker-names';
import { axisWidth } from '@/features/job/plot';
import { currentTicks, nameLines, timeTicks, voltTicks } from '@/ui/ticks';
import type { Outline } from '@umbral/instruments/outline';

const [width, height] = [1000, 300];
/** Room for the voltage at the right, and a line of names, pixels. */
const [voltsWidth, lineHeight] = [44, 17];

/** The run as it grows, before the band that a healthy unit stays within once power was pressed. */
export function LiveSilhouette({
  shape,
  fullA,
  band,
  predicted,
  marks,
  pressedAt,
  startedAt,
}: {
  shape: Outline | null;
  /** Current that fills the height, so that a small draw looks small. */
  fullA: number;
  band: BandStep[];
  /** In the place of the healthy band: what a suspect would draw. */
  predicted: { name: string; draws: PredictedStretch[] } | null;
  /** What was marked so far. */
  marks: readonly Marker[];
  /** From when on a healthy unit is expected to draw. */
  pressedAt: number | null;
  /** When the recording began, so that the delay to the screen can be measured. */
  startedAt: string | null;
}) {
  const levels = shape?.levels() ?? [];
  const volts = shape?.voltLevels() ?? [];
  const box = useRef<HTMLDivElement>(null);
  const pixels = useWidth(box);
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
  const highestV = Math.max(0, ...volts.map((v) => v ?? 0));
  const atV = voltTicks(highestV);
  const yV = (v: number): number => height - ((height - 14) * v) / atV[1];
  const names = marks.map((m) => ({ share: x(m.t) / width, says: markerSays(m) }));
  const lines = nameLines(names, pixels, { edgeShare: 0.8 });
  const share = (part: number, whole: number): string => `${((100 * part) / whole).toFixed(2)}%`;
  return (
    <div className="relative pb-6" style={{ paddingLeft: axisWidth, paddingRight: voltsWidth }}>
      {predicted && (
        <p
          role="status"
          className="absolute top-1 right-2 z-10 rounded-full border border-edge bg-raised px-2.5 text-sm"
        >
          light band: {predicted.name} would draw this
        </p>
      )}
      <div
        ref={box}
        className="relative text-sm"
        style={{ height: lineHeight * Math.max(0, ...lines.map((l) => l + 1)) }}
      >
        {names.map(({ share: at, says }, k) => (
          <span
            key={`${marks[k].event} ${marks[k].t}`}
            className={`absolute whitespace-nowrap text-decide ${at > 0.8 ? '-translate-x-full pr-1' : 'pl-1'}`}
            style={{ left: `${(100 * at).toFixed(2)}%`, top: lineHeight * lines[k] }}
          >
            {says}
          </span>
        ))}
      </div>
      <div className="relative text-sm text-muted">
        <svg
          viewBox={`0 0 ${width} ${height}`}
          preserveAspectRatio="none"
          role="img"
          aria-label={`Current so far, now ${formatCurrent(now)}${highestV > 0 ? ` at ${formatVoltage(volts.findLast((v) => v !== null) ?? 0)}` : ''} after ${Math.round(shape?.end ?? 0)} s`}
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
          <path
            d={marks.map((m) => `M${x(m.t).toFixed(1)} 0V300`).join('')}
            className="stroke-decide"
            strokeWidth="1.5"
            vectorEffect="non-scaling-stroke"
          />
          <path
            d={voltPath(volts, shape?.width ?? 1, shape?.end ?? 0, x, yV)}
            className="fill-none stroke-volts"
            strokeWidth="1.8"
            vectorEffect="non-scaling-stroke"
          />
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
        {highestV > 0 &&
          atV.map((v) => (
            <span
              key={v}
              className="absolute left-full -translate-y-1/2 pl-2 whitespace-nowrap text-volts"
              style={{ top: share(yV(v), height) }}
            >
              {v} V
            </span>
          ))}
      </div>
    </div>
  );
}

/** A voltage that was read within this time still stands, seconds. */
const sameS = 0.5;

/** The voltage as steps; nothing where none was read. */
function voltPath(
  volts: readonly (number | null)[],
  stretch: number,
  end: number,
  x: (t: number) => number,
  y: (volts: number) => number,
): string {
  // Slower than the picture is no gap.
  const isGap = (k: number): boolean =>
    volts.slice(Math.max(0, k - Math.ceil(sameS / stretch)), k).every((v) => v === null);
  return volts
    .map((v, k) => {
      if (v === null) return '';
      const [from, to] = [x(k * stretch), x(Math.min((k + 1) * stretch, end))];
      return `${isGap(k) ? 'M' : 'L'}${from.toFixed(1)} ${y(v).toFixed(1)}H${to.toFixed(1)}`;
    })
    .join('');
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
