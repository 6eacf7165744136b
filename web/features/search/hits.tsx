import Link from '@/ui/link';
import type { Found } from './queries';

/** What was found, by kind. */
export function Hits({ found, onGo }: { found: Found; onGo: () => void }) {
  return (
    <div className="grid gap-2" aria-live="polite">
      {(found.groups.length > 0 ? found.spelt : []).map(({ word, as }) => (
        <p key={word} className="text-sm text-muted">
          Nothing is called “{word}”. Shown for “{as}”.
        </p>
      ))}
      {found.groups.map((group) => (
        <section key={group.name} aria-label={group.name}>
          <h2 className="text-sm font-semibold">{group.name}</h2>
          <ul>
            {group.hits.map((hit, k) => (
              <li key={k}>
                <Link
                  href={hit.href}
                  onClick={onGo}
                  className="grid rounded-lg px-2 py-1 hover:bg-surface focus-visible:bg-surface"
                >
                  <span className="truncate">{hit.name}</span>
                  <span className="truncate text-sm text-muted">{hit.detail}</span>
                </Link>
              </li>
            ))}
          </ul>
          {group.all && (
            <Link href={group.all} onClick={onGo} className="px-2 text-sm underline">
              Show all
            </Link>
          )}
        </section>
      ))}
    </div>
  );
}
