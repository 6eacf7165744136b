import Link from 'next/link';
import { QuickRead } from '@/features/quick/quick-read';
import { ThemeSwitch } from '@/ui/theme';
import { NavLinks } from './nav-links';

/** The head of every page: places, quick read, theme. */
export function Header() {
  return (
    <header className="print:hidden flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-line px-4 py-1.5">
      <Link href="/" className="flex items-center gap-2 text-lg font-bold" aria-label="Umbral, to the bench">
        <svg width="24" height="24" viewBox="0 0 24 24" aria-hidden>
          <circle cx="12" cy="12" r="11" className="fill-penumbra" />
          <circle cx="14.5" cy="12" r="8" className="fill-umbra" />
        </svg>
        Umbral
      </Link>
      <NavLinks />
      <div className="order-last w-full sm:order-none sm:ml-auto sm:w-[420px]">
        <QuickRead />
      </div>
      <div className="ml-auto sm:ml-0">
        <ThemeSwitch />
      </div>
    </header>
  );
}
