'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { Check, Eye, OctagonX } from 'lucide-react';
import { Dialog } from '@/ui/dialog';
import { Hazard } from '@/ui/parts';
import type { ArmCheck } from './arm-checks';

const icons = { fine: Check, look: Eye, stop: OctagonX };
const words = { fine: 'fine', look: 'look', stop: 'first' };

/** Asks for a look at what cannot be taken back, before the output is armed. Enter says yes. */
export function ArmDialog({
  checks,
  what,
  canSayBatteryOut,
  onBatteryOut,
  onArm,
  onClose,
}: {
  checks: ArmCheck[];
  /** Voltage and limit, in words. */
  what: string;
  canSayBatteryOut: boolean;
  onBatteryOut: () => void;
  onArm: () => void;
  onClose: () => void;
}) {
  const isStopped = checks.some((c) => c.tone === 'stop');
  return (
    <Dialog open isFresh title="Before the output is armed" onClose={onClose}>
      <ul className="mt-3 grid gap-2">
        {checks.map((c) => {
          const Icon = icons[c.tone];
          return (
            <li key={c.says} className="grid grid-cols-[1.5rem_3.2rem_1fr] items-start gap-1.5">
              <Icon
                size={20}
                aria-hidden
                className={`mt-0.5 ${c.tone === 'fine' ? 'text-good' : c.tone === 'stop' ? 'text-decide' : 'text-ink'}`}
              />
              <strong className={c.tone === 'stop' ? 'text-decide' : ''}>{words[c.tone]}</strong>
              <span>{c.says}</span>
            </li>
          );
        })}
      </ul>
      <div className="mt-3">
        <Hazard>
          Keep hands and tools off the board when it goes on. Escape, or closing the window, switches it off. Follow
          your shop&apos;s rules for live work.
        </Hazard>
      </div>
      <form
        className="mt-3 flex flex-wrap gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          if (isStopped && canSayBatteryOut) onBatteryOut();
          else if (!isStopped) onArm();
        }}
      >
        {isStopped && canSayBatteryOut ? (
          <button type="submit" autoFocus className="button button-main">
            Note that the battery is out
          </button>
        ) : (
          <GatedButton
            type="submit"
            autoFocus
            className="button button-main"
            blocked={isStopped ? 'Do what is listed above first' : null}
          >
            Checked. Arm: {what}
          </GatedButton>
        )}
        <button type="button" className="button button-quiet" onClick={onClose}>
          Not now
        </button>
      </form>
    </Dialog>
  );
}
