'use client';

import { countOf, gradeTypes, isGrade, outcomeGrades } from '@umbral/core/words';
import { useState } from 'react';
import { gradeName, gradeWords } from '@/features/words';
import { StateLine } from './state-line';
import { Dialog } from '@/ui/dialog';
import { closeJob } from './actions';
import { CircuitSelect, ElementNames, FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from './view';
import { AreaField, SelectField, TextField } from '@/ui/kit/fields';

/** Why a fault that was found may be left: only the shop knows which. */
const leftUnrepaired = ['declined', 'not-economical'] as const;

const blank = { grade: '', circuit: '', target: '', fix: '', recallAt: '' };

/**
 * Closes the job with what it turned out to be. Every grade is a result. Nothing is filled in but what the evidence
 * supports, and that only once it was taken over.
 */
export function OutcomeDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  const { proposal, proof } = view;
  const at = [view.proposalCircuit, proposal?.target].filter(Boolean);
  const [form, setForm] = useState(blank);
  // As it was when this was opened: what others save meanwhile is shown anew, and must not be overwritten unseen.
  const [version] = useState(view.job.version);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const opened = view.story.find((e) => e.kind === 'opened');
  const set = (change: Partial<typeof form>): void => setForm({ ...form, ...change });
  const grade = isGrade(form.grade) ? gradeTypes[form.grade] : null;
  const confirmed = grade?.isConfirmed ?? false;
  const namesCircuit = grade !== null && grade.circuit !== 'none';
  const open = (proof?.protocols ?? []).flatMap((p) => p.steps.filter((s) => s.result !== 'pass'));
  const asksRecall = grade?.isRecalled || (proof?.risks.length ?? 0) > 0;
  return (
    <Dialog open title={`Close job ${view.job.number}`} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          const circuit = namesCircuit ? form.circuit : '';
          save(() => closeJob({ ...form, circuit, jobId: view.job.id, version }), {
            done: 'Closed and added to the atlas.',
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <StateLine state={view.state} />
        {proposal && (
          <section aria-label="What the evidence supports" className="rounded-lg border border-line px-3 py-2 text-sm">
            <h3 className="font-semibold first-letter:uppercase">
              {gradeName(proposal.grade)}
              {at.length > 0 && `: ${at.join(', ')}`}
            </h3>
            <ul className="mt-1 grid gap-0.5 text-muted">
              {proposal.because
                .filter((b) => b !== view.state?.sentence)
                .map((b) => (
                  <li key={b}>{b}</li>
                ))}
            </ul>
            <div className="mt-2 flex flex-wrap gap-1.5">
              {(proposal.grade ? [proposal.grade] : leftUnrepaired).map((grade) => (
                <button
                  key={grade}
                  type="button"
                  className="button min-h-9"
                  onClick={() =>
                    set({ grade, circuit: proposal.circuit ?? '', target: proposal.target, fix: proposal.fix })
                  }
                >
                  {proposal.grade ? 'Use this' : `Close as ${gradeWords[grade]}`}
                </button>
              ))}
            </div>
          </section>
        )}
        {opened && <p className="text-sm text-muted">Verdict when opened: {opened.detail}.</p>}
        <SelectField label="Outcome" value={form.grade} onValue={(value) => set({ grade: value })}>
          <option value="">choose one</option>
          {outcomeGrades.map((g) => (
            <option key={g} value={g}>
              {gradeWords[g]}
            </option>
          ))}
        </SelectField>
        {namesCircuit && (
          <>
            <CircuitSelect
              label={confirmed ? 'Confirmed circuit' : 'Faulty circuit'}
              value={form.circuit}
              onChange={(circuit) => set({ circuit })}
              withNone={confirmed}
            />
            <TextField
              label="Part"
              hint="rail, part or joint"
              list="elements"
              value={form.target}
              onValue={(value) => set({ target: value })}
            />
            <ElementNames names={view.elements} />
          </>
        )}
        <AreaField
          label={confirmed ? 'What fixed it' : 'What is known'}
          className="min-h-16"
          value={form.fix}
          onValue={(value) => set({ fix: value })}
        />
        {asksRecall && (
          <TextField
            label="Check again on"
            hint="the fault may come back"
            type="date"
            value={form.recallAt}
            onValue={(value) => set({ recallAt: value })}
          />
        )}
        {form.grade === 'disappeared' && (
          <p className="text-sm text-muted">
            A fault that disappeared without a reason is not repaired. Run a soak test and set a date to check again.
          </p>
        )}
        {open.length > 0 && (
          <details className="rounded-lg border border-decide bg-decide-soft px-3 py-1.5 text-sm">
            <summary>
              {countOf(open.length, 'step was', 'steps were')} not done. You can close the job; the report will say so.
            </summary>
            <ul className="mt-1 grid gap-0.5">
              {open.map((s) => (
                <li key={`${s.protocol}-${s.id}`}>{s.says}</li>
              ))}
            </ul>
          </details>
        )}
        <FormFoot saving={saving} problem={problem} word="Close the job" />
      </form>
    </Dialog>
  );
}
