'use client';

import type { WaitKind } from '@umbral/core/words';
import { useEffect, useState } from 'react';
import { loadUsualWaits } from './actions';

/** Minutes that waits usually take here; null until they are known. */
export function useUsualWaits(): Record<WaitKind, number> | null {
  const [usual, setUsual] = useState<Record<WaitKind, number> | null>(null);
  useEffect(() => {
    let isOn = true;
    // Without them the form works all the same: the time is typed.
    void loadUsualWaits().then(
      (found) => isOn && found.ok && setUsual(found.value),
      () => undefined,
    );
    return () => {
      isOn = false;
    };
  }, []);
  return usual;
}
