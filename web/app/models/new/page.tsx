import { ImportProfile } from '@/features/models/import';

export const metadata = { title: 'Bring in a profile' };

export default function NewProfilePage() {
  return (
    <main className="mx-auto max-w-[1400px] px-4 py-4">
      <h1 className="text-2xl">Bring in a profile</h1>
      <ImportProfile />
    </main>
  );
}
