'use client';

import Link from 'next/link';
import { takeNewestProfile } from '@/features/models/actions';
import { useSave } from './use-save';
import type { JobView } from './view';

/** Which profile the call is made with, and a newer version where there is one. */
export function ProfileNote({ view }: { view: JobView }) {
  const { saving, save } = useSave();
  const { id, version, profile } = view.job;
  if (!profile) return null;
  return (
    <p className="flex flex-wrap items-center gap-x-2 text-sm text-muted">
      <Link href={`/models/${profile.id}?version=${profile.version}`} className="underline">
        profile {profile.name}
        {profile.version > 0 && `, version ${profile.version}`}
      </Link>
      {profile.newest !== null && (
        <button
          type="button"
          className="chip min-h-8 border-edge hover:bg-raised"
          disabled={saving}
          onClick={() =>
            save(() => takeNewestProfile({ jobId: id, version, profileId: profile.id }), {
              done: `Assessed anew with version ${profile.newest}.`,
            })
          }
        >
          use version {profile.newest}
        </button>
      )}
    </p>
  );
}
