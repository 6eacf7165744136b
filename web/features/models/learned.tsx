'use client';

import { useRouter } from 'next/navigation';
import { useSave } from '@/ui/kit/use-save';
import { keepLearnedProfile } from './actions';

/** What healthy and repaired runs say of a profile, as a proposal. */
export function Learned({ profileId, basedOn, says }: { profileId: string; basedOn: number; says: string }) {
  const { saving, save } = useSave();
  const router = useRouter();
  return (
    <section aria-label="Learned" className="card mt-4 border-edge">
      <h2 className="text-lg">The runs of this shop say otherwise</h2>
      <p className="mt-1">{says}. Currents of every load, or the time of every stage, would change by that.</p>
      <p className="mt-2">
        <button
          type="button"
          className="button button-main"
          disabled={saving}
          onClick={() =>
            save(() => keepLearnedProfile({ profileId, basedOn }), {
              done: `Kept as version ${basedOn + 1}. Jobs keep the version that they use.`,
              then: () => router.refresh(),
            })
          }
        >
          Keep it as version {basedOn + 1}
        </button>
      </p>
    </section>
  );
}
