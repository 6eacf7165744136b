'use client';

import { Area, ComposedChart, Line, ReferenceArea, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { useState } from 'react';
import type { LessonPicture as Picture } from '@/server/work/practice/course';
import { currentTicks, voltTicks } from '@/ui/ticks';
import { formatStatedCurrent, formatVoltage } from '@umbral/core/words';
import { axisTick, peakOpacity, silhouetteArea, voltageLine } from '@/ui/chart';
import { Display } from './display';

const height = 220;
/** The scale goes at least to here, amperes: a draw of some milliamperes looks like one. */
const leastTopA = 0.25;

const timeOf = ({ t0, t1, mean }: Picture, k: number): number => t0 + ((k + 0.5) / mean.length) * (t1 - t0);

/** A run of a lesson: what is drawn over time, with the places that are pointed at numbered, and what the display shows at a moment. */
export function LessonPicture({ picture, label }: { picture: Picture; label: string }) {
  const { mean } = picture;
  const [k, setK] = useState(0);
  const at = timeOf(picture, k);
  return (
    <figure className="min-w-0">
      <Chart picture={picture} label={label} at={at} />
      <figcaption className="flex flex-wrap items-center gap-x-4 gap-y-1 pt-1">
        <Display volts={picture.volts[k] ?? null} amps={mean[k] ?? null} says={picture.feed} />
        <input
          type="range"
          className="h-9 min-w-40 flex-1 accent-umbra"
          min={0}
          max={mean.length - 1}
          value={k}
          aria-label="Time of this display reading"
          aria-valuetext={`${at.toFixed(1)} s`}
          onChange={(e) => setK(Number(e.target.value))}
        />
        <span className="w-14 text-sm text-muted tabular-nums">{at.toFixed(1)} s</span>
        <span className="basis-full text-sm text-muted">Left: current, small values stretched. Right: voltage.</span>
      </figcaption>
    </figure>
  );
}

/** A run with everything that names its pattern: scale, feed, voltage, and the press. */
export function RunPicture({ picture, label }: { picture: Picture; label: string }) {
  const volts = [...picture.volts].filter((v) => v !== null);
  const highest = volts.length === 0 ? null : Math.max(...volts);
  return (
    <figure className="min-w-0">
      <Chart picture={picture} label={label} at={null} />
      <figcaption className="text-sm text-muted">
        {picture.feed}
        {highest !== null && <span className="text-volts">, up to {formatVoltage(highest)}</span>}
        {picture.promptAt === null && ', power not pressed'}. Small currents are stretched.
      </figcaption>
    </figure>
  );
}

/** Current as a silhouette, the voltage as a line against its own scale. */
function Chart({ picture, label, at }: { picture: Picture; label: string; at: number | null }) {
  const { t0, t1, mean, high, volts, promptAt, points } = picture;
  const data = mean.map((level, k) => ({ t: timeOf(picture, k), level, high: high[k], volts: volts[k] }));
  const highest = Math.max(leastTopA, ...high.map((x) => x ?? 0), ...mean.map((x) => x ?? 0));
  const top = highest * 1.15;
  const atV = voltTicks(Math.max(0, ...volts.map((v) => v ?? 0)));
  const ticks = currentTicks(highest);
  return (
    <div style={{ height }} role="img" aria-label={label}>
      <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 560, height }}>
        <ComposedChart data={data} margin={{ top: 18, right: 12, bottom: 0, left: 0 }} accessibilityLayer={false}>
          <XAxis
            dataKey="t"
            type="number"
            domain={[t0, t1]}
            tickFormatter={(t: number) => String(Math.round(t))}
            tickCount={10}
            unit=" s"
            stroke="var(--line)"
            tick={axisTick}
          />
          <YAxis
            yAxisId="v"
            orientation="right"
            domain={[0, atV[1]]}
            ticks={atV}
            width={44}
            stroke="var(--volts)"
            tick={{ ...axisTick, fill: 'var(--volts)' }}
            unit=" V"
          />
          <YAxis
            yAxisId="a"
            domain={[0, top]}
            scale="sqrt"
            width={64}
            stroke="var(--line)"
            tick={axisTick}
            ticks={ticks}
            tickFormatter={(a: number) => formatStatedCurrent(a)}
            allowDataOverflow
          />
          {points.map((p, k) => (
            <ReferenceArea
              key={p.says}
              yAxisId="a"
              x1={p.from}
              x2={p.to}
              fill="var(--decide)"
              fillOpacity={0.14}
              label={{ value: String(k + 1), position: 'insideTop', fill: 'var(--decide)', fontSize: 14 }}
            />
          ))}
          <Area yAxisId="a" dataKey="high" fillOpacity={peakOpacity} {...silhouetteArea} />
          <Area yAxisId="a" dataKey="level" fillOpacity={1} {...silhouetteArea} />
          {at !== null && <ReferenceLine x={at} yAxisId="a" stroke="var(--decide)" />}
          {ticks.map((a) => (
            <ReferenceLine key={a} y={a} yAxisId="a" stroke="var(--line)" strokeDasharray="1 5" />
          ))}
          {promptAt !== null && (
            <ReferenceLine
              yAxisId="a"
              x={promptAt}
              stroke="var(--ink)"
              strokeDasharray="4 3"
              label={{ value: 'pressed', position: 'top', fill: 'var(--ink)', fontSize: 12 }}
            />
          )}
          <Line yAxisId="v" dataKey="volts" {...voltageLine} />
        </ComposedChart>
      </ResponsiveContainer>
    </div>
  );
}
