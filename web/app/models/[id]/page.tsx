import { circuitNames, circuitsWithoutElement } from '@umbral/core';
import { Download, Map as MapIcon, Pencil } from 'lucide-react';
import Link from '@/ui/link';
import { notFound } from 'next/navigation';
import { Converters, feedChips, Stages } from '@/features/models/elements';
import { Learned } from '@/features/models/learned';
import { References } from '@/features/models/references';
import { Versions } from '@/features/models/versions';
import { PowerTreeView } from '@/features/models/power-tree';
import { StartForm } from '@/features/models/start-form';
import { RailLanes, StartResult } from '@/features/models/start-result';
import { railDetails } from '@/features/models/rail-details';
import { layOutTree } from '@/features/models/tree';
import { readQuestion, startVirtually, type VirtualStart } from '@/features/models/virtual-start';
import { db } from '@/server/record/db';
import { profileLesson, sayLesson } from '@/server/work/library/profile-lesson';
import { findProfile, versionsOf } from '@/server/work/shop/profiles';
import { listReferences } from '@/server/work/jobs/references';
import { signedIn } from '@/server/work/people/access';

interface Props {
  params: Promise<{ id: string }>;
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export async function generateMetadata({ params }: Props) {
  return { title: (await findProfile(db(), (await params).id))?.profile.name ?? 'Models' };
}

export default async function ModelPage({ params, searchParams }: Props) {
  await signedIn();
  const { id } = await params;
  const asked = await searchParams;
  const wanted = typeof asked.version === 'string' && /^\d{1,6}$/.test(asked.version) ? Number(asked.version) : null;
  const known = await findProfile(db(), id, wanted);
  if (!known) notFound();
  const { profile, version } = known;
  const [versions, references, lesson] = await Promise.all([
    versionsOf(db(), id),
    listReferences(db(), id),
    wanted === null ? profileLesson(db(), id) : null,
  ]);
  const without = circuitsWithoutElement(profile);
  const question = readQuestion(profile, asked);
  let start: VirtualStart | null = null;
  let problem: string | null = null;
  try {
    start = await startVirtually(known, question);
  } catch (error) {
    if (!(error instanceof RangeError)) throw error;
    problem = error.message;
  }
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-start gap-3">
        <div className="mr-auto">
          <h1 className="text-2xl">{profile.name}</h1>
          {profile.note && <p className="text-muted">{profile.note}</p>}
          <p className="mt-1.5 flex flex-wrap gap-1.5">
            {feedChips(profile).map((c) => (
              <span key={c} className="chip">
                {c}
              </span>
            ))}
          </p>
        </div>
        <div className="flex flex-wrap gap-2">
          <Link className="button" href={`/models/${profile.id}/edit`}>
            <Pencil size={17} aria-hidden /> {profile.generic ? 'Make a copy' : 'Edit'}
          </Link>
          {!profile.generic && (
            <Link className="button" href={`/models/${profile.id}/board`}>
              <MapIcon size={17} aria-hidden /> Board map
            </Link>
          )}
          <a className="button" href={`/api/models/${profile.id}?version=${version}`} download>
            <Download size={18} aria-hidden /> Download
          </a>
        </div>
      </div>
      <section aria-labelledby="virtual" className="card mt-4">
        <h2 id="virtual" className="mb-2 text-lg">
          Simulate a start
        </h2>
        <StartForm key={JSON.stringify(question)} profile={profile} question={question} version={wanted} />
        {problem && (
          <p role="alert" className="mt-3 rounded-lg bg-decide-soft px-3 py-2">
            This start could not be simulated: {problem}. Choose another fault from the list.
          </p>
        )}
        {start && (
          <div className="mt-4">
            <StartResult start={start} />
          </div>
        )}
      </section>
      <section aria-labelledby="tree" className="card mt-4">
        <h2 id="tree" className="text-lg">
          Power tree
        </h2>
        <p className="mb-2 text-sm text-muted">
          From the feeds on the left to the loads. The bar at the left of a rail shows its power state.{' '}
          {start && 'Filled rails are up at the end of the start above. '}
          Choose a rail to see what is connected to it.
        </p>
        <PowerTreeView tree={layOutTree(profile)} standing={start?.standing ?? null} details={railDetails(profile)} />
      </section>
      {start && (
        <section aria-labelledby="lanes" className="card mt-4">
          <h2 id="lanes" className="mb-1 text-lg">
            Rails over time
          </h2>
          <RailLanes start={start} />
        </section>
      )}
      <section aria-labelledby="stages" className="card mt-4">
        <h2 id="stages" className="text-lg">
          Start-up sequence
        </h2>
        <Stages profile={profile} />
        {without.length > 0 && (
          <p className="mt-2 text-sm text-muted">
            The profile has no part for: {without.map((c) => circuitNames[c]).join(', ')}. These suspects are not
            simulated and are judged by the pattern alone.
          </p>
        )}
      </section>
      <section aria-labelledby="converters" className="card mt-4">
        <h2 id="converters" className="mb-1 text-lg">
          Converters and switches
        </h2>
        <Converters profile={profile} />
      </section>
      {lesson && <Learned profileId={id} basedOn={lesson.basedOn} says={sayLesson(lesson)} />}
      <References profile={profile} runs={references} />
      <Versions profileId={id} versions={versions} shown={version} />
    </main>
  );
}
