import Link from '@/ui/link';
import { DayForm } from '@/features/settings/day-form';
import { Workers } from '@/features/settings/workers';
import { loadWorkers } from '@/server/work/day/workers';
import { db } from '@/server/record/db';
import { signedIn } from '@/server/work/people/access';
import { loadPolicy } from '@/server/work/shop/policy';

export const metadata = { title: 'Working day' };

export const dynamic = 'force-dynamic';

export default async function DaySettingsPage() {
  const { person } = await signedIn();
  const policy = await loadPolicy(db());
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="mb-3 flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-2xl">Working day</h1>
        <Link href="/settings" className="underline decoration-edge underline-offset-2">
          back to settings
        </Link>
      </div>
      {person.role !== 'lead' && <p className="card mb-3 text-muted">Only a lead can change hours and prices.</p>}
      <fieldset disabled={person.role !== 'lead'} className="contents">
        <DayForm key={policy.version} policy={policy} />
        <Workers workers={await loadWorkers(db())} />
      </fieldset>
    </main>
  );
}
