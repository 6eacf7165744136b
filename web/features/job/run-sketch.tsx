import { axisWidth, chartHeight, plotMargin, xAxisHeight } from './plot';
import type { RunView } from './view';

/** Values by the stretches of a picture. */
type Values = readonly (number | null)[];

/** The run as a bare shape before its band: comes with the page, and while somebody moves through the run. */
export function RunSketch({ chosen }: { chosen: RunView }) {
  const { preview, band, run, t0, t1 } = chosen;
  const isVoltage = run.quantity === 'voltage-only';
  const levels = isVoltage ? preview.volts : preview.mean;
  const highest = Math.max(0.002, ...levels.map((x) => x ?? 0), ...band.high.map((x) => x ?? 0));
  const stretch = isVoltage ? (x: number) => x : Math.sqrt;
  const height = (x: number | null): string => (100 * (1 - stretch(Math.max(0, x ?? 0) / (highest / 0.62)))).toFixed(1);
  /** The area from one line up to another; from the ground where there is no lower one. */
  const area = (upper: Values, lower: Values = []): string => {
    const there = upper.map((x, k) => `V${height(x)}H${k + 1}`).join('');
    const back = lower.map((_, k) => `V${height(lower[lower.length - 1 - k])}H${lower.length - 1 - k}`).join('');
    return `M0 100${there}${back || 'V100'}Z`;
  };
  return (
    <div className="mt-2 w-full" style={{ height: chartHeight, paddingTop: plotMargin.top }} aria-hidden>
      <svg
        viewBox={`0 0 ${levels.length} 100`}
        preserveAspectRatio="none"
        style={{
          width: `calc(100% - ${axisWidth + plotMargin.right}px)`,
          height: chartHeight - plotMargin.top - xAxisHeight,
          marginLeft: axisWidth,
        }}
      >
        <path d={area(band.high, band.low)} className="fill-penumbra" opacity={0.8} />
        {!isVoltage && <path d={area(preview.high)} className="fill-umbra" opacity={0.35} />}
        <path d={area(levels)} className="fill-umbra" />
      </svg>
      <p
        className="flex justify-between text-[13px] text-muted"
        style={{ marginLeft: axisWidth, marginRight: plotMargin.right }}
      >
        {[t0, (t0 + t1) / 2, t1].map((t) => (
          <span key={t}>{t.toFixed(t1 - t0 < 3 ? 2 : 1)} s</span>
        ))}
      </p>
    </div>
  );
}
