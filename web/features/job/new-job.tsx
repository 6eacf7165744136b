'use client';

import { useState } from 'react';
import { createJob } from './actions';
import { blankIntake, IntakeForm } from './intake-form';
import { useSave } from '@/ui/kit/use-save';
import { useGo } from '@/ui/link';

export function NewJob() {
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const go = useGo();
  return (
    <IntakeForm
      start={blankIntake}
      saving={saving}
      problem={problem}
      word="Create job"
      onSave={(values) => save(() => createJob(values), { then: (id) => go(`/jobs/${id}`), failed: setProblem })}
    />
  );
}
