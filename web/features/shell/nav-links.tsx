'use client';

import Link, { useGo } from '@/ui/link';
import { usePathname } from 'next/navigation';
import { useKey } from '@/ui/keys';

const places = [
  { href: '/', name: 'Bench', key: 'b' },
  { href: '/atlas', name: 'Atlas', key: 'a' },
  { href: '/notebook', name: 'Notebook', key: 'k' },
  { href: '/scorecard', name: 'Scorecard', key: 'u' },
  { href: '/practice', name: 'Practice', key: '0' },
  { href: '/models', name: 'Models', key: 'p' },
  { href: '/parts', name: 'Parts', key: 'z' },
  { href: '/settings', name: 'Settings', key: 'e' },
];

/** The place that a path belongs to: a unit to practise on is a job by its number alone. */
function placeOf(path: string): string {
  if (/^\/jobs\/9\d{8}(\/|$)/.test(path)) return '/practice';
  if (path === '/' || path.startsWith('/jobs')) return '/';
  return places.find((p) => p.href !== '/' && path.startsWith(p.href))?.href ?? '';
}

export function NavLinks() {
  const path = usePathname();
  const go = useGo();
  useKey('b', 'go to the bench', () => go('/'));
  useKey('a', 'go to the atlas of closed cases', () => go('/atlas'));
  useKey('k', 'go to the notebook', () => go('/notebook'));
  useKey('u', 'go to the scorecard', () => go('/scorecard'));
  useKey('p', 'go to the models and their profiles', () => go('/models'));
  useKey('z', 'go to the parts and donor boards', () => go('/parts'));
  useKey('0', 'go to practice', () => go('/practice'));
  useKey('e', 'go to the settings: instruments, calibration, pedal', () => go('/settings'));
  useKey('n', 'new job', () => go('/jobs/new'));
  return (
    <nav
      aria-label="Sections"
      className="order-last flex w-full gap-x-1 overflow-x-auto sm:order-none sm:w-auto sm:flex-wrap"
    >
      {places.map((p) => {
        const here = placeOf(path) === p.href;
        return (
          <Link
            key={p.href}
            href={p.href}
            title={`${p.name} (${p.key})`}
            aria-current={here ? 'page' : undefined}
            className={`flex min-h-11 items-center rounded-lg px-2 ${here ? 'bg-raised text-ink' : 'text-muted hover:text-ink'}`}
          >
            {p.name}
          </Link>
        );
      })}
    </nav>
  );
}
