import { profileText } from '@umbral/core';
import Link from 'next/link';
import { notFound } from 'next/navigation';
import { ProfileEditor } from '@/features/models/editor';
import { db } from '@/server/db';
import { findProfile } from '@/server/profiles';

export const metadata = { title: 'Edit a profile' };
export const dynamic = 'force-dynamic';

export default async function EditPage({ params }: { params: Promise<{ id: string }> }) {
  const known = await findProfile(db(), (await params).id);
  if (!known) notFound();
  const { profile, version } = known;
  // What stands for a whole class is not changed under everybody: an own profile begins from it.
  const text = profile.generic
    ? profileText({ ...profile, id: `own-${profile.id}`, name: 'Name of the model', generic: false, note: '' })
    : profileText(profile);
  return (
    <main className="mx-auto max-w-[1400px] px-4 py-4">
      <h1 className="text-2xl">
        {profile.generic ? `A profile of your own, from ${profile.name}` : `${profile.name}, version ${version + 1}`}
      </h1>
      <p className="mb-3 text-muted">
        {profile.generic
          ? 'Give it an id and the name of the model as it is written in jobs, then change what you know. '
          : ''}
        Amperes, volts, seconds and ohms.{' '}
        <Link href={`/models/${profile.id}`} className="underline">
          Back without keeping anything
        </Link>
      </p>
      <ProfileEditor
        start={text}
        profileId={profile.generic ? null : profile.id}
        basedOn={profile.generic ? null : version}
      />
    </main>
  );
}
