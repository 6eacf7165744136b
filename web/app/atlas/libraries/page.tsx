import { LibrariesView } from '@/features/libraries/libraries-view';
import { db } from '@/server/record/db';
import { listLibraries, shopKey } from '@/server/work/exchange/exchange';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Libraries' };

export const dynamic = 'force-dynamic';

export default async function LibrariesPage() {
  await signedIn('lead');
  return <LibrariesView libraries={await listLibraries(db())} fingerprint={(await shopKey(db())).fingerprint} />;
}
