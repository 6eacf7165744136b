import { formatPercent, profileText, type Profile } from '@umbral/core';
import Link from '@/ui/link';
import { notFound } from 'next/navigation';
import { ProfileEditor } from '@/features/models/editor';
import { jobNumber } from '@/features/words';
import { beginProfile, type ProfileStart } from '@/server/work/library/begin-profile';
import { db } from '@/server/record/db';
import { findProfile } from '@/server/work/shop/profiles';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Edit a profile' };
export const dynamic = 'force-dynamic';

interface Props {
  params: Promise<{ id: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export default async function EditPage({ params, searchParams }: Props) {
  await signedIn();
  const known = await findProfile(db(), (await params).id);
  if (!known) notFound();
  const { profile, version } = known;
  const { job } = await searchParams;
  const jobId = typeof job === 'string' && /^\d{1,9}$/.test(job) ? Number(job) : null;
  const begun = profile.generic && jobId !== null ? await beginProfile(db(), jobId).catch(() => null) : null;
  return (
    <main className="mx-auto max-w-[1400px] px-4 py-4">
      <h1 className="text-2xl">
        {begun
          ? `New profile for ${begun.model}`
          : profile.generic
            ? `New profile, based on ${profile.name}`
            : `${profile.name}, version ${version + 1}`}
      </h1>
      {begun && <BegunFrom start={begun} />}
      <p className="mb-3 text-muted">
        {profile.generic ? 'Enter an id and the model name as used in jobs, then change what you know. ' : ''}
        Amperes, volts, seconds and ohms.{' '}
        <Link href={begun ? `/jobs/${jobId}` : `/models/${profile.id}`} className="underline">
          Back without saving
        </Link>
      </p>
      <ProfileEditor
        start={startText(profile, begun)}
        profileId={profile.generic ? null : profile.id}
        basedOn={profile.generic ? null : version}
      />
    </main>
  );
}

/** What stands for a whole class is not changed under everybody: an own profile begins from it. */
function startText(profile: Profile, begun: ProfileStart | null): string {
  if (!profile.generic) return profileText(profile);
  const of = begun?.profile ?? profile;
  const name = begun?.model.trim() || 'Name of the model';
  const id = begun ? idOf(begun.model) : '';
  return profileText({ ...of, id: id || `own-${profile.id}`, name, generic: false, note: '' });
}

/** Letters and digits of a name, with dashes between. */
function idOf(name: string): string {
  return name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '');
}

function BegunFrom({ start }: { start: ProfileStart }) {
  const { traits, jobs } = start;
  return (
    <div className="my-2 text-muted">
      <p>
        It starts from the generic profile, adjusted to what is stated for the model
        {traits.length > 0 && (
          <>
            , and to what {jobs.length === 1 ? 'job' : 'jobs'} {jobs.map(jobNumber).join(', ')} showed:
          </>
        )}
        {traits.length === 0 && '. Nothing recorded so far distinguishes this model from others of its class.'}
      </p>
      {traits.length > 0 && (
        <ul className="list-disc pl-5">
          {traits.map((t) => (
            <li key={t.alternative}>
              {t.words}, {formatPercent(t.p)}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
