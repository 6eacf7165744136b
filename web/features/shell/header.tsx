import Link from '@/ui/link';
import { Alarms } from '@/features/day/alarms';
import { OutputAlarm } from '@/features/live/output-alarm';
import { PersonMenu } from '@/features/people/person-menu';
import { switchablePeople } from '@/features/people/view';
import { QuickRead } from '@/features/quick/quick-read';
import { currentSession } from '@/server/work/people/access';
import policy from '@/server/work/people/policy.json';
import { ThemeSwitch } from '@/ui/theme';
import { NavLinks } from './nav-links';

/** Whoever is at this screen, with whom it can be switched to; null for nobody, or while the database is away. */
export async function loadPerson() {
  try {
    const session = await currentSession(false);
    return session && !session.isLocked ? { ...session, people: await switchablePeople() } : null;
  } catch {
    return null;
  }
}

/** The head of every page: places, quick read, who is here, theme. */
export function Header({ here }: { here: Awaited<ReturnType<typeof loadPerson>> }) {
  return (
    <>
      <header className="print:hidden flex flex-wrap items-center gap-x-2 gap-y-1 sm:gap-x-5 border-b border-line px-4 py-1.5">
        <Link href="/" className="flex items-center gap-2 text-lg font-bold" aria-label="Umbral, go to the bench">
          <svg width="24" height="24" viewBox="0 0 24 24" aria-hidden>
            <circle cx="12" cy="12" r="11" className="fill-penumbra" />
            <circle cx="14.5" cy="12" r="8" className="fill-umbra" />
          </svg>
          <span className="hidden sm:inline">Umbral</span>
        </Link>
        {here && (
          <>
            <NavLinks />
            <div className="min-w-0 flex-1 sm:ml-auto sm:w-[250px] sm:flex-none xl:w-[290px] 2xl:w-[380px]">
              <QuickRead />
            </div>
          </>
        )}
        <div className={`flex items-center gap-1 ${here ? 'ml-auto sm:ml-0' : 'ml-auto'}`}>
          {here && (
            <PersonMenu
              person={here.person}
              people={here.people}
              isDemo={here.secret === null || here.people.some((p) => p.isDemo && p.id === here.person.id)}
              lockAfterMinutes={policy.lockAfterMinutes}
            />
          )}
          <ThemeSwitch />
        </div>
      </header>
      {here && <OutputAlarm />}
      {here && <Alarms />}
    </>
  );
}
