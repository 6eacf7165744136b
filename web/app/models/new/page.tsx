import { ImportProfile } from '@/features/models/import';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Import profile' };

export default async function NewProfilePage() {
  await signedIn();
  return (
    <main className="mx-auto max-w-[1400px] px-4 py-4">
      <h1 className="text-2xl">Import profile</h1>
      <ImportProfile />
    </main>
  );
}
