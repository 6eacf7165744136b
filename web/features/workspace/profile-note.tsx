'use client';

import Link from '@/ui/link';
import { takeNewestProfile } from '@/features/models/actions';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from '@/features/job/view';

/** Which profile the call is made with, and a newer version where there is one. */
export function ProfileNote({ view }: { view: JobView }) {
  const { saving, save } = useSave();
  const { id, version, profile } = view.job;
  if (!profile) return view.device && <DeviceNote jobId={id} model={view.value.device.model} device={view.device} />;
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
              done: `Reassessed with version ${profile.newest}.`,
            })
          }
        >
          use version {profile.newest}
        </button>
      )}
    </p>
  );
}

/** A model without a profile: what the evidence says of it so far, and a profile that begins from it. */
function DeviceNote({
  jobId,
  model,
  device,
}: {
  jobId: number;
  model: string;
  device: NonNullable<JobView['device']>;
}) {
  return (
    <p className="flex flex-wrap items-center gap-x-2 text-sm text-muted">
      <span>No profile for this model{device.says ? `; so far: ${device.says}` : ''}</span>
      {model.trim() !== '' && (
        <Link href={`/models/${device.classProfile}/edit?job=${jobId}`} className="underline">
          create a profile
        </Link>
      )}
    </p>
  );
}
