import Link from '@/ui/link';
import { LocalDate } from '@/ui/kit/local-date';
import type { ProfileVersion } from '@/server/work/shop/profiles';

/** All versions of a profile; each can be looked at, and taken as a file. */
export function Versions({
  profileId,
  versions,
  shown,
}: {
  profileId: string;
  versions: ProfileVersion[];
  shown: number;
}) {
  if (versions.length < 2) return null;
  return (
    <section aria-labelledby="versions" className="card mt-4">
      <h2 id="versions" className="text-lg">
        Versions
      </h2>
      <ul className="mt-1 divide-y divide-line">
        {versions.map((v) => (
          <li key={v.version} className="flex flex-wrap gap-x-3 py-1.5">
            <Link
              href={`/models/${profileId}?version=${v.version}`}
              className={v.version === shown ? 'font-bold' : 'underline'}
              aria-current={v.version === shown ? 'true' : undefined}
            >
              {v.version === 0 ? 'as shipped' : `version ${v.version}`}
            </Link>
            {v.createdAt && (
              <span className="text-muted">
                <LocalDate iso={v.createdAt.toISOString()} time />
              </span>
            )}
            <span className="min-w-0 break-words">{v.version === 0 ? '' : v.note}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
