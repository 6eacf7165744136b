'use client';

import { FileText, Flame, ListChecks, Waypoints } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useKey } from '@/ui/keys';

/** Where the work at the opened device is done, and where it is proven and told. */
export function BoardPlaces({ jobId, isChanged, isClosed }: { jobId: number; isChanged: boolean; isClosed: boolean }) {
  const router = useRouter();
  useKey('g', 'measure: the ladder of rails', () => router.push(`/jobs/${jobId}/measure`));
  useKey('h', 'locate: injection and heat', () => router.push(`/jobs/${jobId}/locate`));
  useKey('w', 'verify: prove the repair', () => router.push(`/jobs/${jobId}/verify`));
  useKey('y', 'worth: what going on brings', () => router.push(`/jobs/${jobId}/worth`));
  useKey('t', 'report', () => router.push(`/jobs/${jobId}/report`));
  return (
    <nav aria-label="Places of the job" className="grid grid-cols-2 gap-2">
      {!isClosed && (
        <>
          <Link className="button" href={`/jobs/${jobId}/measure`}>
            <Waypoints size={17} aria-hidden /> Measure <kbd>g</kbd>
          </Link>
          <Link className="button" href={`/jobs/${jobId}/locate`}>
            <Flame size={17} aria-hidden /> Locate <kbd>h</kbd>
          </Link>
        </>
      )}
      {(isChanged || isClosed) && (
        <>
          <Link className="button" href={`/jobs/${jobId}/verify`}>
            <ListChecks size={17} aria-hidden /> Verify <kbd>w</kbd>
          </Link>
          <Link className="button" href={`/jobs/${jobId}/report`}>
            <FileText size={17} aria-hidden /> Report <kbd>t</kbd>
          </Link>
        </>
      )}
    </nav>
  );
}
