import { FileUp } from 'lucide-react';
import Link from '@/ui/link';
import { classWords } from '@/features/words';
import type { KnownProfile } from '@/server/work/shop/profiles';
import { Silhouette } from '@/ui/silhouette';
import { readQuestion, startVirtually } from './virtual-start';

/** All profiles: the models that the shop knows well, and one that stands for each class. */
export function ModelsView({ all }: { all: readonly KnownProfile[] }) {
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-start gap-3">
        <div className="mr-auto max-w-3xl">
          <h1 className="text-2xl">Models</h1>
          <p className="text-muted">
            How each model is powered, how its rails are made, and in which order it starts. Umbral simulates starts
            from this, healthy or with any fault.
          </p>
        </div>
        <Link href="/models/new" className="button">
          <FileUp size={17} aria-hidden /> Import profile
        </Link>
      </div>
      <h2 className="mt-5 text-lg">Known models</h2>
      <Cards profiles={all.filter((p) => !p.profile.generic)} />
      <h2 className="mt-6 text-lg">Generic profiles</h2>
      <Cards profiles={all.filter((p) => p.profile.generic)} />
    </main>
  );
}

async function Cards({ profiles }: { profiles: readonly KnownProfile[] }) {
  const starts = profiles.map((known) => startVirtually(known, readQuestion(known.profile, {})));
  const silhouettes = (await Promise.all(starts)).map((start) => start.silhouette);
  return (
    <ul className="mt-2 grid gap-3 sm:grid-cols-2 xl:grid-cols-3">
      {profiles.map(({ profile: p, version }, k) => (
        <li key={p.id}>
          <Link href={`/models/${p.id}`} className="card flex h-full flex-col hover:border-edge">
            <Silhouette path={silhouettes[k]} label="a healthy start" strong className="h-14 w-full" />
            <span className="mt-2 text-lg leading-tight font-bold">{p.name}</span>
            <span className="text-sm text-muted">
              {classWords[p.class as keyof typeof classWords]} · {p.rails.length} rails · {p.stages.length} stages
              {version > 0 && ` · version ${version}`}
            </span>
            {p.note && <span className="mt-1 text-sm">{p.note}</span>}
          </Link>
        </li>
      ))}
    </ul>
  );
}
