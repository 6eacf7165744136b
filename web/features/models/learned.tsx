'use client';

import { useRouter } from '@/ui/router';
import { useSave } from '@/ui/kit/use-save';
import { keepLearnedProfile } from './actions';

/** What healthy and repaired runs say of a profile, as a proposal. */
export function Learned({ profileId, basedOn, says }: { profileId: string; basedOn: number; says: string }) {
  const { saving, save } = useSave();
  const router = useRouter();
  return (
    <section aria-label="Learned" className="card mt-4 border-edge">
      <h2 className="text-lg">Your runs differ from this profile</h2>
      <p className="mt-1">{says}. The currents of all loads, or the times of all stages, would change by this.</p>
      <p className="mt-2">
        <button
          type="button"
          className="button button-main"
          disabled={saving}
          onClick={() =>
            save(() => keepLearnedProfile({ profileId, basedOn }), {
              done: `Saved as version ${basedOn + 1}. Existing jobs keep their version.`,
              then: () => router.refresh(),
            })
          }
        >
          Save as version {basedOn + 1}
        </button>
      </p>
    </section>
  );
}
