import { ModelsView } from '@/features/models/models-view';
import { db } from '@/server/record/db';
import { listProfiles } from '@/server/work/shop/profiles';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Models' };

export const dynamic = 'force-dynamic';

export default async function ModelsPage() {
  await signedIn();
  return <ModelsView all={await listProfiles(db())} />;
}
