import { ModelsView } from '@/features/models/models-view';
import { db } from '@/server/db';
import { listProfiles } from '@/server/profiles';

export const metadata = { title: 'Models' };

export const dynamic = 'force-dynamic';

export default async function ModelsPage() {
  return <ModelsView all={await listProfiles(db())} />;
}
