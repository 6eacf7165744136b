'use client';

import type { WorthCurve } from '@umbral/core';
import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { optionWords, worthOptions } from './words';
import { axisTick } from '@/ui/chart';

const height = 250;
/** Told apart by their strokes as well as by their names at the end. */
const strokes = {
  'go-on': { stroke: 'var(--umbra)', width: 3, dash: undefined },
  ask: { stroke: 'var(--umbra)', width: 2, dash: '7 4' },
  data: { stroke: 'var(--edge)', width: 2, dash: '2 3' },
  stop: { stroke: 'var(--muted)', width: 2, dash: undefined },
} as const;

/** What each way on is worth by the probability of the leading suspect, with where it stands now and where the answer changes. */
export function WorthChart({ curve, name }: { curve: WorthCurve; name: string }) {
  const points = curve.points.map((x) => ({ ...x, p: 100 * x.p }));
  const shown = worthOptions.filter((id) => points[0][id] !== null);
  return (
    <>
      <div style={{ height }} aria-hidden>
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 560, height }}>
          <LineChart data={points} margin={{ top: 12, right: 16, bottom: 24, left: 4 }} accessibilityLayer={false}>
            <CartesianGrid stroke="var(--line)" strokeDasharray="2 4" />
            <XAxis
              dataKey="p"
              type="number"
              domain={[0, 100]}
              unit=" %"
              stroke="var(--line)"
              tick={axisTick}
              label={{ value: name, position: 'insideBottom', offset: -16, ...axisTick }}
            />
            <YAxis
              type="number"
              unit=" €"
              width={64}
              stroke="var(--line)"
              tick={axisTick}
              tickFormatter={(v: number) => String(Math.round(v))}
            />
            <ReferenceLine
              x={100 * curve.p}
              stroke="var(--decide)"
              strokeWidth={2}
              label={{ value: 'now', position: 'top', fill: 'var(--decide)', fontSize: 13 }}
            />
            {curve.changes.map(({ p }) => (
              <ReferenceLine key={p} x={100 * p} stroke="var(--edge)" strokeDasharray="3 3" />
            ))}
            {shown.map((id) => (
              <Line
                key={id}
                dataKey={id}
                stroke={strokes[id].stroke}
                strokeWidth={strokes[id].width}
                strokeDasharray={strokes[id].dash}
                dot={false}
                isAnimationActive={false}
              />
            ))}
          </LineChart>
        </ResponsiveContainer>
      </div>
      <ul className="flex flex-wrap gap-x-5 gap-y-1 text-sm" aria-label="Lines">
        {shown.map((id) => (
          <li key={id} className="flex items-center gap-1.5">
            <svg width="28" height="8" aria-hidden>
              <line
                x1="0"
                x2="28"
                y1="4"
                y2="4"
                stroke={strokes[id].stroke}
                strokeWidth={strokes[id].width}
                strokeDasharray={strokes[id].dash}
              />
            </svg>
            {optionWords[id].name}
          </li>
        ))}
      </ul>
    </>
  );
}
