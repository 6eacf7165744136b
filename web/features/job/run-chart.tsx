'use client';

import {
  Area,
  ComposedChart,
  Line,
  ReferenceArea,
  ReferenceDot,
  ReferenceLine,
  ResponsiveContainer,
  XAxis,
  YAxis,
} from 'recharts';
import type { RunView } from './view';
import { formatStatedCurrent, formatVoltage } from '@umbral/core/words';
import { axisWidth, chartHeight, plotMargin, voltageSteps, xAxisHeight } from './plot';
import { currentTicks, voltTicks } from '@/ui/ticks';
import { axisTick, peakOpacity, silhouetteArea, voltageLine } from '@/ui/chart';

interface Point {
  t: number;
  level: number | null;
  high: number | null;
  band: [number, number] | null;
  volts: number | null;
}

/** The stretch that is pointed at. A function and not a component: the chart knows its parts by their kind. */
function pointedArea({ pointed, t0, t1 }: RunView) {
  if (!pointed) return null;
  return (
    <ReferenceArea
      yAxisId="a"
      x1={Math.max(t0, pointed[0])}
      x2={Math.min(t1, pointed[1])}
      fill="var(--decide)"
      fillOpacity={0.12}
      stroke="var(--decide)"
      strokeDasharray="4 3"
      label={{ value: 'look here', fill: 'var(--decide)', fontSize: 13, position: 'insideTop' }}
    />
  );
}

/** The run as a silhouette standing on its baseline before the penumbra of what is expected; the voltage as a line above. */
export function RunChart({ chosen }: { chosen: RunView }) {
  const { preview, band, run, t0, t1 } = chosen;
  const voltageOnly = run.quantity === 'voltage-only';
  const n = preview.mean.length;
  const points: Point[] = preview.mean.map((level, k) => ({
    t: t0 + ((k + 0.5) / n) * (t1 - t0),
    level: voltageOnly ? preview.volts[k] : level,
    high: voltageOnly ? null : preview.high[k],
    band: band.low[k] === null || band.high[k] === null ? null : [Math.max(0, band.low[k]), band.high[k]],
    volts: voltageOnly ? null : preview.volts[k],
  }));
  const highest = Math.max(
    voltageOnly ? 0.5 : 0.002,
    ...points.map((p) => Math.max(p.level ?? 0, p.high ?? 0, p.band?.[1] ?? 0)),
  );
  const top = highest / 0.62;
  const volts = voltageSteps(preview);
  const [, vMax] = voltTicks(Math.max(1, ...volts.map((v) => v.volts)));
  // The scale names zero.
  const named = volts.filter((v) => v.label !== formatVoltage(0));
  return (
    <div className="mt-2 w-full" style={{ height: chartHeight }} aria-hidden>
      <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 660, height: chartHeight }}>
        <ComposedChart data={points} margin={plotMargin} accessibilityLayer={false}>
          <XAxis
            dataKey="t"
            type="number"
            domain={[t0, t1]}
            tickFormatter={(t: number) => String(Number(t.toFixed(t1 - t0 < 3 ? 2 : 1)))}
            tickCount={9}
            stroke="var(--line)"
            tick={axisTick}
            unit=" s"
            height={xAxisHeight}
          />
          <YAxis
            yAxisId="a"
            scale={voltageOnly ? 'linear' : 'sqrt'}
            domain={[0, top]}
            ticks={currentTicks(highest, voltageOnly)}
            tickFormatter={(a: number) => (voltageOnly ? `${a} V` : formatStatedCurrent(a))}
            width={axisWidth}
            stroke="var(--line)"
            tick={axisTick}
            axisLine={false}
            allowDataOverflow
          />
          <YAxis
            yAxisId="v"
            orientation="right"
            // Inside the picture: what stands under it keeps its place.
            mirror
            hide={voltageOnly || volts.length === 0}
            domain={[(-0.84 * vMax) / 0.12, (0.16 * vMax) / 0.12]}
            ticks={[0, vMax]}
            tickFormatter={(v: number) => `${v} V`}
            stroke="var(--line)"
            tick={{ ...axisTick, fill: 'var(--volts)' }}
            axisLine={false}
            tickLine={false}
            allowDataOverflow
          />
          {currentTicks(highest, voltageOnly).map((a) => (
            <ReferenceLine key={a} yAxisId="a" y={a} stroke="var(--line)" strokeDasharray="1 5" />
          ))}
          <Area
            yAxisId="a"
            dataKey="band"
            type="stepAfter"
            stroke="none"
            fill="var(--penumbra)"
            fillOpacity={0.8}
            isAnimationActive={false}
            connectNulls={false}
          />
          <Area yAxisId="a" dataKey="high" fillOpacity={peakOpacity} {...silhouetteArea} />
          <Area yAxisId="a" dataKey="level" fillOpacity={1} {...silhouetteArea} />
          <Line yAxisId="v" dataKey="volts" {...voltageLine} />
          {named.map((v) => (
            <ReferenceDot
              key={v.t}
              yAxisId="v"
              x={v.t}
              y={v.volts}
              r={0}
              label={{ value: v.label, position: 'insideBottomLeft', fill: 'var(--volts)', fontSize: 13, dy: -8 }}
              ifOverflow="extendDomain"
            />
          ))}
          {chosen.segments
            .filter((s) => s.kind === 'gap')
            .map((s) => (
              <ReferenceArea
                key={s.t0}
                yAxisId="a"
                x1={s.t0}
                x2={s.t1}
                fill="var(--line)"
                fillOpacity={0.35}
                label={{ value: 'no readings', fill: 'var(--muted)', fontSize: 12 }}
              />
            ))}
          {pointedArea(chosen)}
          {chosen.leavesAt !== null && (
            <ReferenceLine
              yAxisId="a"
              x={chosen.leavesAt}
              stroke="var(--decide)"
              strokeDasharray="4 3"
              label={{
                value: 'leaves the healthy range',
                position: chosen.leavesAt > (t0 + t1) / 2 ? 'insideTopRight' : 'insideTopLeft',
                fill: 'var(--decide)',
                fontSize: 14,
                fontWeight: 700,
                // A rim of the ground keeps it readable on silhouette and band.
                stroke: 'var(--paper)',
                strokeWidth: 4,
                paintOrder: 'stroke',
                strokeLinejoin: 'round',
                dy: 62,
              }}
            />
          )}
        </ComposedChart>
      </ResponsiveContainer>
    </div>
  );
}
