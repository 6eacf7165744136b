'use client';

import { useRouter } from 'next/navigation';
import { useState } from 'react';
import { createJob } from './actions';
import { blankIntake, IntakeForm } from './intake-form';
import { useSave } from './use-save';

export function NewJob() {
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const router = useRouter();
  return (
    <IntakeForm
      start={blankIntake}
      saving={saving}
      problem={problem}
      word="Take it in"
      onSave={(values) =>
        save(() => createJob(values), { then: (id) => router.push(`/jobs/${id}`), failed: setProblem })
      }
    />
  );
}
