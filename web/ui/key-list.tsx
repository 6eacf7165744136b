'use client';

import { Dialog } from './dialog';

/** The keys that work on this screen. */
export function KeyList({
  bindings,
  onClose,
}: {
  bindings: readonly { key: string; what: string }[];
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
    </Dialog>
  );
}
