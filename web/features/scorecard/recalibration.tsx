'use client';

import { formatPercent } from '@umbral/core/words';
import { ComposedChart, Line, ResponsiveContainer, XAxis, YAxis } from 'recharts';
import { useSave } from '@/ui/kit/use-save';
import { setRecalibration } from './actions';
import type { ScorecardPageView } from './queries';
import { axisTick } from '@/ui/chart';

const height = 170;

/** Percentages corrected by the shop's own cases: the curve, what it gains, and a switch. */
export function RecalibrationCard({ view, isLead }: { view: ScorecardPageView['recalibration']; isLead: boolean }) {
  const { saving, save } = useSave();
  const { found, isOn, curve } = view;
  const points = curve.map((c) => ({ said: 100 * c.said, becomes: 100 * c.becomes, even: 100 * c.said }));
  return (
    <section aria-label="Correction" className="card grid content-start gap-2">
      <h2 className="text-lg">Adjustment of percentages</h2>
      {!found && (
        <p className="text-muted">
          None. There are fewer than 20 confirmed verdicts, or an adjustment does not help on other cases.
        </p>
      )}
      {found && (
        <>
          <p className="text-sm">
            {isOn
              ? 'On: the percentages you see are adjusted by your own results.'
              : 'Off: you see the percentages as the engine computes them.'}{' '}
            It rests on {found.cases} confirmed verdicts. Where it says 80 %, your results say{' '}
            {formatPercent(curve.find((c) => c.said === 0.8)?.becomes ?? 0.8)}. Tried on cases that it was not made
            from, the true circuit gets {Math.round(100 * (Math.exp(found.gain) - 1))} % more on average.
          </p>
          <div style={{ height }} aria-hidden>
            <ResponsiveContainer width="100%" height="100%" initialDimension={{ width: 380, height }}>
              <ComposedChart
                data={points}
                margin={{ top: 6, right: 12, bottom: 4, left: 4 }}
                accessibilityLayer={false}
              >
                <XAxis dataKey="said" type="number" domain={[0, 100]} unit=" %" stroke="var(--line)" tick={axisTick} />
                <YAxis type="number" domain={[0, 100]} unit=" %" width={56} stroke="var(--line)" tick={axisTick} />
                <Line dataKey="even" stroke="var(--penumbra)" strokeWidth={8} dot={false} isAnimationActive={false} />
                <Line dataKey="becomes" stroke="var(--umbra)" strokeWidth={3} dot={false} isAnimationActive={false} />
              </ComposedChart>
            </ResponsiveContainer>
          </div>
          {isLead && (
            <p>
              <button
                type="button"
                className="button"
                disabled={saving}
                onClick={() =>
                  save(() => setRecalibration(!isOn), {
                    done: isOn
                      ? 'Percentages are shown as computed by the engine.'
                      : 'Percentages are adjusted by your past results.',
                  })
                }
              >
                {isOn ? 'Switch off' : 'Switch on'}
              </button>
            </p>
          )}
        </>
      )}
    </section>
  );
}
