'use client';

import type { ScorecardGroup } from '@umbral/core';
import { formatPercent } from '@umbral/core/words';
import Link from '@/ui/link';
import { createContext, useContext, useState, useTransition, type ReactNode } from 'react';
import { jobNumber } from '@/features/words';
import { Dialog } from '@/ui/dialog';
import { listCalls } from './actions';
import type { CallLine } from './queries';

/** What is counted by the calls that are asked for, and in which group. */
export interface Asked {
  counted: string;
  group?: { by: ScorecardGroup; key: string };
  what: string;
}

interface Shown extends Asked {
  lines: CallLine[] | null;
  hasMore: boolean;
  problem: string | null;
}

const Open = createContext<(asked: Asked) => void>(() => undefined);
export const useCases = (): ((asked: Asked) => void) => useContext(Open);

/** Shows the jobs behind whatever figure is pressed, the newest first. */
export function Cases({ children }: { children: ReactNode }) {
  const [shown, setShown] = useState<Shown | null>(null);
  const [isLooking, start] = useTransition();
  const look = (asked: Asked, known: CallLine[]): void =>
    start(async () => {
      const { counted, group } = asked;
      const result = await listCalls({ counted, group: group ?? null, after: known.at(-1)?.job ?? null });
      setShown(
        result.ok
          ? { ...asked, lines: [...known, ...result.value.lines], hasMore: result.value.hasMore, problem: null }
          : { ...asked, lines: known, hasMore: false, problem: result.message },
      );
    });
  const open = (asked: Asked): void => {
    setShown({ ...asked, lines: null, hasMore: false, problem: null });
    look(asked, []);
  };
  return (
    <Open.Provider value={open}>
      {children}
      {shown && (
        <Dialog open title={shown.what} onClose={() => setShown(null)}>
          {shown.problem && <p role="alert">{shown.problem}</p>}
          {!shown.lines && !shown.problem && <p className="mt-3 text-muted">Loading …</p>}
          <ul className="mt-3 grid max-h-[60vh] gap-1 overflow-y-auto">
            {shown.lines?.map((line) => (
              <li key={line.job}>
                <Link
                  href={`/jobs/${line.job}`}
                  className="grid gap-x-3 rounded-lg border border-line px-3 py-1.5 hover:border-edge sm:grid-cols-[1fr_1fr]"
                >
                  <span className="truncate">
                    <span className="text-muted">{jobNumber(line.job)}</span> {line.label}
                  </span>
                  <span className="text-sm">
                    {line.said}
                    {line.p > 0 && `, ${formatPercent(line.p)}`}
                    <span className="block text-muted">
                      {line.was === ''
                        ? 'cause not known'
                        : line.rank === 1
                          ? 'right'
                          : `was ${line.was}${line.rank ? `, suspect ${line.rank}` : ', not listed'}`}
                    </span>
                  </span>
                </Link>
              </li>
            ))}
          </ul>
          {shown.hasMore && (
            <button
              type="button"
              className="button mt-2"
              disabled={isLooking}
              onClick={() => look(shown, shown.lines ?? [])}
            >
              Show more
            </button>
          )}
        </Dialog>
      )}
    </Open.Provider>
  );
}
