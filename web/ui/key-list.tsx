'use client';

import { Dialog } from './dialog';
import { KeyModeChoice } from './key-mode';

/** The keys that work on this screen. */
export function KeyList({
  bindings,
  personId,
  onClose,
}: {
  bindings: readonly { key: string; what: string }[];
  personId: number | null;
  onClose: () => void;
}) {
  return (
    <Dialog open title="Keys on this screen" onClose={onClose}>
      <dl className="mt-3 grid grid-cols-[auto_1fr] gap-x-4 gap-y-2">
        {[...bindings, { key: '?', what: 'this list' }].map((b) => (
          <div key={b.key + b.what} className="contents">
            <dt>
              <kbd>{b.key}</kbd>
            </dt>
            <dd>{b.what}</dd>
          </div>
        ))}
      </dl>
      <div className="mt-4 border-t border-line pt-3">
        <KeyModeChoice personId={personId} />
      </div>
    </Dialog>
  );
}
