'use client';

import { Dialog } from './dialog';

/** What is odd, in a sentence, with two answers; closing it saves nothing. */
export function QuestionDialog({ says, onAnswer }: { says: string; onAnswer: (isSo: boolean) => void }) {
  return (
    <Dialog open title="Is this right?" onClose={() => onAnswer(false)} isFresh>
      <p className="mt-1">{says}</p>
      <p className="mt-1 text-sm text-muted">Nothing is saved yet.</p>
      <div className="mt-4 flex flex-wrap gap-2">
        <button type="button" className="button button-main" autoFocus onClick={() => onAnswer(false)}>
          Go back and correct it
        </button>
        <button type="button" className="button" onClick={() => onAnswer(true)}>
          Save it as it is
        </button>
      </div>
    </Dialog>
  );
}
