'use client';

import type { ReliabilityBin } from '@umbral/core';
import { formatPercent } from '@umbral/core/words';
import { CartesianGrid, ComposedChart, ErrorBar, Line, ResponsiveContainer, Scatter, XAxis, YAxis } from 'recharts';
import { FigureButton } from './figure';
import { axisTick } from '@/ui/chart';

const height = 260;

/** What was said of the first suspect beside how often it was it: on the slope where percentages hold. */
export function Reliability({ bins }: { bins: readonly ReliabilityBin[] }) {
  const points = bins
    .filter((b) => b.right.of > 0)
    .map((b) => ({
      said: 100 * b.said,
      right: 100 * b.right.share,
      spread: [100 * (b.right.share - b.right.low), 100 * (b.right.high - b.right.share)] as [number, number],
    }));
  const slope = [
    { said: 0, even: 0 },
    { said: 100, even: 100 },
  ];
  return (
    <>
      <div style={{ height }} aria-hidden>
        <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 520, height }}>
          <ComposedChart margin={{ top: 8, right: 16, bottom: 24, left: 4 }} accessibilityLayer={false}>
            <CartesianGrid stroke="var(--line)" strokeDasharray="2 4" />
            <XAxis
              dataKey="said"
              type="number"
              domain={[0, 100]}
              unit=" %"
              stroke="var(--line)"
              tick={axisTick}
              label={{
                value: 'predicted',
                position: 'insideBottom',
                offset: -16,
                ...axisTick,
              }}
            />
            <YAxis type="number" domain={[0, 100]} unit=" %" width={56} stroke="var(--line)" tick={axisTick} />
            <Line
              data={slope}
              dataKey="even"
              stroke="var(--penumbra)"
              strokeWidth={8}
              dot={false}
              isAnimationActive={false}
            />
            <Scatter data={points} dataKey="right" fill="var(--umbra)" isAnimationActive={false}>
              <ErrorBar dataKey="spread" direction="y" width={6} strokeWidth={2} stroke="var(--edge)" />
            </Scatter>
          </ComposedChart>
        </ResponsiveContainer>
      </div>
      <table className="w-full text-sm">
        <caption className="sr-only">Predicted probability of the first suspect, and how often it was right</caption>
        <thead className="text-left text-muted">
          <tr>
            <th scope="col" className="font-normal">
              predicted
            </th>
            <th scope="col" className="font-normal">
              right
            </th>
            <th scope="col" className="font-normal">
              95 % range
            </th>
          </tr>
        </thead>
        <tbody>
          {bins
            .filter((b) => b.right.of > 0)
            .map((b) => (
              <tr key={b.from} className="border-t border-line">
                <td>{formatPercent(b.said)}</td>
                <td>
                  <FigureButton
                    jobs={b.right.of}
                    counted={b.counted}
                    what={`Said ${formatPercent(b.from)} to ${formatPercent(b.to)}`}
                  >
                    {b.right.hits} of {b.right.of}
                  </FigureButton>
                </td>
                <td>
                  {formatPercent(b.right.low)} to {formatPercent(b.right.high)}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
    </>
  );
}
