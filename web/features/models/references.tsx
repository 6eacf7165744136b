import { formatResistance, formatVoltage, type Profile } from '@umbral/core';
import Link from '@/ui/link';
import { feedWords } from '@/features/words';
import type { ListedReference } from '@/server/work/jobs/references';
import { Silhouette, silhouettePath, thinSheet } from '@/ui/silhouette';

/** What healthy units of the model were measured at: runs of this shop, and readings of the profile. */
export function References({ profile, runs }: { profile: Profile; runs: ListedReference[] }) {
  if (profile.generic) return null;
  const full = Math.max(0.05, ...runs.flatMap((r) => r.preview.high.map((x) => x ?? 0)));
  return (
    <section aria-labelledby="references" className="card mt-4">
      <h2 id="references" className="text-lg">
        Healthy devices
      </h2>
      {runs.length === 0 ? (
        <p className="text-muted">
          No run of a healthy device yet. Record one, open it in its job and press “Healthy”. Later runs of this model
          in the same setup are compared with it.
        </p>
      ) : (
        <ul className="mt-2 grid gap-3 sm:grid-cols-2 lg:grid-cols-4">
          {runs.map((r) => (
            <li key={`${r.jobId}-${r.runKey}`}>
              <Link href={`/jobs/${r.jobId}?run=${encodeURIComponent(r.runKey)}`} className="block hover:underline">
                <Silhouette
                  path={silhouettePath(thinSheet(r.preview.mean), full)}
                  label={`run ${r.runKey} of ${r.label}`}
                  strong
                  className="h-12 w-full"
                />
                <span className="block truncate text-sm">
                  {feedWords[r.feed]} · {r.label}
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
      {profile.references.length > 0 && (
        <table className="mt-3 w-full max-w-xl text-sm">
          <caption className="pb-1 text-left font-semibold">Readings of a known-good board</caption>
          <thead>
            <tr className="text-left text-muted">
              <th className="font-normal">where</th>
              <th className="px-2 font-normal">state</th>
              <th className="px-2 font-normal">mode</th>
              <th className="text-right font-normal">value</th>
            </tr>
          </thead>
          <tbody>
            {profile.references.map((r) => (
              <tr key={`${r.where}-${r.mode}-${r.state}`} className="border-t border-line">
                <td className="py-0.5">{profile.rails.find((x) => x.id === r.where)?.name ?? r.where}</td>
                <td className="px-2">{r.state ?? ''}</td>
                <td className="px-2">{r.mode}</td>
                <td className="text-right">
                  {r.mode === 'resistance' ? formatResistance(r.value) : formatVoltage(r.value)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
