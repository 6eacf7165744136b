import { SignInForm } from '@/features/people/sign-in-form';
import { switchablePeople } from '@/features/people/view';
import { currentSession } from '@/server/work/people/access';
import { hasPeople } from '@/server/work/people/people';
import { ToBench } from './to-bench';

export const metadata = { title: 'Sign in' };

export const dynamic = 'force-dynamic';

export default async function SignInPage() {
  // A database that is away must not keep the page from saying so.
  const known = await Promise.all([currentSession(false), hasPeople(), switchablePeople()]).catch(() => null);
  const [session, isKnown, people] = known ?? [null, true, []];
  return (
    <main className="mx-auto grid max-w-md gap-4 px-4 py-10">
      <h1 className="text-2xl">{session?.isLocked ? 'Locked' : 'Sign in'}</h1>
      {session?.isLocked && (
        <section className="card grid gap-3" aria-label="Unlock with a PIN">
          <p className="text-muted">
            This screen was idle for a while. Recordings continue. Armed outputs are switched off.
          </p>
          <ToBench people={people} first={session.person.id} />
        </section>
      )}
      <section className="card" aria-label="Sign in with a password">
        <SignInForm isFirst={known !== null && !isKnown} isAway={known === null} />
      </section>
    </main>
  );
}
