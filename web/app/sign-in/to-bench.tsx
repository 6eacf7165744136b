'use client';

import { SwitchForm, type SwitchablePerson } from '@/features/people/sign-in-form';

/** The PIN of a locked screen; afterwards the bench. */
export function ToBench(props: { people: SwitchablePerson[]; first: number }) {
  return <SwitchForm {...props} then={() => window.location.assign('/')} />;
}
