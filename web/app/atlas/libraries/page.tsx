import { LibrariesView } from '@/features/libraries/libraries-view';
import { db } from '@/server/platform/db';
import { listLibraries, shopKey } from '@/server/library/exchange';
import { signedIn } from '@/server/people/access';

export const metadata = { title: 'Libraries' };

export const dynamic = 'force-dynamic';

export default async function LibrariesPage() {
  await signedIn('lead');
  return <LibrariesView libraries={await listLibraries(db())} fingerprint={(await shopKey(db())).fingerprint} />;
}
