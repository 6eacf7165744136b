import { ModelsView } from '@/features/models/models-view';
import { db } from '@/server/platform/db';
import { listProfiles } from '@/server/shop/profiles';
import { signedIn } from '@/server/people/access';

export const metadata = { title: 'Models' };

export const dynamic = 'force-dynamic';

export default async function ModelsPage() {
  await signedIn();
  return <ModelsView all={await listProfiles(db())} />;
}
