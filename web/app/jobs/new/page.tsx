import { NewJob } from '@/features/job/new-job';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'New job' };

export default async function NewJobPage() {
  await signedIn();
  return (
    <main className="mx-auto max-w-3xl px-4 py-5">
      <h1 className="text-2xl">New job</h1>
      <NewJob />
    </main>
  );
}
