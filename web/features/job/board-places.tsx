'use client';

import { Flame, Waypoints } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useKey } from '@/ui/keys';

/** Where the work at the opened device is done. */
export function BoardPlaces({ jobId }: { jobId: number }) {
  const router = useRouter();
  useKey('g', 'measure: the ladder of rails', () => router.push(`/jobs/${jobId}/measure`));
  useKey('h', 'locate: injection and heat', () => router.push(`/jobs/${jobId}/locate`));
  return (
    <nav aria-label="At the opened device" className="grid grid-cols-2 gap-2">
      <Link className="button" href={`/jobs/${jobId}/measure`}>
        <Waypoints size={17} aria-hidden /> Measure <kbd>g</kbd>
      </Link>
      <Link className="button" href={`/jobs/${jobId}/locate`}>
        <Flame size={17} aria-hidden /> Locate <kbd>h</kbd>
      </Link>
    </nav>
  );
}
