import { connection } from 'next/server';
import { AtlasView } from '@/features/atlas/atlas-view';
import { loadAtlas } from '@/features/atlas/queries';
import { signedIn } from '@/server/people/access';

export const metadata = { title: 'Atlas' };

export default async function AtlasPage() {
  await signedIn();
  await connection();
  return <AtlasView cases={await loadAtlas()} />;
}
