import type { Framing } from '@umbral/core/display';
import type { WatchSnapshot } from './display-watch';
import { doubtWords, elsewhereWords, noteWords, quantityWords, silentWords, units } from './words';

const percent = (share: number): string => `${Math.round(share * 100)} %`;

/** What is read now, how sure it goes, and what to do where it does not. */
export function ReadState({
  snapshot,
  framing,
  onStandsThere,
}: {
  snapshot: WatchSnapshot;
  framing: Framing;
  onStandsThere: () => void;
}) {
  const { state, reading, picturesPerSecond, delayS, isSilent, isElsewhere, refused } = snapshot;
  if (!state)
    return (
      <p className="text-muted" role="status">
        {isElsewhere ? '' : 'Looking for the display …'}
      </p>
    );
  const note = state.note && noteWords[state.note];
  // What stood there when it was last seen is not what stands there now.
  const isOld = isSilent || isElsewhere;
  const facts = [
    `${Math.round(picturesPerSecond)} pictures per second`,
    state.doubtShare === null ? '' : `${percent(state.doubtShare)} left out as unclear`,
    state.refreshS === null ? '' : `the display updates ${(1 / state.refreshS).toFixed(1)} times per second`,
    isOld || delayS === null ? '' : `${Math.round(delayS * 1000)} ms from picture to number`,
  ];
  return (
    <div className="grid gap-1.5">
      <dl className="flex flex-wrap gap-x-6 gap-y-1">
        {framing.numbers.map((n, k) =>
          n.quantity === 'ignored' ? null : (
            <div key={n.quantity}>
              <dt className="text-sm text-muted">{quantityWords[n.quantity]} as shown</dt>
              <dd className="text-2xl font-bold">
                {isOld || reading?.doubts[k] ? '–' : state.texts[k] || '–'}{' '}
                <span className="text-base font-normal">
                  {units[n.quantity].find((u) => u.factor === n.unit)?.name}
                  {!isOld && reading?.doubts[k] ? ` ${doubtWords[reading.doubts[k]]}` : ''}
                </span>
              </dd>
            </div>
          ),
        )}
      </dl>
      {(note || isOld || refused) && (
        <p className="text-decide" role="status">
          {refused || (isSilent ? silentWords : isElsewhere || !note ? elsewhereWords : `${note.says}. ${note.helps}`)}
        </p>
      )}
      {isElsewhere && (
        <button type="button" className="button w-fit" onClick={onStandsThere}>
          It is there
        </button>
      )}
      <p className="text-sm text-muted">{facts.filter(Boolean).join(' · ')}</p>
    </div>
  );
}
