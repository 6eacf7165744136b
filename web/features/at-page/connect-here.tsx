'use client';

import type { StationState } from '@umbral/instruments';
import { useState, useSyncExternalStore } from 'react';
import { GatedButton } from '@/ui/kit/gated-button';
import { whyNotHere } from './devices';
import { letGo, onPassing, passingOf, passOn, type Passing } from './passing';

const offHere: Passing = { is: 'off', problem: '' };

/** Connects an instrument that is plugged into the computer of this page, and says how that stands. */
export function ConnectHere({ station }: { station: Pick<StationState, 'key' | 'name' | 'kind' | 'atPage'> }) {
  const { key, name, kind, atPage } = station;
  const state = useSyncExternalStore(
    onPassing,
    () => passingOf(key),
    () => offHere,
  );
  const [isAsking, setAsking] = useState(false);
  if (!atPage) return null;
  if (state.is === 'off')
    return (
      <div className="grid gap-1 text-sm">
        <GatedButton
          className="button min-h-9"
          blocked={isAsking ? 'Choose the device in the browser’s list' : whyNotHere(atPage.way)}
          aria-label={`Connect ${name} here`}
          onClick={() => {
            setAsking(true);
            void passOn(key, atPage).finally(() => setAsking(false));
          }}
        >
          Connect here
        </GatedButton>
        {state.problem && (
          <p role="alert" className="text-decide">
            {state.problem}
          </p>
        )}
      </div>
    );
  return (
    <div className="grid gap-1 text-sm">
      <p role="status">
        {state.is === 'passing' ? (
          <>
            Connected by this window ({state.name}). Keep this window open.
            {kind === 'supply' && ' Only this window can switch the supply off.'}
          </>
        ) : state.is === 'lost' ? (
          <>Lost: {state.problem}. Trying again …</>
        ) : (
          'Connecting …'
        )}
      </p>
      <button
        type="button"
        className="button min-h-9 justify-self-start"
        aria-label={`Disconnect ${name}`}
        onClick={() => void letGo(key)}
      >
        Disconnect
      </button>
    </div>
  );
}
