'use client';

import { Area, ComposedChart, ReferenceArea, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { useState } from 'react';
import type { LessonPicture as Picture } from '@/server/practice/course';
import { axisTick } from '@/ui/chart';
import { Display } from './display';

const height = 220;

/** A run of a lesson: what is drawn over time, with the places that are pointed at numbered, and what the display shows at a moment. */
export function LessonPicture({ picture, label }: { picture: Picture; label: string }) {
  const { t0, t1, mean, high, promptAt, points } = picture;
  const data = mean.map((level, k) => ({ t: t0 + ((k + 0.5) / mean.length) * (t1 - t0), level, high: high[k] }));
  const [k, setK] = useState(0);
  const at = data[k].t;
  const top = Math.max(0.01, ...high.map((x) => x ?? 0), ...mean.map((x) => x ?? 0)) * 1.15;
  return (
    <figure className="min-w-0">
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
              domain={[0, top]}
              scale="sqrt"
              width={64}
              stroke="var(--line)"
              tick={axisTick}
              tickCount={5}
              tickFormatter={(a: number) => (a < 1 ? `${Math.round(a * 1000)} mA` : `${a.toFixed(1)} A`)}
              allowDataOverflow
            />
            {points.map((p, k) => (
              <ReferenceArea
                key={p.says}
                x1={p.from}
                x2={p.to}
                fill="var(--decide)"
                fillOpacity={0.14}
                label={{ value: String(k + 1), position: 'insideTop', fill: 'var(--decide)', fontSize: 14 }}
              />
            ))}
            <Area
              dataKey="high"
              type="stepAfter"
              stroke="none"
              fill="var(--umbra)"
              fillOpacity={0.35}
              isAnimationActive={false}
            />
            <Area
              dataKey="level"
              type="stepAfter"
              stroke="none"
              fill="var(--umbra)"
              fillOpacity={1}
              isAnimationActive={false}
            />
            <ReferenceLine x={at} stroke="var(--decide)" />
            {promptAt !== null && (
              <ReferenceLine
                x={promptAt}
                stroke="var(--ink)"
                strokeDasharray="4 3"
                label={{ value: 'pressed', position: 'top', fill: 'var(--ink)', fontSize: 12 }}
              />
            )}
          </ComposedChart>
        </ResponsiveContainer>
      </div>
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
      </figcaption>
    </figure>
  );
}
