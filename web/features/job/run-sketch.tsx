import { axisWidth, chartHeight, plotMargin, xAxisHeight } from './plot';
import type { RunView } from './view';

/** The run as a bare shape before its band: comes with the page, and while somebody moves through the run. */
export function RunSketch({ chosen }: { chosen: RunView }) {
  const { preview, band, run, t0, t1 } = chosen;
  const levels = run.quantity === 'voltage-only' ? preview.volts : preview.mean;
  const highest = Math.max(0.002, ...levels.map((x) => x ?? 0), ...band.high.map((x) => x ?? 0));
  const stretch = run.quantity === 'voltage-only' ? (x: number) => x : Math.sqrt;
  const height = (x: number | null): number => 100 * (1 - stretch(Math.max(0, x ?? 0) / (highest / 0.62)));
  const path = (values: (number | null)[]): string =>
    `M0 100${values.map((x, k) => `V${height(x).toFixed(1)}H${k + 1}`).join('')}V100Z`;
  return (
    <div className="mt-2 w-full" style={{ height: chartHeight }} aria-hidden>
      <svg
        viewBox={`0 0 ${levels.length} 100`}
        preserveAspectRatio="none"
        style={{
          width: `calc(100% - ${axisWidth + plotMargin.right}px)`,
          height: chartHeight - plotMargin.top - xAxisHeight,
          marginLeft: axisWidth,
          marginTop: plotMargin.top,
        }}
      >
        <path d={path(band.high)} className="fill-penumbra" opacity={0.8} />
        <path d={path(run.quantity === 'voltage-only' ? [] : preview.high)} className="fill-umbra" opacity={0.35} />
        <path d={path(levels)} className="fill-umbra" />
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
